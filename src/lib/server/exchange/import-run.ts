import type { Transaction } from 'sequelize';
import { recordFromPlain } from '../../core/exchange/columns';
import type { ImportResult } from '../../core/exchange/imports';
import type { ModelIndex } from '../../core/model/model-index';
import type { Field } from '../../core/schema/field';
import type { ContentType } from '../../core/schema/model';
import { Refusal } from '../base/refusal';
import { inTransaction, savepoint } from '../database/connect';
import type { Progress } from '../jobs/jobs';
import { recordsAtSlugs } from '../queries/records';
import { stillSo } from '../services/record-checks';
import { changeIn, changeTogether, insertRecords } from '../services/records';
import { SlugBook } from '../services/slugs';
import { ImportTally } from './import-tally';
import { batchFinder, linkLater, type BatchFinder, type Later } from './links-within';
import { readRows } from './read-rows';
import type { SourceFile, SourceRow } from './sources';

interface ImportSettings {
  /** Where each column of the file goes: a field's id, or `@title` and its like. */
  targets: Record<string, string>;
  /** What becomes of rows whose address part is that of a record already there. */
  existing: 'add' | 'update' | 'skip';
  /** Nothing is kept if any row has a problem. */
  allOrNothing: boolean;
  dry: boolean;
}

/** The type that records come into, with the model that it is part of. */
interface Destination {
  type: ContentType;
  model: ModelIndex;
}

/** An import under way: what is given, and what it has come to. */
interface ImportRun extends Destination {
  settings: ImportSettings;
  finder: BatchFinder;
  tally: ImportTally;
}

/** A row of the file as a record's values, with what it links to. */
interface RowRead {
  input: Record<string, unknown>;
  place: string;
  links: Omit<Later, 'id' | 'place'>[];
}

/** Thrown to leave a transaction without keeping anything. */
class Undo extends Error {}
const BATCH = 1000;

/** Imports the rows of a file into a type. A batch at a time is held; all in one transaction where all or nothing is asked. */
export async function runImport(
  source: SourceFile & { size?: number },
  destination: Destination,
  settings: ImportSettings,
  progress: Progress,
): Promise<ImportResult> {
  const tally = new ImportTally(settings.targets);
  const run: ImportRun = { ...destination, settings, finder: batchFinder(), tally };
  let committed = true;
  try {
    if (settings.allOrNothing || settings.dry)
      await inTransaction((transaction) => importAll(run, source, progress, transaction));
    else await importAll(run, source, progress);
  } catch (error) {
    if (!(error instanceof Undo)) throw error;
    committed = false;
  }
  // Whoever breaks it off when everything is in already is too late.
  if (settings.allOrNothing && !settings.dry && !committed) tally.discardChanges();
  return tally.result();
}

/** Imports all rows, in the transaction that is given or in one for each batch, and then their links to each other. */
async function importAll(
  run: ImportRun,
  source: SourceFile & { size?: number },
  progress: Progress,
  outer?: Transaction,
): Promise<void> {
  const { settings, tally } = run;
  // Tried again from the start where another transaction stood in the way.
  tally.clear();
  for await (const rows of readRows(source, progress.signal)) {
    await importRows(run, rows, outer);
    progress.report(tally.rows, expectedRows(tally.rows, rows, source.size));
    if (progress.signal.aborted) throw new Undo();
    // Others get their turn between batches.
    await new Promise((done) => setImmediate(done));
  }
  await linkAll(run, outer);
  if (outer && !settings.dry) await stillSo(run.type, outer);
  if (progress.signal.aborted || settings.dry || (settings.allOrNothing && tally.refused)) throw new Undo();
  if (outer) await progress.settle?.(tally.result(), outer);
}

/** How many rows a file of so many bytes most likely has, told by some of its rows; never fewer than were read. */
function expectedRows(read: number, rows: readonly SourceRow[], size: number | undefined): number | undefined {
  if (size === undefined) return undefined;
  const bytes = rows.reduce((sum, row) => sum + JSON.stringify(row.cells).length, 1);
  return Math.max(read, Math.round(size / (bytes / rows.length) || 0));
}

async function importRows(run: ImportRun, rows: readonly SourceRow[], outer?: Transaction): Promise<void> {
  const takeBack = run.tally.savepoint();
  const work = async (transaction: Transaction) => {
    // Tried again from here where another transaction stood in the way.
    takeBack();
    await importBatch(run, rows, transaction);
    if (!outer) await stillSo(run.type, transaction);
  };
  await (outer ? work(outer) : inTransaction(work));
  run.tally.addRows(rows);
}

