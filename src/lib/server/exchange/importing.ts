import { recordsAtSlugs } from '../queries/records';
import { batchFinder, linkLater, type BatchFinder, type Later } from './links-within';
import { bodyOf } from '../../core/content/body';
import { kindOf, roleOfField } from '../../core/model/field';

import type { Transaction } from 'sequelize';
import { noteActivity } from '../people/activity';
import { rm } from 'node:fs/promises';
import { z } from 'zod';
import { columnsOf, guessTargets, problemInFile, recordFromPlain } from '../../core/exchange/columns';
import { BODY } from '../../core/exchange/front-matter';
import type { FileView, ImportFormat, ImportResult, Job } from '../../core/exchange/imports';
import type { Field } from '../../core/schema/field';
import type { ContentType } from '../../core/schema/model';
import type { ModelIndex } from '../../core/model/model-index';
import { type Problem } from '../../core/base/result';
import { inTransaction, savepoint } from '../database/connect';
import { notFound, Refusal } from '../base/refusal';
import { receive } from '../files/local';
import { readModel } from '../services/model';
import { stillSo } from '../services/record-checks';
import { changeIn, changeTogether, insertRecords } from '../services/records';
import { SlugBook } from '../services/slugs';
import { deleteUpload, uploadOf, keepUpload, makeRoomForUpload, withUpload } from './uploads';
import { defineJob, type By, type Progress } from '../jobs/jobs';
import { readRows } from './read-rows';
import { guessFormat, type SourceFile, type SourceRow } from './sources';

const MOST_BYTES = 200_000_000;

/** Keeps a file for import. What is in it is not looked at yet. */
export async function receiveFile(
  name: string,
  content: AsyncIterable<Uint8Array>,
  by = 0,
): Promise<{ id: string; name: string; size: number; format: ImportFormat }> {
  await makeRoomForUpload(by);
  const { path, size } = await receive(name, content, MOST_BYTES);
  try {
    const format = await guessFormat(path, name);
    return { id: await keepUpload(by, path, { name, size }), name, size, format };
  } finally {
    await rm(path, { force: true });
  }
}

export const ImportFileRequest = z.object({
  file: z.string(),
  typeId: z.string(),
  format: z.enum(['csv', 'json', 'geojson', 'markdown']),
  encoding: z.enum(['utf-8', 'utf-16', 'windows-1252']).optional(),
});

/** The cells of a row as they are shown for an example. */
const beginnings = (cells: Record<string, unknown>): Record<string, string> =>
  Object.fromEntries(
    Object.entries(cells).map(([column, value]) => [
      column,
      (typeof value === 'string' ? value : JSON.stringify(value)).slice(0, 80),
    ]),
  );

/** The columns of a file with a few rows, and what each column most likely is. */
export async function viewFile(input: z.output<typeof ImportFileRequest>, by = 0): Promise<FileView> {
  const { typeId, format, encoding } = input;
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const names = new Set<string>();
  const sample: Record<string, string>[] = [];
  await withUpload(input.file, by, async (path, { name }) => {
    for await (const rows of readRows({ path, name, format, encoding })) {
      for (const { cells } of rows) for (const column of Object.keys(cells)) names.add(column);
      sample.push(...rows.slice(0, 3 - sample.length).map(({ cells }) => beginnings(cells)));
      // Rows of a table all have the columns of the first line; other files may have one in their last row alone.
      if (format === 'csv') break;
    }
  });
  const columns = [...names].slice(0, 500);
  const targets = guessTargets(columns, type, model);
  const body = bodyOf(type);
  if (columns.includes(BODY) && !targets[BODY] && body && !Object.values(targets).includes(body.id))
    targets[BODY] = body.id;
  const place = type.fields.find((field) => roleOfField(field) === 'map');
  if (format === 'geojson' && place && columns.includes('place') && !targets.place) targets.place = place.id;
  return { columns, sample, targets, into: columnsOf(type, model) };
}

export const ImportRequest = ImportFileRequest.extend({
  targets: z.record(z.string(), z.string()),
  /** What becomes of rows whose address part is that of a record already there. */
  existing: z.enum(['add', 'update', 'skip']).default('add'),
  /** Nothing is kept if any row has a problem. */
  allOrNothing: z.boolean().default(true),
  dry: z.boolean().default(false),
});

