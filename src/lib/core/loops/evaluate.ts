import type { ContentRecord } from '../content/record';
import { dayNumber, minutesOf } from '../formats/write';
import type { Env } from '../paths/env';
import type { ValueType } from '../paths/path';
import { pageOf, type CompiledLoop, type LoopList } from './loop';

/** Text is ordered by the Unicode Collation Algorithm (UTS #10) with the CLDR root order. */
const collator = new Intl.Collator('en', { usage: 'sort', sensitivity: 'variant' });

/** What a value is ordered by: a number, or text for the collation. Choices stand in the order of their options. */
export function orderKey(value: unknown, type: ValueType): number | string {
  switch (type.kind.family) {
    case 'number':
      return value as number;
    case 'yesno':
      return value ? 1 : 0;
    case 'date':
      return dayNumber(value as string);
    case 'time':
      return minutesOf(value as string);
    case 'datetime':
      return Date.parse(value as string);
    case 'choice':
      return (type.settings as { options: { key: string }[] }).options.findIndex((option) => option.key === value);
    case 'link':
      return typeof value === 'object' ? (value as { url: string }).url : String(value);
    default:
      return String(value);
  }
}

const compareKeys = (a: number | string, b: number | string): number =>
  typeof a === 'number' && typeof b === 'number' ? a - b : collator.compare(String(a), String(b));

/** Runs `body` with `record` as the loop's item, and puts back what stood there. */
function asItem<T>(loop: CompiledLoop, env: Env, record: ContentRecord, body: () => T): T {
  const { depth } = loop.scope;
  const before = env.turns[depth];
  env.turns[depth] = { record, position: 0, results: 0 };
  try {
    return body();
  } finally {
    env.turns[depth] = before;
  }
}

export function filterRecords(loop: CompiledLoop, env: Env, records: readonly ContentRecord[]): ContentRecord[] {
  const { filter } = loop;
  return filter ? records.filter((record) => asItem(loop, env, record, () => filter.holds(env))) : [...records];
}

/** Orders records by the loop's keys; empties last both ways, ties by record id. Without keys, as they come. */
export function orderRecords(loop: CompiledLoop, env: Env, records: ContentRecord[]): ContentRecord[] {
  if (!loop.order.length) return records;
  const keyed = records.map((record) => ({
    record,
    keys: asItem(loop, env, record, () =>
      loop.order.map(({ path }) => {
        const value = path.read(env);
        return value === undefined ? undefined : orderKey(value, path.type);
      }),
    ),
  }));
  keyed.sort((a, b) => {
    for (const [i, { down }] of loop.order.entries()) {
      const left = a.keys[i];
      const right = b.keys[i];
      if (left === undefined && right === undefined) continue;
      if (left === undefined) return 1;
      if (right === undefined) return -1;
      const order = compareKeys(left, right);
      if (order !== 0) return down ? -order : order;
    }
    return a.record.id - b.record.id;
  });
  return keyed.map(({ record }) => record);
}

/** The page that a loop asks for: the archive's, where the loop goes over the archive's own list. */
export const pageAsked = (loop: CompiledLoop, env: Env): number =>
  loop.source.from === 'archive' ? (env.archive?.page ?? 1) : 1;

/** Filter, order, skip, limit and page over candidates in memory. */
export function arrange(loop: CompiledLoop, env: Env, candidates: readonly ContentRecord[]): LoopList {
  const records = orderRecords(loop, env, filterRecords(loop, env, candidates));
  const { offset, count, total, page, pages } = pageOf(loop, records.length, pageAsked(loop, env));
  return { records: records.slice(offset, offset + count), total, page, pages };
}

/** The records of a relation source, in their order on this side. */
export function relationRecords(loop: CompiledLoop, env: Env): ContentRecord[] {
  const value = loop.ids?.read(env);
  const ids = (Array.isArray(value) ? value : value === undefined ? [] : [value]) as number[];
  return [...new Set(ids)].map((id) => env.pool.record(id)).filter((record) => record !== undefined);
}
