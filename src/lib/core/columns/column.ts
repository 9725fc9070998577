import { compareText } from '../base/collation';
import { rankIn, type Aspect, type Cell, type Column, type RankAspect } from './cell';
import { WordColumn } from './word-column';

/** A column that records are put in order by: a number for each, `NaN` where there is none. */
export interface KeyColumn extends Column {
  readonly keys: Float64Array;
}

const room = (old: Float64Array<ArrayBuffer>, rows: number): Float64Array<ArrayBuffer> => {
  if (rows <= old.length) return old;
  const wider = new Float64Array(Math.max(rows, Math.ceil(old.length * 1.5), 64)).fill(NaN);
  wider.set(old);
  return wider;
};

const filledFirst = (cells: readonly Cell[]): Cell | undefined => (cells[0] && !cells[0].empty ? cells[0] : undefined);

/** Numbers, dates, places of options: whatever has a number to be looked up by. */
export class NumberColumn implements KeyColumn {
  readonly aspect = 'number';
  keys = new Float64Array(0);

  put(row: number, cells: readonly Cell[]): void {
    this.keys = room(this.keys, row + 1);
    this.keys[row] = filledFirst(cells)?.number ?? NaN;
  }

  reach(rows: number): void {
    this.keys = room(this.keys, rows);
  }

  bytes(): number {
    return this.keys.byteLength;
  }
}

/** Where there is a value, whatever it is. */
export class FilledColumn implements Column {
  readonly aspect = 'filled';
  here = new Uint8Array(0);

  reach(rows: number): void {
    if (rows <= this.here.length) return;
    const wider = new Uint8Array(Math.max(rows, Math.ceil(this.here.length * 1.5), 64));
    wider.set(this.here);
    this.here = wider;
  }

  put(row: number, cells: readonly Cell[]): void {
    this.reach(row + 1);
    this.here[row] = filledFirst(cells) ? 1 : 0;
  }

  bytes(): number {
    return this.here.byteLength;
  }
}

/** Text without case, as tests look at it. */
export class TextColumn implements Column {
  readonly aspect = 'text';
  readonly texts: (string | null)[] = [];
  private size = 0;

  reach(rows: number): void {
    while (this.texts.length < rows) this.texts.push(null);
  }

  put(row: number, cells: readonly Cell[]): void {
    this.reach(row + 1);
    this.size -= this.texts[row]?.length ?? 0;
    this.texts[row] = filledFirst(cells)?.text ?? null;
    this.size += this.texts[row]?.length ?? 0;
  }

  bytes(): number {
    return this.texts.length * 24 + this.size;
  }
}

/** All values of a record that may have several: their numbers, or their texts. */
export class ListColumn<Of extends number | string> implements Column {
  readonly lists: (readonly Of[] | undefined)[] = [];
  private held = 0;
  /** Equal texts are one in memory. */
  private readonly known = new Map<Of, Of>();

  constructor(readonly aspect: 'numbers' | 'texts') {}

  reach(rows: number): void {
    while (this.lists.length < rows) this.lists.push(undefined);
  }

  put(row: number, cells: readonly Cell[]): void {
    this.reach(row + 1);
    this.held -= this.lists[row]?.length ?? 0;
    const own: Of[] = [];
    for (const cell of cells) {
      const value = (this.aspect === 'numbers' ? cell.number : cell.text) as Of | null;
      if (cell.empty || value === null) continue;
      const same = this.known.get(value);
      if (same === undefined && this.aspect === 'texts') this.known.set(value, value);
      own.push(same ?? value);
    }
    this.lists[row] = own.length ? own : undefined;
    this.held += own.length;
  }

  bytes(): number {
    return this.lists.length * 8 + this.held * 24;
  }
}

/**
 * The order of text: each text has a rank, equal texts the same. A text that comes between two others later gets a rank
 * between theirs; where there is no number left in between, all ranks are given anew, which changes the order of nothing.
 */
export class RankColumn implements KeyColumn {
  readonly aspect: RankAspect;
  keys = new Float64Array(0);
  /** Different texts in their order, and the rank of each. */
  private texts: string[] = [];
  private ranks: number[] = [];
  private size = 0;

  constructor(private readonly locale: string) {
    this.aspect = rankIn(locale);
  }

  /** Texts by row, for the first time: given in their order, or nearly so. */
  fill(sorted: readonly { row: number; text: string }[]): void {
    // Sorts runs that are in order as quickly as it reads them.
    const all = [...sorted].sort((a, b) => compareText(a.text, b.text, this.locale));
    for (const { row, text } of all) {
      const last = this.texts.length - 1;
      const same =
        last >= 0 && (this.texts[last] === text || compareText(this.texts[last] as string, text, this.locale) === 0);
      if (!same) {
        this.texts.push(text);
        this.ranks.push(this.texts.length);
        this.size += text.length;
      }
      this.keys = room(this.keys, row + 1);
      this.keys[row] = this.ranks.at(-1) as number;
    }
  }

  reach(rows: number): void {
    this.keys = room(this.keys, rows);
  }

  put(row: number, cells: readonly Cell[]): void {
    this.keys = room(this.keys, row + 1);
    const text = filledFirst(cells)?.sort;
    this.keys[row] = text === null || text === undefined ? NaN : this.rankOf(text);
  }

  /** The text that stands at a rank. */
  textAt(rank: number): string {
    return this.texts[this.placeOf(rank)] ?? '';
  }

  private placeOf(rank: number): number {
    let [from, to] = [0, this.ranks.length];
    while (from < to) {
      const half = (from + to) >> 1;
      if ((this.ranks[half] as number) < rank) from = half + 1;
      else to = half;
    }
    return from;
  }

  private rankOf(text: string): number {
    let [from, to] = [0, this.texts.length];
    while (from < to) {
      const half = (from + to) >> 1;
      if (compareText(this.texts[half] as string, text, this.locale) < 0) from = half + 1;
      else to = half;
    }
    const next = this.texts[from];
    if (next !== undefined && compareText(next, text, this.locale) === 0) return this.ranks[from] as number;
    const [below, above] = [this.ranks[from - 1], this.ranks[from]];
    const rank = below === undefined ? (above ?? 2) - 1 : above === undefined ? below + 1 : below + (above - below) / 2;
    if (rank === below || rank === above) {
      this.renumber();
      return this.rankOf(text);
    }
    this.texts.splice(from, 0, text);
    this.ranks.splice(from, 0, rank);
    this.size += text.length;
    return rank;
  }

  private renumber(): void {
    for (const [row, rank] of this.keys.entries()) if (!Number.isNaN(rank)) this.keys[row] = this.placeOf(rank) + 1;
    this.ranks = this.texts.map((_, at) => at + 1);
  }

  bytes(): number {
    return this.keys.byteLength + this.texts.length * 40 + this.size;
  }
}

export function columnOf(aspect: Aspect): Column {
  switch (aspect) {
    case 'number':
      return new NumberColumn();
    case 'text':
      return new TextColumn();
    case 'filled':
      return new FilledColumn();
    case 'numbers':
      return new ListColumn<number>('numbers');
    case 'texts':
      return new ListColumn<string>('texts');
    case 'words':
      return new WordColumn();
    default:
      return new RankColumn(aspect.slice('rank-'.length));
  }
}
