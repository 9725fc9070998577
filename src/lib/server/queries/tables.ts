import type { Aspect, Cell, Column } from '../../core/columns/cell';
import { localDay } from '../../core/base/write';
import type { ModelIndex } from '../../core/model/model-index';
import { EMPTY_POOL, makeEnv } from '../../core/paths/env';
import { columnOf, RankColumn } from '../../core/columns/column';
import { linksOf, orLacking, TERMS, wordsOf, type Reading, type Tables } from '../../core/columns/reading';
import { Table, type Changed } from '../../core/columns/table';
import { readAside } from '../database/replicas';
import { freshVersion, versionKnown } from '../database/version';
import { changedSince, countersNow, versionOf, type Counters } from './changes';
import {
  cellsOfRecords,
  cellsOfStep,
  headsByIds,
  headsOf,
  linksOfRecords,
  linksOfType,
  sortedTexts,
  termsOfType,
  wordsOfRecords,
  wordsOfStep,
} from './columns';
import { Refusal } from '../base/refusal';
import { termsOfRecords } from './record-parts';
import { configuration, perServer } from '../base/server';

/**
 * The records of this process' site in columns, as far as lists have asked for them. They are filled from the database and
 * kept right by what it notes of changes, whichever process made these; see `inTransaction`.
 */
interface Columns {
  counters: Counters;
  version: number;
  tables: Map<string, { table: Table; used: number }>;
  /** When they were last known to be the newest, in milliseconds of this process. */
  at: number;
  /** Counts up when all tables are let go. */
  anew: number;
  /** Ends once whatever changes them now is done. */
  work: Promise<void>;
  /** What is being laid out, so that nobody does it twice. */
  layingOut: Map<string, Promise<void>>;
}

const nothing = (): Pick<Columns, 'counters' | 'version' | 'tables' | 'at'> => ({
  counters: new Map(),
  version: -1,
  tables: new Map(),
  at: 0,
});
const columnsHere = perServer((): Columns => ({
  ...nothing(),
  anew: 1,
  work: Promise.resolve(),
  layingOut: new Map(),
}));

function letGo(own: Columns): void {
  Object.assign(own, nothing());
  own.anew++;
}

/** Changes are noted for an hour; who has not looked for half of that begins anew. */
const TOO_LATE = 30 * 60_000;

/** Bytes that columns may take in a process, as far as that can be told; what was not used longest goes first. */
const most = (): number => configuration().columnBytes;
/** What was used within so many milliseconds stays. */
const IN_USE = 60_000;

/** What one page, or several that are drawn together, reads of the columns. */
export interface TablesView extends Tables {
  /** Nothing is older than the last write that was told of. */
  readonly ready: boolean;
  /** Something was asked for that is not there. */
  readonly lacking: boolean;
  /** Fills in what is lacking, and brings everything up to the last write. */
  fill(): Promise<void>;
}

/** An answer about the version may be older than what is held by as long as it was on its way, in milliseconds. */
const ON_ITS_WAY = 1000;

function isFresh(version: string | undefined): boolean {
  if (version === undefined) return false;
  const own = columnsHere();
  const asked = Number(version);
  const now = performance.now();
  // Nothing was written since, so that nothing noted since then is missed either.
  if (own.version === asked) own.at = now;
  // Counters that go back are those of another database, such as one that was put back from a copy.
  return own.version === asked || (own.version > asked && now - own.at < ON_ITS_WAY);
}

export function tablesView(): TablesView {
  const wanted = new Map<string, Set<string>>();
  let ready = isFresh(versionKnown());
  return {
    get ready() {
      return ready;
    },
    get lacking() {
      return wanted.size > 0;
    },
    table(typeId) {
      const known = columnsHere().tables.get(typeId);
      if (known) known.used = performance.now();
      else wanted.set(typeId, wanted.get(typeId) ?? new Set());
      return known?.table;
    },
    column(table, aspect, step) {
      const column = table.column(aspect, step);
      if (!column) {
        const of = wanted.get(table.typeId) ?? new Set<string>();
        wanted.set(table.typeId, of.add(`${aspect} ${step}`));
      }
      return column;
    },
    async fill() {
      const version = await freshVersion();
      if (!isFresh(version)) await inTurn(() => (isFresh(version) ? Promise.resolve() : catchUp()));
      const own = [...wanted];
      wanted.clear();
      for (const [typeId, columns] of own) await layOut(typeId, [...columns]);
      ready = true;
    },
  };
}

/** How often a question is put again that lacked something, or met a write in between. */
const TRIES = 10;

