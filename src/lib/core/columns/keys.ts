import { optionsIn, targetsIn } from '../model/settings';
import type { OrderKey } from '../loops/compiled';
import { kindOf, relationOf } from '../model/field';
import { isIndexed } from '../model/kinds/kind';
import type { ValueType } from '../paths/scopes';
import type { Take } from '../schema/binding';
import { rankIn } from './cell';
import type { KeyColumn, ListColumn, RankColumn } from './column';
import { firstLink, seenOf } from './conditions';
import { columnAt, INDEXED, linksStep, seenAt, tableOf, TERMS, type Reading, type Search } from './reading';
import type { NamedKey, Table } from './table';
import { fits } from './words';

/** A key of an order over one table. Text of several tables is compared as text, since each has ranks of its own. */
export interface TableKey extends NamedKey {
  /** Worked out from elsewhere too, so that an order by it is no longer right after any change. */
  derived: boolean;
  textAt?: (rank: number) => string;
}

/** The key in this table, or undefined where columns do not have it. */
export function keyOf(key: OrderKey, reading: Reading, table: Table): TableKey | undefined {
  const { path, take, type, step, down } = key;
  const [first, next, ...more] = path.path.steps;
  if (first === undefined || more.length) return undefined;
  if (next !== undefined) return behind(first, next, key, reading, table);
  if (step !== undefined) {
    if (step.startsWith('@') && !INDEXED.has(step)) return undefined;
    return own(step, type, down, reading, table);
  }
  return take ? ofSeveral(first, take, key, reading, table) : undefined;
}

/** A value of the record itself. */
function own(step: string, type: ValueType, down: boolean, reading: Reading, table: Table): TableKey | undefined {
  const { model } = reading;
  const { family } = type.kind;
  const named = (name: string, keys: () => Float64Array, derived = true): TableKey => ({ name, keys, down, derived });
  if (step === '@type') {
    const options = optionsIn(type.settings).map((option) => option.key);
    const place = options.indexOf(table.typeId);
    return named(`type ${place}`, () => table.derive(`type ${place}`, [], (keys) => keys.fill(place)));
  }
  const entry = model.field(step);
  // A field of another type is empty here.
  if (entry && entry.type.id !== table.typeId) return named('nothing', () => table.nothing());
  const written = model.beside?.written;
  if (written?.has(step)) {
    const settings = written.get(step);
    if (!settings || family.possible.by !== 'answers') return undefined;
    // Its options were in another order when the values were written; what is known by none of them comes first.
    const now = family.possible.values(type.settings) as string[];
    const before = family.possible.values(settings) as string[];
    const column = columnAt<KeyColumn>(reading, table, 'number', step);
    const name = JSON.stringify(['written', step, before, now]);
    return named(name, () =>
      table.derive(name, [], (keys) => {
        for (let row = 0; row < keys.length; row++) {
          const place = column.keys[row] as number;
          if (!Number.isNaN(place)) keys[row] = now.indexOf(before[place] ?? '') + 1;
        }
      }),
    );
  }
  const ranked = family.order === 'sort';
  const aspect = ranked ? rankIn(model.site.locale) : 'number';
  const column = columnAt<KeyColumn>(reading, table, aspect, step);
  return {
    ...named(`${aspect} ${step}`, () => column.keys, false),
    ...(ranked && { textAt: (rank: number) => (column as RankColumn).textAt(rank) }),
  };
}

/** One number of several values: how many, or the first, last, least or largest of them. */
function takeOfNumbers(take: Take, values: readonly number[]): number | undefined {
  switch (take) {
    case 'count':
      return values.length;
    case 'first':
      return values[0] ?? NaN;
    case 'last':
      return values.at(-1) ?? NaN;
    case 'smallest':
      return values.length ? Math.min(...values) : NaN;
    case 'largest':
      return values.length ? Math.max(...values) : NaN;
    default:
      return undefined;
  }
}
const TAKEN = new Set<Take>(['count', 'first', 'last', 'smallest', 'largest']);