/** Begins an import, or the dry run of one. */
export async function startImport(input: z.output<typeof ImportRequest>, by?: By): Promise<Job<ImportResult>> {
  const model = await readModel();
  const type = model.type(input.typeId);
  if (!type) throw notFound('content type with this id');
  if (!Object.values(input.targets).includes('@title'))
    throw new Refusal(422, 'The import cannot begin.', [
      { at: 'targets', what: 'No column goes into the title.', fix: 'Choose the column that names the records.' },
    ]);
  await uploadOf(input.file, by?.id ?? 0);
  return importing.start(input, by);
}

export const importing = defineJob<z.infer<typeof ImportRequest>, ImportResult>('import', {
  // Nothing of it is there before its end; else rows that came in would come in twice.
  again: ({ dry, allOrNothing }) => dry || allOrNothing,
  async run(asked, by, progress) {
    const model = await readModel();
    const type = model.type(asked.typeId);
    if (!type) throw notFound('content type with this id');
    const { name, result } = await withUpload(asked.file, by?.id ?? 0, async (path, { name, size }) => {
      const into = type.fields.find(({ id }) => id === asked.targets[BODY]);
      const bodyAsMarkup = into !== undefined && kindOf(into)?.kind.outside === 'markup';
      const file = { path, name, format: asked.format, encoding: asked.encoding, bodyAsMarkup };
      return { name, result: await runImport(file, type, model, asked, progress, size) };
    });
    if (!asked.dry && !progress.signal.aborted && !(asked.allOrNothing && result.refused))
      await deleteUpload(asked.file);
    if (!asked.dry && result.added + result.updated)
      await noteActivity({
        ...{ by, via: 'import', operation: 'startImport', subject: `type ${type.id}` },
        what: `Brought ${result.added} new and ${result.updated} changed ${type.plural.toLowerCase()} in from “${name}”`,
      });
    return result;
  },
});

type Settings = Pick<z.infer<typeof ImportRequest>, 'targets' | 'existing' | 'allOrNothing' | 'dry'>;

/** Thrown to leave a transaction without keeping anything. */
class Undo extends Error {}
const BATCH = 1000;
const MOST_PROBLEMS = 1000;

/** Imports the rows of a file into a type. A batch at a time is held; all in one transaction where all or nothing is asked. */
export async function runImport(
  file: SourceFile,
  type: ContentType,
  model: ModelIndex,
  settings: Settings,
  progress: Progress,
  size?: number,
): Promise<ImportResult> {
  const result: ImportResult = {
    rows: 0,
    added: 0,
    updated: 0,
    skipped: 0,
    refused: 0,
    problems: [],
    moreProblems: 0,
    unread: [],
  };
  const tell = (place: string, problems: Problem[]) => {
    for (const p of problems)
      if (result.problems.length < MOST_PROBLEMS)
        result.problems.push({ ...problemInFile(p, settings.targets), place });
      else result.moreProblems++;
  };
  const finder = batchFinder();
  let later: Later[] = [];
  let unread = new Map<string, number>();
  const whole = settings.allOrNothing || settings.dry;
  const go = async (outer?: Transaction) => {
    // Tried again from the start where another transaction stood in the way.
    Object.assign(result, { rows: 0, added: 0, updated: 0, skipped: 0, refused: 0, problems: [], moreProblems: 0 });
    later = [];
    unread = new Map();
    const flush = async (rows: SourceRow[]) => {
      const before = {
        added: result.added,
        updated: result.updated,
        skipped: result.skipped,
        refused: result.refused,
        problems: result.problems.length,
        more: result.moreProblems,
        later: later.length,
      };
      const work = async (transaction: Transaction) => {
        // Tried again from here where another transaction stood in the way.
        result.problems.length = before.problems;
        later.length = before.later;
        Object.assign(result, {
          added: before.added,
          updated: before.updated,
          skipped: before.skipped,
          refused: before.refused,
          moreProblems: before.more,
        });
        await importBatch(rows, type, model, settings, finder, transaction, result, tell, later);
        if (!outer) await stillSo(type, transaction);
      };
      if (outer) await work(outer);
      else await inTransaction(work);
      result.rows += rows.length;
      for (const { cells } of rows)
        for (const [column, given] of Object.entries(cells))
          if (given !== '' && given !== null && !Object.hasOwn(settings.targets, column))
            unread.set(column, (unread.get(column) ?? 0) + 1);
      progress.report(
        result.rows,
        size === undefined ? undefined : Math.max(result.rows, Math.round(size / (seenBytes(rows) / rows.length) || 0)),
      );
      if (progress.signal.aborted) throw new Undo();
      // Others get their turn between batches.
      await new Promise((done) => setImmediate(done));
    };
    for await (const rows of readRows(file, progress.signal)) await flush(rows);
    for (let i = 0; i < later.length; i += BATCH) {
      const some = later.slice(i, i + BATCH);
      const work = (transaction: Transaction) => linkLater(some, transaction, tell);
      const missing = await (outer ? work(outer) : inTransaction(work));
      // Where all come in or none, a link that leads nowhere keeps all of them out.
      if (settings.allOrNothing) result.refused += missing;
    }
    if (outer && !settings.dry) await stillSo(type, outer);
    if (progress.signal.aborted || settings.dry || (settings.allOrNothing && result.refused)) throw new Undo();
    if (outer) await progress.settle?.({ ...result, unread: listed(unread) }, outer);
  };
  let kept = true;
  try {
    if (whole) await inTransaction(go);
    else await go();
  } catch (error) {
    if (!(error instanceof Undo)) throw error;
    kept = false;
  }
  // Whoever breaks it off when everything is in already is too late.
  if (settings.allOrNothing && !settings.dry && !kept) Object.assign(result, { added: 0, updated: 0 });
  result.unread = listed(unread);
  return result;
}