/** Asks columns what nothing but columns answers. `ask` gives undefined where some are lacking; they are filled then, and it is put again. */
export async function fromColumns<T>(ask: (tables: Tables) => T | undefined): Promise<T> {
  const view = tablesView();
  for (let tries = 0; tries < TRIES; tries++) {
    const answer = view.ready ? ask(view) : undefined;
    if (answer !== undefined) return answer;
    await view.fill();
  }
  throw new Refusal(409, 'Records change too fast to be listed just now. Try again.');
}

/** Asks columns about records that are on no list: what starts at a record is read of each of them. */
export const fromRecords = <T>(
  model: ModelIndex,
  { drafts }: { drafts: boolean },
  ask: (reading: Reading) => T,
): Promise<T> => {
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  return fromColumns((tables) => orLacking(() => ask({ own: 'record', env, model, tables, drafts })));
};

/** Brings what is held up to the last write; gives a number that is another one whenever all of it was let go. */
export async function bringUp(): Promise<number> {
  await tablesView().fill();
  return columnsHere().anew;
}

/** Forgets all columns. */
export const clearColumns = (): void => letGo(columnsHere());

/** One after the other: whatever changes what is own. */
function inTurn(body: () => Promise<void>): Promise<void> {
  const own = columnsHere();
  return (own.work = own.work.catch(() => undefined).then(body));
}

function once(key: string, body: () => Promise<void>): Promise<void> {
  const { layingOut } = columnsHere();
  let known = layingOut.get(key);
  if (!known) layingOut.set(key, (known = body().finally(() => layingOut.delete(key))));
  return known;
}

/** So many columns are laid out at once for each who asks: one is read while another is filled. */
const LANES = 2;

/**
 * Lays out columns of a type, a few at a time, so that who asks for many takes neither all connections nor all time of
 * the process. Others are answered meanwhile from what is there: what is written while a column is filled
 * is put into it at the end, before anybody reads it.
 */
async function layOut(typeId: string, columns: readonly string[]): Promise<void> {
  const own = columnsHere();
  if (!own.tables.has(typeId)) await once(typeId, () => layOutTable(typeId));
  const table = own.tables.get(typeId)?.table;
  if (!table) return;
  const waiting = columns.values();
  const lane = async (): Promise<void> => {
    // Lanes share what waits.
    for (const key of waiting) {
      const [aspect, step] = [key.slice(0, key.indexOf(' ')) as Aspect, key.slice(key.indexOf(' ') + 1)];
      if (!table.column(aspect, step)) await once(`${typeId} ${key}`, () => layOutColumn(table, aspect, step));
    }
  };
  await Promise.all(Array.from({ length: LANES }, lane));
  makeRoom();
}

async function layOutTable(typeId: string): Promise<void> {
  const { from, table } = await readAside(await freshVersion(), async () => {
    const made = { from: await countersNow(), table: new Table(typeId) };
    for await (const heads of headsOf(typeId)) made.table.add(heads);
    return made;
  });
  await inTurn(async () => {
    const ids = await changedSince(from);
    // What asked for it asks again.
    if (ids === 'everything') return;
    for (let i = 0; i < ids.length; i += 1000) await takeInto(table, ids.slice(i, i + 1000));
    columnsHere().tables.set(typeId, { table, used: performance.now() });
  });
}

async function layOutColumn(table: Table, aspect: Aspect, step: string): Promise<void> {
  const { from, column } = await readAside(await freshVersion(), async () => ({
    from: await countersNow(),
    column: await columnFrom(table, aspect, step),
  }));
  await inTurn(async () => {
    const ids = await changedSince(from);
    if (ids === 'everything' || columnsHere().tables.get(table.typeId)?.table !== table) return;
    for (let i = 0; i < ids.length; i += 1000) {
      const own = ids.slice(i, i + 1000).filter((id) => table.rowOf(id) !== undefined);
      const cells = await cellsFor([step], own);
      for (const id of own) column.put(table.rowOf(id) as number, cells.get(id)?.get(step) ?? []);
    }
    column.reach(table.size);
    table.hold(step, column);
  });
}

/** Takes in everything that was written since columns were last brought up. */
async function catchUp(): Promise<void> {
  const own = columnsHere();
  const now = performance.now();
  if (now - own.at > TOO_LATE) letGo(own);
  const counters = await countersNow();
  if ([...own.counters].some(([shard, n]) => (counters.get(shard) ?? 0) < n)) letGo(own);
  if (own.tables.size) {
    const ids = await changedSince(own.counters);
    if (ids === 'everything') {
      own.tables.clear();
      own.anew++;
    } else for (let i = 0; i < ids.length; i += 1000) await takeIn(ids.slice(i, i + 1000));
  }
  own.counters = counters;
  own.version = Number(versionOf(counters));
  own.at = now;
}

async function takeIn(ids: number[]): Promise<void> {
  const own = columnsHere();
  for (const [typeId, { table }] of own.tables)
    // Rows whose record is gone take room for nothing.
    if (table.wasted > 1000 + table.size / 2) own.tables.delete(typeId);
    else await takeInto(table, ids);
}