/** What is taken of several values of the record itself. */
function ofSeveral(
  step: string,
  take: Take,
  { type, down }: OrderKey,
  reading: Reading,
  table: Table,
): TableKey | undefined {
  const { model, drafts } = reading;
  const name = `${take} of ${step} ${drafts ? 'all' : 'shown'}`;
  const key = (others: Table[], listAt: (row: number) => readonly number[] | undefined, count = false): TableKey => ({
    name,
    down,
    derived: true,
    keys: () =>
      table.derive(name, others, (keys) => {
        for (let row = 0; row < keys.length; row++) {
          const list = listAt(row) ?? NONE;
          keys[row] = count ? list.length : (takeOfNumbers(take, list) ?? NaN);
        }
      }),
  });
  if (step.startsWith('@terms:')) {
    if (take !== 'count') return undefined;
    const { lists } = columnAt<ListColumn<string>>(reading, table, 'texts', TERMS);
    const own = new Set(model.termsOf(step.slice('@terms:'.length)).map(({ id }) => id));
    const name = JSON.stringify([step, [...own]]);
    return {
      name,
      down,
      derived: true,
      keys: () =>
        table.derive(name, [], (keys) => {
          for (let row = 0; row < keys.length; row++) keys[row] = lists[row]?.filter((id) => own.has(id)).length ?? 0;
        }),
    };
  }
  const entry = model.field(step);
  const known = entry && kindOf(entry.field);
  if (!known || model.beside?.written.has(step)) return undefined;
  const elsewhere = entry.type.id !== table.typeId;
  const relation = relationOf(entry.field);
  if (relation) {
    if (take !== 'count') return undefined;
    if (elsewhere) return key([], () => NONE, true);
    const typeIds = targetsIn(known.settings);
    const { lists } = columnAt<ListColumn<number>>(
      reading,
      table,
      'numbers',
      linksStep(relation.relationId, relation.side),
    );
    const seen = seenAt(reading, typeIds);
    const others = model.types.map(({ id }) => tableOf(reading, id));
    return key(others, (row) => lists[row]?.filter(seen), true);
  }
  if (!isIndexed(known.kind) || known.kind.gone || type.kind.family.order !== 'number' || !TAKEN.has(take))
    return undefined;
  if (elsewhere) return key([], () => NONE);
  const { lists } = columnAt<ListColumn<number>>(reading, table, 'numbers', step);
  return key([], (row) => lists[row]);
}
const NONE: readonly number[] = [];

/** A value of the records that a relation leads to. */
function behind(
  step: string,
  next: string,
  { take, type, down }: OrderKey,
  reading: Reading,
  table: Table,
): TableKey | undefined {
  const { model, drafts } = reading;
  const entry = model.field(step);
  const known = entry && kindOf(entry.field);
  const relation = entry && relationOf(entry.field);
  if (!relation || !known || model.beside?.written.has(step) || model.beside?.written.has(next)) return undefined;
  if (next.startsWith('@') && (!INDEXED.has(next) || next === '@type')) return undefined;
  const typeIds = targetsIn(known.settings);
  const farIds = typeIds.filter((id) => model.type(id));
  // Ranks of several tables say nothing of each other.
  const [farId] = farIds;
  if (farIds.length !== 1 || farId === undefined) return undefined;
  const end = model.field(next);
  const endKind = end && kindOf(end.field);
  if (end && (!endKind || endKind.many || relationOf(end.field) || !isIndexed(endKind.kind))) return undefined;
  if (end && end.type.id !== farId) return undefined;
  // Of one related record there is one value, and of several some take of theirs.
  if (known.many ? !take || !TAKEN.has(take) : take !== undefined) return undefined;
  if (known.many && take !== 'count' && type.kind.family.order !== 'number') {
    if (take !== 'first' && take !== 'last') return undefined;
  }
  const far = tableOf(reading, farId);
  const counted = take === 'count';
  const ranked = !counted && type.kind.family.order === 'sort';
  const aspect = ranked ? rankIn(model.site.locale) : 'number';
  const column = counted ? undefined : columnAt<KeyColumn>(reading, far, aspect, next);
  const filled = counted ? columnAt(reading, far, 'filled', next) : undefined;
  const { lists } = columnAt<ListColumn<number>>(
    reading,
    table,
    'numbers',
    linksStep(relation.relationId, relation.side),
  );
  const elsewhere = entry.type.id !== table.typeId;
  const name = `${take ?? 'one'} of ${step} ${aspect} ${next} ${drafts ? 'all' : 'shown'}`;
  const first = firstLink(reading, typeIds, lists);
  const seen = seenOf(reading, far);
  const valueOf = (id: number): number => {
    const row = far.rowOf(id);
    if (row === undefined || !seen.has(row)) return NaN;
    if (filled) return (filled as unknown as { here: Uint8Array }).here[row] ? 1 : NaN;
    return (column?.keys[row] as number | undefined) ?? NaN;
  };
  return {
    name,
    down,
    derived: true,
    keys: () =>
      table.derive(name, [far], (keys) => {
        if (elsewhere) return void (counted && keys.fill(0));
        for (let row = 0; row < keys.length; row++) {
          if (!known.many) {
            const id = first(row);
            if (id !== undefined) keys[row] = valueOf(id);
            continue;
          }
          const values = (lists[row] ?? NONE).map(valueOf).filter((value) => !Number.isNaN(value));
          keys[row] = takeOfNumbers(take as Take, values) ?? NaN;
        }
      }),
    ...(ranked && !elsewhere && { textAt: (rank: number) => (column as RankColumn).textAt(rank) }),
  };
}

/** How well a record fits what is searched for, the best first. */
export function fitKey(search: Search, reading: Reading, table: Table): TableKey {
  const name = JSON.stringify(['fit', search]);
  return {
    name,
    down: true,
    derived: true,
    keys: () => table.derive(name, [], (keys) => fits(reading, table, search, keys)),
  };
}
