import { taxonomyIn } from '../model/settings';
import type { CompiledLoop, Facet } from '../loops/compiled';
import { wanted } from '../loops/visitors';
import type { Env } from '../paths/env';
import type { FacetCount, FacetCounts } from '../paths/pool';
import { candidates, seenOf } from './conditions';
import type { KeyColumn, ListColumn } from './column';
import {
  columnAt,
  eachOf,
  INDEXED,
  orLacking,
  readingOf,
  tableOf,
  TERMS,
  type ListReading,
  type Reading,
  type Tables,
} from './reading';
import { noRows, type Rows, type Table } from './table';

/** Of this many different values the rows are kept for each; more are counted record by record. */
const MOST_PARTS = 256;

/** Tells each value that a row is counted under. */
type ValuesAt<V> = (row: number, tell: (value: V) => void) => void;

/** How many of these rows are counted under each value. `name` stands for what the values are. */
function counted<V>(table: Table, rows: Rows, name: string, valuesAt: ValuesAt<V>): Map<V, number> {
  const counts = new Map<V, number>();
  const parts = table.keep(`parts ${name}`, () => {
    const parts = new Map<V, Rows>();
    for (let row = 0; row < table.size && parts.size <= MOST_PARTS; row++)
      valuesAt(row, (value) => {
        let part = parts.get(value);
        if (!part) {
          parts.set(value, (part = noRows()));
          part.resize(table.size);
        }
        part.add(row);
      });
    return parts.size > MOST_PARTS ? undefined : parts;
  });
  if (parts)
    for (const [value, part] of parts) {
      const n = part.intersection_size(rows);
      if (n) counts.set(value, n);
    }
  else rows.forEach((row) => valuesAt(row, (value) => counts.set(value, (counts.get(value) ?? 0) + 1)));
  return counts;
}

/** The least and the largest number of these rows, looked for from either end of all. */
function endsOf(reading: Reading, table: Table, rows: Rows, step: string): [number, number] | undefined {
  const column = columnAt<KeyColumn>(reading, table, 'number', step);
  const key = { name: `number ${step}`, keys: () => column.keys, down: false };
  const order = table.order([key], reading.drafts, false);
  const { keys } = column;
  const numberAt = (place: number) => keys[order.at(place)] as number;
  let [first, end] = [0, order.length];
  // Empties are last.
  while (first < end) {
    const half = (first + end) >> 1;
    if (Number.isNaN(numberAt(half))) end = half;
    else first = half + 1;
  }
  let low = 0;
  while (low < first && !rows.has(order.at(low))) low++;
  if (low === first) return undefined;
  let high = first - 1;
  while (!rows.has(order.at(high))) high--;
  return [numberAt(low), numberAt(high)];
}

/** Counts one choice over one table; undefined where some of what is asked has to be looked at record by record. */
function countIn(facet: Facet, reading: ListReading, table: Table): FacetCount | undefined {
  const { step, path } = facet;
  const { type } = path;
  const { model } = reading;
  const { facet: how } = type.kind.family;
  const asked = candidates(reading, table);
  if (asked.left) return undefined;
  const rows = asked.rows ?? seenOf(reading, table);
  if (step === '@type') return { options: new Map(rows.isEmpty() ? [] : [[table.typeId, rows.size()]]) };
  const entry = model.field(step);
  // A field of another type has no values here.
  if (entry && entry.type.id !== table.typeId) return { options: new Map() };
  if (facet.range) {
    const ends = endsOf(reading, table, rows, step);
    return { options: new Map(), ...(ends && { low: ends[0], high: ends[1] }) };
  }
  if (how?.by === 'answers' && how.counted === 'terms') {
    const taxonomyId = taxonomyIn(type.settings);
    const { lists } = columnAt<ListColumn<string>>(reading, table, 'texts', TERMS);
    // Each term with every term above it, so that a record counts once for each.
    const above = new Map(model.termsOf(taxonomyId).map(({ id }) => [id, model.above(id)]));
    const name = JSON.stringify(['terms', [...above]]);
    return {
      options: counted<string>(table, rows, name, (row, tell) => {
        const list = lists[row];
        if (list?.length === 1) for (const one of above.get(list[0] as string) ?? []) tell(one);
        else if (list) for (const one of new Set(list.flatMap((term) => above.get(term) ?? []))) tell(one);
      }),
    };
  }
  const settings = model.beside?.written.get(step) ?? type.settings;
  const byNumber = type.many
    ? inLists(columnAt<ListColumn<number>>(reading, table, 'numbers', step), table, rows, step)
    : inKeys(columnAt<KeyColumn>(reading, table, 'number', step), table, rows, step);
  const options = new Map<string, number>();
  for (const [number, n] of byNumber) {
    const answer = how?.by === 'answers' && how.counted === 'number' ? how.answerAt(number, settings) : String(number);
    options.set(answer, (options.get(answer) ?? 0) + n);
  }
  return { options };
}

const inLists = ({ lists }: ListColumn<number>, table: Table, rows: Rows, step: string) =>
  counted<number>(table, rows, `numbers ${step}`, (row, tell) => new Set(lists[row]).forEach(tell));

const inKeys = ({ keys }: KeyColumn, table: Table, rows: Rows, step: string) =>
  counted<number>(table, rows, `number ${step}`, (row, tell) => {
    const number = keys[row] as number;
    if (!Number.isNaN(number)) tell(number);
  });

/**
 * Counts all that visitors may choose of a loop; undefined where columns are lacking, `'left'` where some of it has to be
 * looked at record by record.
 */
export function facetsFrom(
  tables: Tables,
  loop: CompiledLoop,
  env: Env,
  { drafts }: { drafts: boolean },
): FacetCounts | 'left' | undefined {
  return orLacking(() => {
    const counts = new Map<string, FacetCount>();
    let left = false;
    eachOf(loop.visitors?.facets ?? [], (facet) => {
      const { step } = facet;
      const written = env.model.beside?.written;
      // Its values are not where they could be counted.
      if (written?.has(step) && !written.get(step)) return void (left = true);
      if (step.startsWith('@') && !step.startsWith('@terms:') && !INDEXED.has(step)) return void (left = true);
      const reading = readingOf(wanted(loop, env, facet.key).loop, env, tables, drafts);
      const options = new Map<string, number>();
      let [low, high] = [Infinity, -Infinity];
      eachOf(loop.scope.typeIds, (id) => {
        const own = countIn(facet, reading, tableOf(reading, id));
        if (!own) return void (left = true);
        for (const [option, n] of own.options) options.set(option, (options.get(option) ?? 0) + n);
        low = Math.min(low, own.low ?? Infinity);
        high = Math.max(high, own.high ?? -Infinity);
      });
      counts.set(facet.key, low > high ? { options } : { options, low, high });
    });
    return left ? 'left' : counts;
  });
}