/** Puts what a table has of these records right. */
async function takeInto(table: Table, ids: readonly number[]): Promise<void> {
  const heads = await headsByIds(ids);
  const here = (id: number) => heads.get(id)?.typeId === table.typeId;
  const own = ids.filter((id) => here(id) || table.rowOf(id) !== undefined);
  if (!own.length) return;
  const cells = await cellsFor([...table.steps()], own.filter(here));
  table.apply(
    own.map((id): Changed => ({
      id,
      ...(here(id) && { head: heads.get(id)?.head }),
      cells: cells.get(id) ?? new Map<string, Cell[]>(),
    })),
  );
}

const asCell = (part: number, value: { number?: number; text?: string }): Cell => ({
  part,
  empty: false,
  number: null,
  text: null,
  sort: null,
  ...value,
});

/** What these records have at these steps. */
async function cellsFor(steps: readonly string[], ids: readonly number[]): Promise<Map<number, Map<string, Cell[]>>> {
  const out = new Map<number, Map<string, Cell[]>>();
  if (!ids.length) return out;
  const add = (id: number, step: string, cell: (part: number) => Cell): void => {
    let steps = out.get(id);
    if (!steps) out.set(id, (steps = new Map<string, Cell[]>()));
    const known = steps.get(step);
    if (known) known.push(cell(known.length));
    else steps.set(step, [cell(0)]);
  };
  const links = steps.flatMap((step) => {
    const of = linksOf(step);
    return of ? [{ step, ...of }] : [];
  });
  const words = steps.flatMap((step) => wordsOf(step) ?? []);
  const plain = steps.filter((step) => step !== TERMS && !linksOf(step) && wordsOf(step) === undefined);
  const [cells, terms, found] = await Promise.all([
    cellsOfRecords(ids, plain),
    steps.includes(TERMS) ? termsOfRecords(ids) : [],
    wordsOfRecords(ids, words),
  ]);
  for (const cell of cells) add(cell.id, cell.step, () => cell);
  for (const { id, term } of terms) add(id, TERMS, (part) => asCell(part, { text: term }));
  for (const { id, step, text } of found) add(id, `@words ${step}`, (part) => asCell(part, { text }));
  for (const { step, relationId, side } of links)
    for (const { id, number } of await linksOfRecords(ids, relationId, side))
      add(id, step, (part) => asCell(part, { number }));
  return out;
}

async function columnFrom(table: Table, aspect: Aspect, step: string): Promise<Column> {
  const { typeId } = table;
  const column = columnOf(aspect);
  /** Puts cells in as soon as all of a record are there, which come one after the other. */
  const putting = () => {
    let id = 0;
    let cells: Cell[] = [];
    const end = (): void => {
      const row = table.rowOf(id);
      if (row !== undefined && cells.length) column.put(row, cells);
      cells = [];
    };
    return {
      put(next: number, cell: Cell): void {
        if (next !== id) end();
        id = next;
        cells.push(cell);
      },
      end,
    };
  };
  const into = putting();
  const links = linksOf(step);
  const words = wordsOf(step);
  if (step === TERMS)
    for await (const rows of termsOfType(typeId)) for (const { id, text } of rows) into.put(id, asCell(0, { text }));
  else if (links)
    for (const { id, number } of await linksOfType(typeId, links.relationId, links.side))
      into.put(id, asCell(0, { number }));
  else if (words !== undefined)
    for await (const rows of wordsOfStep(typeId, words))
      for (const { id, text } of rows) into.put(id, asCell(0, { text }));
  else if (column instanceof RankColumn)
    column.fill(
      (await sortedTexts(typeId, step)).flatMap(({ id, text }) => {
        const row = table.rowOf(id);
        return row === undefined ? [] : [{ row, text }];
      }),
    );
  else {
    const parts =
      aspect === 'text' || aspect === 'texts' ? (['text'] as const) : aspect === 'filled' ? [] : (['number'] as const);
    for await (const rows of cellsOfStep(typeId, step, parts, aspect !== 'texts' && aspect !== 'numbers'))
      for (const cell of rows) into.put(cell.id, cell);
  }
  into.end();
  return column;
}

/** Lets go what was not used for long, while there is more than may be. */
function makeRoom(): void {
  const own = columnsHere();
  const all = [...own.tables].sort(([, a], [, b]) => a.used - b.used);
  let bytes = all.reduce((sum, [, { table }]) => sum + table.bytes(), 0);
  const now = performance.now();
  for (const [typeId, { table, used }] of all) {
    if (bytes <= most() || now - used < IN_USE) return;
    bytes -= table.bytes();
    own.tables.delete(typeId);
  }
}
