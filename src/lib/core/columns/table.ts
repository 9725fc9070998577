import { LRUCache } from 'lru-cache';
import { TypedFastBitSet } from 'typedfastbitset';
import type { Aspect, Cell, Column } from './cell';
import { Order, type Key } from './order';

export type Rows = TypedFastBitSet;
export const noRows = (): Rows => new TypedFastBitSet();

/** What a record is beside its values. */
export interface Head {
  id: number;
  /** Visitors see it. */
  shown: boolean;
  authorId: number | null;
}

/** A record as it is now: without a head it is gone. Cells by the step they are at. */
export interface Changed {
  id: number;
  head?: Head;
  cells: ReadonlyMap<string, readonly Cell[]>;
}

/** How many answers, orders, and keys worked out from elsewhere a table keeps; questions come without end. */
const MOST_KEPT = 300;
const MOST_ORDERS = 100;
const MOST_DERIVED = 30;

/** An order, and the keys it was made from where these are worked out from elsewhere. */
interface Ordered {
  order: Order;
  all: boolean;
  from?: readonly Float64Array[];
}

const NO_CELLS: readonly Cell[] = [];

/** A key of an order, and what it is called, so that one order is kept once. */
export interface NamedKey extends Key {
  name: string;
}

/** Keys that come from elsewhere too, such as from related records; worked out anew after any change there or here. */
interface Derived {
  of: readonly (readonly [Table, number])[];
  keys: Float64Array;
}

/**
 * The records of one content type in columns, drafts among them: what lists, counts and choices are answered from. Rows
 * are never used twice; who reads asks for the columns it needs, and whoever fills the table puts them there.
 */
export class Table {
  /** The number of the record in each row; of rows whose record is gone too. */
  ids = new Int32Array(64);
  authors = new Int32Array(64);
  /** How many rows there are, with those whose record is gone. */
  size = 0;
  readonly here = noRows();
  readonly shown = noRows();
  /** Counts up with every change. */
  state = 0;
  private readonly rows = new Map<number, number>();
  private readonly columns = new Map<string, Column>();
  private readonly orders = new LRUCache<string, Ordered>({ max: MOST_ORDERS });
  private readonly derived = new LRUCache<string, Derived>({ max: MOST_DERIVED });
  private readonly found = new LRUCache<string, { is: unknown }>({ max: MOST_KEPT });

  constructor(readonly typeId: string) {}

  rowOf(id: number): number | undefined {
    return this.rows.get(id);
  }

  /** Rows of records that are gone; where there are many the table is better made anew. */
  get wasted(): number {
    return this.size - this.rows.size;
  }

  /** Puts records in for the first time. */
  add(heads: readonly Head[]): void {
    for (const head of heads) this.headAt(this.rowFor(head.id), head);
    this.moved();
  }

  hold(step: string, column: Column): void {
    this.columns.set(`${column.aspect} ${step}`, column);
  }

  column(aspect: Aspect, step: string): Column | undefined {
    return this.columns.get(`${aspect} ${step}`);
  }

  /** The steps of which it holds something. */
  steps(): Set<string> {
    return new Set([...this.columns.keys()].map((key) => key.slice(key.indexOf(' ') + 1)));
  }

  /** Takes changed records in: columns are put right row by row, and so are orders unless very many changed. */
  apply(changes: readonly Changed[]): void {
    for (const [name, { from }] of [...this.orders.entries()])
      if (from || changes.length > 100 + this.size / 20) this.orders.delete(name);
    const orders = [...this.orders.values()];
    for (const { id, head, cells } of changes) {
      const known = this.rows.get(id);
      if (known !== undefined)
        for (const { order, all } of orders) if ((all ? this.here : this.shown).has(known)) order.take(known);
      if (!head && known === undefined) continue;
      const row = head ? this.rowFor(id) : (known as number);
      if (head) this.headAt(row, head);
      else {
        this.here.remove(row);
        this.shown.remove(row);
        this.rows.delete(id);
      }
      for (const [key, column] of this.columns)
        column.put(row, (head && cells.get(key.slice(key.indexOf(' ') + 1))) ?? NO_CELLS);
      if (head) for (const { order, all } of orders) if ((all ? this.here : this.shown).has(row)) order.put(row);
    }
    this.moved();
  }

  /** Its records by these keys, of visitors or of everybody. Made when it is first asked for. */
  order(keys: readonly NamedKey[], all: boolean, derived: boolean): Order {
    const name = `${all ? 'all' : 'shown'} ${JSON.stringify(keys.map((key) => [key.name, key.down]))}`;
    const from = derived ? keys.map((key) => key.keys()) : undefined;
    const known = this.orders.get(name);
    if (known && (!from || from.every((of, at) => of === known.from?.[at]))) return known.order;
    const order = new Order(keys, () => this.ids, Int32Array.from((all ? this.here : this.shown).array()));
    this.orders.set(name, { order, all, from });
    return order;
  }

  /** What was found out about its rows, once for each state of the table. */
  keep<T>(name: string, find: () => T): T {
    const known = this.found.get(name);
    if (known) return known.is as T;
    const found = find();
    this.found.set(name, { is: found });
    return found;
  }

  /** Keys worked out from this table and others, kept until one of them changes. */
  derive(name: string, others: readonly Table[], make: (keys: Float64Array) => void): Float64Array {
    const known = this.derived.get(name);
    if (known?.of.every(([table, state]) => table.state === state)) return known.keys;
    const keys = new Float64Array(this.size).fill(NaN);
    make(keys);
    this.derived.set(name, { of: [this, ...others].map((table) => [table, table.state] as const), keys });
    return keys;
  }

  /** A key without any value. */
  nothing(): Float64Array {
    return this.derive('nothing', [], () => undefined);
  }

  /** Estimate of the memory it takes, in bytes. */
  bytes(): number {
    let bytes = this.ids.byteLength * 2 + this.rows.size * 40;
    for (const column of this.columns.values()) bytes += column.bytes();
    for (const { order } of this.orders.values()) bytes += order.bytes();
    for (const { keys } of this.derived.values()) bytes += keys.byteLength;
    return bytes + this.found.size * (this.size / 8);
  }

  private moved(): void {
    this.state++;
    this.found.clear();
  }

  private rowFor(id: number): number {
    const known = this.rows.get(id);
    if (known !== undefined) return known;
    const row = this.size++;
    if (row >= this.ids.length) {
      const [ids, authors] = [new Int32Array(this.ids.length * 2), new Int32Array(this.ids.length * 2)];
      ids.set(this.ids);
      authors.set(this.authors);
      this.ids = ids;
      this.authors = authors;
    }
    this.ids[row] = id;
    this.rows.set(id, row);
    return row;
  }

  private headAt(row: number, { shown, authorId }: Head): void {
    this.here.add(row);
    if (shown) this.shown.add(row);
    else this.shown.remove(row);
    this.authors[row] = authorId ?? 0;
  }
}