const listed = (unread: ReadonlyMap<string, number>): ImportResult['unread'] =>
  [...unread].map(([column, rows]) => ({ column, rows }));

const seenBytes = (rows: SourceRow[]): number => rows.reduce((sum, row) => sum + JSON.stringify(row.cells).length, 1);

async function importBatch(
  rows: SourceRow[],
  type: ContentType,
  model: ModelIndex,
  { targets, existing }: Settings,
  finder: BatchFinder,
  transaction: Transaction,
  result: ImportResult,
  tell: (place: string, problems: Problem[]) => void,
  later: Later[],
): Promise<void> {
  const read = () =>
    rows.map((row) => {
      const links: Omit<Later, 'id' | 'place'>[] = [];
      const note = (column: string, field: Field, given: unknown) => links.push({ column, field, given });
      return { ...recordFromPlain(row.cells, targets, type, model, finder.find, note), links };
    });
  read();
  await finder.fetch(transaction);
  const made = read();
  const slugs = made.map(({ input }) => input.slug).filter((slug): slug is string => typeof slug === 'string');
  const known = new Map(
    existing === 'add' || !slugs.length
      ? []
      : (await recordsAtSlugs(type.id, slugs, transaction)).map((row) => [row.slug, row.id]),
  );
  let open: RowRead[] = [];
  const changes: (RowRead & { id: number })[] = [];
  for (const [i, { input, problems, links }] of made.entries()) {
    const place = rows[i]?.place as string;
    const id = known.get(input.slug as string);
    if (problems.length) {
      tell(place, problems);
      result.refused++;
    } else if (id !== undefined && existing === 'skip') result.skipped++;
    else if (id !== undefined) {
      const { slug: _, created: __, ...change } = input;
      changes.push({ id, input: change, place, links });
    } else open.push({ input, place, links });
  }
  if (changes.length) await updateBatch(changes, type, model, transaction, result, tell, later);
  // Rows with problems are told and left out, until what remains goes in as a whole.
  while (open.length) {
    const back = await savepoint('batch', transaction);
    const { ids, problems } = await insertRecords(
      model,
      type,
      open.map(({ input }) => input),
      transaction,
      new SlugBook(type.id),
    );
    if (!problems.length) {
      result.added += open.length;
      for (const [index, { links, place }] of open.entries())
        later.push(...links.map((link) => ({ ...link, id: ids[index]!, place })));
      return;
    }
    await back();
    const bad = new Set(problems.map((p) => p.index));
    for (const [index, { place }] of open.entries()) {
      if (!bad.has(index)) continue;
      tell(
        place,
        problems.filter((p) => p.index === index).map(({ index: _, ...p }) => p),
      );
      result.refused++;
    }
    open = open.filter((_, index) => !bad.has(index));
  }
}

interface RowRead {
  input: Record<string, unknown>;
  place: string;
  links: Omit<Later, 'id' | 'place'>[];
}

/** Changes records that are there: all together, and one by one where something stands against that. */
async function updateBatch(
  changes: readonly (RowRead & { id: number })[],
  type: ContentType,
  model: ModelIndex,
  transaction: Transaction,
  result: ImportResult,
  tell: (place: string, problems: Problem[]) => void,
  later: Later[],
): Promise<void> {
  const done = ({ id, place, links }: RowRead & { id: number }) => {
    later.push(...links.map((link) => ({ ...link, id, place })));
    result.updated++;
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
      tell(one.place, error.problems.length ? error.problems : [{ at: '', what: error.title }]);
      result.refused++;
    }
  }
}