/** Makes the links to records that came later in the file. */
async function linkAll({ settings, tally }: ImportRun, outer?: Transaction): Promise<void> {
  for (let i = 0; i < tally.links.length; i += BATCH) {
    const some = tally.links.slice(i, i + BATCH);
    const work = (transaction: Transaction) =>
      linkLater(some, transaction, (place, problems) => tally.report(place, problems));
    const missing = await (outer ? work(outer) : inTransaction(work));
    // Where all come in or none, a link that leads nowhere keeps all of them out.
    if (settings.allOrNothing) tally.count('refused', missing);
  }
}

/** Adds, changes or skips the records of some rows, by whether there is one at their address already. */
async function importBatch(run: ImportRun, rows: readonly SourceRow[], transaction: Transaction): Promise<void> {
  const { type, settings, tally } = run;
  const read = await readRecords(run, rows, transaction);
  const slugs = read.map(({ input }) => input.slug).filter((slug): slug is string => typeof slug === 'string');
  const known = new Map(
    settings.existing === 'add' || !slugs.length
      ? []
      : (await recordsAtSlugs(type.id, slugs, transaction)).map((row) => [row.slug, row.id]),
  );
  const additions: RowRead[] = [];
  const changes: (RowRead & { id: number })[] = [];
  for (const [i, { input, problems, links }] of read.entries()) {
    const place = rows[i]?.place as string;
    const id = known.get(input.slug as string);
    if (problems.length) tally.refuse(place, problems);
    else if (id === undefined) additions.push({ input, place, links });
    else if (settings.existing === 'skip') tally.count('skipped');
    else {
      const { slug: _, created: __, ...change } = input;
      changes.push({ id, input: change, place, links });
    }
  }
  if (changes.length) await updateBatch(run, changes, transaction);
  await addBatch(run, additions, transaction);
}

/** Rows as records, after one look-up of all that they name. */
async function readRecords(
  { type, model, settings, finder }: ImportRun,
  rows: readonly SourceRow[],
  transaction: Transaction,
) {
  const read = () =>
    rows.map((row) => {
      const links: RowRead['links'] = [];
      const note = (column: string, field: Field, given: unknown) => links.push({ column, field, given });
      return { ...recordFromPlain(row.cells, settings.targets, type, model, finder.find, note), links };
    });
  read();
  await finder.fetch(transaction);
  return read();
}

/** Adds records. Rows with problems are reported and left out, until what remains goes in together. */
async function addBatch(run: ImportRun, additions: RowRead[], transaction: Transaction): Promise<void> {
  const { type, model, tally } = run;
  while (additions.length) {
    const back = await savepoint('batch', transaction);
    const inputs = additions.map(({ input }) => input);
    const { ids, problems } = await insertRecords(model, type, inputs, transaction, new SlugBook(type.id));
    if (!problems.length) {
      tally.count('added', additions.length);
      for (const [index, { links, place }] of additions.entries()) tally.linkLater(links, ids[index]!, place);
      return;
    }
    await back();
    const bad = new Set(problems.map((p) => p.index));
    for (const [index, { place }] of additions.entries()) {
      const own = problems.filter((p) => p.index === index).map(({ index: _, ...p }) => p);
      if (bad.has(index)) tally.refuse(place, own);
    }
    additions = additions.filter((_, index) => !bad.has(index));
  }
}

/** Changes records that are there: all together, and one by one where something stands against that. */
async function updateBatch(
  { type, model, tally }: ImportRun,
  changes: readonly (RowRead & { id: number })[],
  transaction: Transaction,
): Promise<void> {
  const done = ({ id, place, links }: RowRead & { id: number }) => {
    tally.linkLater(links, id, place);
    tally.count('updated');
  };
  // One record twice in a batch is changed twice, one after the other.
  if (new Set(changes.map(({ id }) => id)).size === changes.length) {
    const back = await savepoint('batch', transaction);
    if (!(await changeTogether(model, type, changes, transaction)).length) return changes.forEach(done);
    await back();
  }
  for (const one of changes) {
    // A change that is refused half way leaves nothing of itself among those that are kept.
    const back = await savepoint('one', transaction);
    try {
      await changeIn(one.id, one.input, transaction);
      done(one);
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      await back();
      tally.refuse(one.place, error.problems.length ? error.problems : [{ at: '', what: error.title }]);
    }
  }
}
