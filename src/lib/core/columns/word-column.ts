import type { Cell, Column } from './cell';

/** Rows in ascending order, in as little memory as that takes. */
class Posting {
  private rows = new Int32Array(2);
  length = 0;

  at(place: number): number {
    return this.rows[place] as number;
  }

  private placeOf(row: number): number {
    if (!this.length || this.at(this.length - 1) < row) return this.length;
    let [from, to] = [0, this.length];
    while (from < to) {
      const half = (from + to) >> 1;
      if (this.at(half) < row) from = half + 1;
      else to = half;
    }
    return from;
  }

  add(row: number): void {
    const at = this.placeOf(row);
    if (at < this.length && this.at(at) === row) return;
    if (this.length === this.rows.length) {
      const wider = new Int32Array(this.length * 2);
      wider.set(this.rows);
      this.rows = wider;
    }
    this.rows.copyWithin(at + 1, at, this.length);
    this.rows[at] = row;
    this.length++;
  }

  remove(row: number): void {
    const at = this.placeOf(row);
    if (at >= this.length || this.at(at) !== row) return;
    this.rows.copyWithin(at, at + 1, this.length);
    this.length--;
  }

  bytes(): number {
    return this.rows.byteLength + 64;
  }
}

/** The words of a field, in the form in which they are searched, with the rows that have each. */
export class WordColumn implements Column {
  readonly aspect = 'words';
  private readonly postings = new Map<string, Posting>();
  /** Every word in the order of its characters; made again when there are new ones. */
  private ordered: string[] | undefined;
  /** How many different words each row has. */
  private counts = new Uint16Array(64);
  private size = 0;

  reach(rows: number): void {
    if (rows <= this.counts.length) return;
    const wider = new Uint16Array(Math.max(rows, this.counts.length * 2));
    wider.set(this.counts);
    this.counts = wider;
  }

  put(row: number, cells: readonly Cell[]): void {
    this.reach(row + 1);
    if (this.counts[row]) for (const posting of this.postings.values()) posting.remove(row);
    const words = cells[0]?.text ? cells[0].text.split(' ') : [];
    this.counts[row] = Math.min(65_535, words.length);
    for (const word of words) {
      let posting = this.postings.get(word);
      if (!posting) {
        this.postings.set(word, (posting = new Posting()));
        this.ordered = undefined;
        this.size += word.length;
      }
      posting.add(row);
    }
  }

  /** How many different words a row has. */
  countAt(row: number): number {
    return this.counts[row] ?? 0;
  }

  /** Calls back for every row with a word that begins so, once for each such word; `whole` where it is that word itself. */
  beginning(word: string, tell: (row: number, whole: boolean) => void): void {
    const ordered = (this.ordered ??= [...this.postings.keys()].sort());
    let [from, to] = [0, ordered.length];
    while (from < to) {
      const half = (from + to) >> 1;
      if ((ordered[half] as string) < word) from = half + 1;
      else to = half;
    }
    for (let at = from; at < ordered.length && ordered[at]!.startsWith(word); at++) {
      const posting = this.postings.get(ordered[at] as string);
      const whole = ordered[at] === word;
      for (let i = 0; i < (posting?.length ?? 0); i++) tell(posting!.at(i), whole);
    }
  }

  bytes(): number {
    let bytes = this.counts.byteLength + this.size * 2;
    for (const posting of this.postings.values()) bytes += posting.bytes();
    return bytes;
  }
}
