import type { CompiledLoop, OrderKey } from '../loops/compiled';
import { requestedPage } from '../loops/evaluate';
import { pageOf } from '../loops/loop';
import { searchOf } from '../loops/search';
import type { Env } from '../paths/env';
import { compareText } from '../base/collation';
import { candidates, seenOf, type Candidates } from './conditions';
import { fitKey, keyOf, type TableKey } from './keys';
import { compareNumbers, type Order } from './order';
import { eachOf, orLacking, readingOf, tableOf, type ListReading, type Reading, type Tables } from './reading';
import type { Rows, Table } from './table';

/** Records of a list by their numbers, and how many there are in all; candidates of it by number where it is not `whole`. */
export interface ColumnsResult {
  ids: number[];
  found: number;
  whole: boolean;
}

/** A part of a list, in place of that which the loop's own skip, limit and page say. */
export interface Window {
  offset: number;
  count: number;
}

interface Part {
  table: Table;
  asked: Candidates;
  keys: TableKey[];
}

/** Fewer rows than this share of a table are put in order themselves, and not looked for along an order of all. */
const FEW = 200;

/**
 * Answers a loop over a query or an archive from columns; undefined where some are not there yet, which `tables` has
 * noted then.
 */
export function answerFrom(
  tables: Tables,
  loop: CompiledLoop,
  env: Env,
  { drafts, window }: { drafts: boolean; window?: Window },
): ColumnsResult | undefined {
  return orLacking(() => answer(readingOf(loop, env, tables, drafts), window));
}

function answer(reading: ListReading, window: Window | undefined): ColumnsResult {
  const { loop, env } = reading;
  let whole = true;
  const search = loop.order.length ? undefined : searchOf(loop, env);
  const parts = eachOf(loop.scope.typeIds, (id): Part => {
    const table = tableOf(reading, id);
    // What both need is noted before either stops for it.
    const [asked, keys] = eachOf<() => Candidates | (TableKey | undefined)[], Candidates | (TableKey | undefined)[]>(
      [
        () => candidates(reading, table),
        () =>
          search ? [fitKey(search, reading, table)] : loop.order.map((key: OrderKey) => keyOf(key, reading, table)),
      ],
      (make) => make(),
    ) as [Candidates, (TableKey | undefined)[]];
    const known = keys.filter((key) => key !== undefined);
    if (asked.left || known.length < keys.length) whole = false;
    return { table, asked, keys: known };
  });
  const found = parts.reduce((sum, part) => sum + sizeOf(reading, part), 0);
  if (!whole) {
    const ids = parts.flatMap((part) => idsIn(part.table, rowsOf(reading, part)));
    return { ids: ids.sort((a, b) => a - b), found, whole };
  }
  const { offset, count } = window ?? pageOf(loop, found, requestedPage(loop, env));
  const [one] = parts;
  if (!one || count <= 0) return { ids: [], found, whole };
  return {
    ids: parts.length === 1 ? partOf(reading, one, offset, count) : merged(reading, parts, offset, count),
    found,
    whole,
  };
}

const rowsOf = (reading: Reading, { table, asked }: Part): Rows => asked.rows ?? seenOf(reading, table);

const sizeOf = (reading: Reading, part: Part): number => rowsOf(reading, part).size();

const idsIn = ({ ids }: Table, rows: Rows): number[] => rows.array().map((row) => ids[row] as number);

const orderOf = ({ drafts }: Reading, { table, keys }: Part): Order =>
  table.order(
    keys,
    drafts,
    keys.some(({ derived }) => derived),
  );

/** Few rows are put in order themselves; undefined for more, which are met along the order of all. */
function inFew({ table, keys }: Part, rows: Rows): number[] | undefined {
  if (rows.size() >= Math.max(FEW, table.size / 50)) return undefined;
  const arrays = keys.map((key) => ({ of: key.keys(), down: key.down }));
  return rows.array().sort((a, b) => {
    for (const { of, down } of arrays) {
      const order = compareNumbers(of[a] as number, of[b] as number, down);
      if (order) return order;
    }
    return (table.ids[a] as number) - (table.ids[b] as number);
  });
}

/** The rows of a table in order, as far as they are asked for. */
function* inOrder(reading: Reading, part: Part): Generator<number> {
  const { rows } = part.asked;
  const few = rows && inFew(part, rows);
  if (few) return yield* few;
  const order = orderOf(reading, part);
  for (let at = 0; at < order.length; at++) {
    const row = order.at(at);
    if (!rows || rows.has(row)) yield row;
  }
}

function partOf(reading: Reading, part: Part, offset: number, count: number): number[] {
  const { table, asked } = part;
  const { rows } = asked;
  const out: number[] = [];
  const few = rows && inFew(part, rows);
  if (few) return few.slice(offset, offset + count).map((row) => table.ids[row] as number);
  const order = orderOf(reading, part);
  if (!rows) return Array.from(order.part(offset, count), (row) => table.ids[row] as number);
  let left = offset;
  for (let at = 0; at < order.length && out.length < count; at++) {
    const row = order.at(at);
    if (rows.has(row) && left-- <= 0) out.push(table.ids[row] as number);
  }
  return out;
}

/** The first of several tables, taken from each in its order. */
function merged(reading: Reading, parts: readonly Part[], offset: number, count: number): number[] {
  const heads = parts.map((part) => ({
    part,
    arrays: part.keys.map((key) => key.keys()),
    rows: inOrder(reading, part),
    row: -1,
  }));
  const step = (head: (typeof heads)[number]): boolean => {
    const next = head.rows.next();
    head.row = next.done ? -1 : next.value;
    return !next.done;
  };
  let left = heads.filter(step);
  const before = (a: (typeof heads)[number], b: (typeof heads)[number]): boolean => {
    for (const [i, key] of a.part.keys.entries()) {
      const other = b.part.keys[i] as TableKey;
      const [x, y] = [a.arrays[i]![a.row] as number, b.arrays[i]![b.row] as number];
      const texts = key.textAt && other.textAt && !Number.isNaN(x) && !Number.isNaN(y);
      const order = texts
        ? compareText(key.textAt!(x), other.textAt!(y), reading.model.site.locale) * (key.down ? -1 : 1)
        : compareNumbers(x, y, key.down);
      if (order) return order < 0;
    }
    return (a.part.table.ids[a.row] as number) < (b.part.table.ids[b.row] as number);
  };
  const out: number[] = [];
  for (let at = 0; left.length && out.length < count; at++) {
    const first = left.reduce((a, b) => (before(b, a) ? b : a));
    if (at >= offset) out.push(first.part.table.ids[first.row] as number);
    if (!step(first)) left = left.filter((one) => one !== first);
  }
  return out;
}
