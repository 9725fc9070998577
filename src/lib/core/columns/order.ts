/** A key of an order: a number for each row, `NaN` where it is empty, and which way it goes. */
export interface Key {
  /** Asked for each time, since a column that grows has another array. */
  keys(): Float64Array;
  down: boolean;
}

/**
 * Rows in an order: by its keys one after the other, empties last both ways, then by record. Built once, and kept right
 * one row at a time.
 */
export class Order {
  private rows: Int32Array;
  length: number;

  constructor(
    private readonly keys: readonly Key[],
    private readonly ids: () => Int32Array,
    rows: Int32Array,
  ) {
    this.length = rows.length;
    this.rows = sorted(rows, keys, ids());
  }

  at(place: number): number {
    return this.rows[place] as number;
  }

  part(offset: number, count: number): Int32Array {
    return this.rows.subarray(offset, Math.min(this.length, offset + count));
  }

  /** Takes a row out; its keys are as they were when it was put in. */
  take(row: number): void {
    const at = this.placeOf(row);
    if (this.rows[at] !== row || at >= this.length) return;
    this.rows.copyWithin(at, at + 1, this.length);
    this.length--;
  }

  put(row: number): void {
    const at = this.placeOf(row);
    if (this.rows.length === this.length) {
      const wider = new Int32Array(Math.ceil(this.length * 1.25) + 16);
      wider.set(this.rows);
      this.rows = wider;
    }
    this.rows.copyWithin(at + 1, at, this.length);
    this.rows[at] = row;
    this.length++;
  }

  bytes(): number {
    return this.rows.byteLength;
  }

  private placeOf(row: number): number {
    let [from, to] = [0, this.length];
    while (from < to) {
      const half = (from + to) >> 1;
      if (this.compare(this.rows[half] as number, row) < 0) from = half + 1;
      else to = half;
    }
    return from;
  }

  private compare(a: number, b: number): number {
    for (const { keys, down } of this.keys) {
      const order = compareNumbers(keys()[a] as number, keys()[b] as number, down);
      if (order) return order;
    }
    const ids = this.ids();
    return (ids[a] as number) - (ids[b] as number);
  }
}

/** Empties, which are no number, are last both ways. */
export function compareNumbers(a: number, b: number, down: boolean): number {
  if (Number.isNaN(a)) return Number.isNaN(b) ? 0 : 1;
  if (Number.isNaN(b)) return -1;
  return down ? b - a : a - b;
}

/** Rows in order of their keys: by each key from the last to the first, each time without moving what is equal. */
function sorted(rows: Int32Array, keys: readonly Key[], ids: Int32Array): Int32Array {
  let out = rows;
  for (let i = 1; i < rows.length; i++)
    if ((ids[rows[i - 1] as number] as number) > (ids[rows[i] as number] as number)) {
      out = rows.slice().sort((a, b) => (ids[a] as number) - (ids[b] as number));
      break;
    }
  for (const { keys: of, down } of [...keys].reverse()) out = stably(out, of(), down);
  return out === rows ? rows.slice() : out;
}

function stably(rows: Int32Array, keys: Float64Array, down: boolean): Int32Array {
  const values = new Float64Array(rows.length);
  let filled = 0;
  for (const row of rows) {
    const key = keys[row] as number;
    if (!Number.isNaN(key)) values[filled++] = key;
  }
  const ordered = values.subarray(0, filled).sort();
  let different = 0;
  for (let i = 0; i < filled; i++)
    if (i === 0 || ordered[i] !== ordered[different - 1]) ordered[different++] = ordered[i] as number;
  const places = new Int32Array(rows.length);
  const starts = new Int32Array(different + 2);
  for (const [i, row] of rows.entries()) {
    const key = keys[row] as number;
    let place = different;
    if (!Number.isNaN(key)) {
      let [from, to] = [0, different];
      while (from < to) {
        const half = (from + to) >> 1;
        if ((ordered[half] as number) < key) from = half + 1;
        else to = half;
      }
      place = down ? different - 1 - from : from;
    }
    places[i] = place;
    starts[place + 1]!++;
  }
  for (let i = 1; i < starts.length; i++) starts[i]! += starts[i - 1] as number;
  const out = new Int32Array(rows.length);
  for (const [i, row] of rows.entries()) out[starts[places[i] as number]!++] = row;
  return out;
}
