import { readRows } from '../../queries/records';
import { recount } from '../../queries/counts';
import { modelMoved } from '../../queries/site';
import { rm } from 'node:fs/promises';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { problemsOf, type Problem, type Result } from '../../../core/base/result';
import { parseValues } from '../../../core/content/validate';
import { parseContentType } from '../../../core/model/model';
import type { ModelIndex } from '../../../core/model/model-index';
import { ModelSchema, type Model } from '../../../core/schema/model';
import { RecordSchema, type ContentRecord } from '../../../core/schema/record';
import { TemplateSchema, type Template } from '../../../core/schema/template';
import { ThemeSchema, type Theme } from '../../../core/schema/theme';
import { lookProblems } from '../../../core/styles/style';
import { parseTemplate } from '../../../core/templates/parse';
import { touchEverything } from '../../database/touched';
import { inTransaction } from '../../database/connect';
import type { TableName } from '../../database/tables';
import { setParent, updateSite } from '../../queries/model';
import { insertInto, isEmptySite, recordIdsOfType } from '../../queries/restoring';
import { Refusal } from '../../base/refusal';
import { cleanHtml, cleanSvg, cleanValue } from '../../services/html';
import { receive } from '../../files/local';
import { files as store } from '../../files/store';
import { readModel } from '../../services/model';
import { reindex, writeUnique } from '../../services/record-parts';
import { release } from '../../services/releases';
import { restoreBackup, type Restored } from './restore';
import { FORMER, Head, LinkRow, MediaRow, FIRST_VERSION } from './first-parts';
import { decode } from '../decode';
import type { Progress } from '../../jobs/jobs';
import { jsonValues } from '../json-values';
import { VERSION } from './tables';
import { linesOf } from '../lines';
import { zipFiles } from '../sources';

const refused = (problems: Problem[]) => new Refusal(422, 'The backup cannot be read.', problems);
const wrong = (at: string, what: string, fix?: string) => refused([{ at, what, ...(fix ? { fix } : {}) }]);

const LIMITS = { each: 4_000_000_000, all: 20_000_000_000 };

async function json(bytes: AsyncIterable<Uint8Array>, name: string): Promise<unknown> {
  let text = '';
  for await (const piece of decode(bytes, 'utf-8')) {
    text += piece;
    if (text.length > 200_000_000) throw wrong(name, 'This part is larger than 200 MB.');
  }
  try {
    return JSON.parse(text) as unknown;
  } catch (error) {
    throw wrong(name, `This is not JSON: ${(error as Error).message}`);
  }
}

function parsed<T>(schema: z.ZodType<T>, value: unknown, at: string): T {
  const result = schema.safeParse(value);
  if (!result.success) throw refused(problemsOf(result.error, at).slice(0, 20));
  return result.data;
}

/** What was checked, or a refusal that says where in the backup it is wrong. */
function sound<T>(result: Result<T>, at: string): T {
  if (!result.ok) throw refused(result.problems.map((one) => ({ ...one, at: `${at}, ${one.at}` })));
  return result.value;
}

export type BackupResult = Omit<Restored, 'releases' | 'withPeople'> & Partial<Restored>;

/** Everything in a backup but records, links and files, checked. */
interface Contents {
  model: Model;
  media: MediaRow[];
  templates: Template[];
  theme?: Theme;
}

async function readContents(path: string): Promise<Contents> {
  const parts = new Map<string, unknown>();
  const wanted = (name: string) => /^(backup|archive|model|media|templates|theme)\.json$/.test(name);
  for await (const { name, bytes } of zipFiles(path, { each: 200_000_000, all: LIMITS.all, wanted }))
    parts.set(name, await json(bytes, name));
  const head = Head.safeParse(parts.get('backup.json') ?? parts.get(FORMER.file));
  if (!head.success)
    throw wrong('backup.json', 'This zip is no backup of Plum Thread.', 'Choose a file that was exported as a backup.');
  if (head.data.version > FIRST_VERSION)
    throw wrong(
      'backup.json',
      `This backup has version ${head.data.version}; up to 2 is understood.`,
      'Use a newer Plum Thread.',
    );
  const model = parsed(ModelSchema as unknown as z.ZodType<Model>, parts.get('model.json'), 'model.json');
  for (const type of model.types) sound(parseContentType(type), `model.json, ${type.name}`);
  const media = parsed(z.array(MediaRow), parts.get('media.json') ?? [], 'media.json');
  const templates = parsed(z.array(TemplateSchema), parts.get('templates.json') ?? [], 'templates.json');
  for (const template of templates) sound(parseTemplate(template), `templates.json, ${template.name}`);
  const theme = parts.has('theme.json') ? parsed(ThemeSchema, parts.get('theme.json'), 'theme.json') : undefined;
  const [bad] = lookProblems(theme?.looks ?? []);
  if (bad) throw wrong('theme.json', bad.what, 'Mend the look in the file.');
  return { model, media, templates: templates as Template[], theme };
}

/**
 * Puts pictures and other files in their places; undefined where it was cancelled meanwhile. What stands there already is
 * left as it is: names are made from the content, so it is the same, or it is somebody else's.
 */
async function takeFiles(path: string, media: MediaRow[], progress: Progress): Promise<number | undefined> {
  const files = new Map(media.map((row) => [`media/${row.file}`, row]));
  let count = 0;
  for await (const { name, bytes } of zipFiles(path, { ...LIMITS, wanted: (n) => files.has(n) })) {
    if (progress.signal.aborted) return undefined;
    const { file, mime } = files.get(name) as MediaRow;
    const { path: aside } = await receive(file, mime === 'image/svg+xml' ? cleaned(bytes) : bytes, LIMITS.each);
    try {
      if (!(await store().has(file))) await store().take(aside, file);
    } finally {
      await rm(aside, { force: true });
    }
    count++;
    progress.report(count, media.length + 1);
  }
  return count;
}

async function* cleaned(bytes: AsyncIterable<Uint8Array>): AsyncGenerator<Uint8Array> {
  const pieces: Uint8Array[] = [];
  for await (const piece of bytes) pieces.push(piece);
  yield Buffer.from(cleanSvg(Buffer.concat(pieces).toString('utf8')));
}

async function refuseFull(transaction?: Transaction): Promise<void> {
  if (await isEmptySite(transaction)) return;
  throw new Refusal(409, 'A backup goes into an empty database.', [
    {
      at: '',
      what: 'There is content already.',
      fix: 'Start with an empty data folder: npm run demo -- --empty --data DIR.',
    },
  ]);
}

/** Site, library, taxonomies, authors, types, and what is kept with the model. */
async function writeModel({ model, media }: Contents, transaction: Transaction): Promise<void> {
  await updateSite(model.site, transaction);
  const put = (into: TableName, rows: object[]) => insertInto(into, rows, transaction);
  await put(
    'media',
    media.map((row) => ({ ...row, created: new Date(row.created) })),
  );
  await put(
    'taxonomies',
    model.taxonomies.map((taxonomy, position) => ({ ...taxonomy, position })),
  );
  // Terms first stand alone, since those above them may come later.
  await put(
    'terms',
    model.terms.map((term) => ({ ...term, parentId: null })),
  );
  for (const { id, parentId } of model.terms) if (parentId) await setParent(id, parentId, transaction);
  await put(
    'authors',
    model.authors.map((author) => ({ ...author, about: cleanHtml(author.about) })),
  );
  for (const [position, type] of model.types.entries()) {
    const { address = null, structured = null, description = '' } = type;
    await put('contentTypes', [{ ...type, address, structured, description, position }]);
    await put(
      'fields',
      type.fields.map(({ initial, ...field }, at) => ({
        ...field,
        typeId: type.id,
        position: at,
        initial: initial === undefined ? null : { value: initial },
      })),
    );
  }
  await put('namedRules', [...model.rules]);
  await put(
    'menus',
    model.menus.map((menu, position) => ({ ...menu, position })),
  );
  await modelMoved(transaction);
}

/** A record of a backup as the rows that stand for it. */
function recordRows(value: unknown, model: ModelIndex, at: string): { row: object; terms: object[] } {
  const record = parsed(RecordSchema, value, at) as ContentRecord;
  const type = model.type(record.typeId);
  if (!type) throw wrong(at, `There is no content type ${record.typeId}.`);
  const known = type.fields.flatMap((field): [string, unknown][] =>
    record.values[field.id] === undefined ? [] : [[field.id, cleanValue(field, record.values[field.id])]],
  );
  const checked = sound(parseValues(type, Object.fromEntries(known)), at);
  const values = Object.fromEntries([...checked].map(([field, given]) => [field.id, given]));
  return {
    row: {
      ...record,
      created: new Date(record.created),
      changed: new Date(record.changed),
      published: record.published && new Date(record.published),
      values,
      isGenerated: record.generated,
    },
    terms: record.terms.map((termId, position) => ({ recordId: record.id, termId, position })),
  };
}

async function writeRecords(path: string, count: (n: number) => void, transaction: Transaction): Promise<number> {
  const model = await readModel(transaction);
  const terms: object[] = [];
  let rows: object[] = [];
  let written = 0;
  const flush = async () => {
    await insertInto('records', rows, transaction);
    written += rows.length;
    rows = [];
    count(written);
  };
  for await (const { name, bytes } of zipFiles(path, { ...LIMITS, wanted: (n) => n === 'records.jsonl' }))
    for await (const { value, line } of jsonValues(decode(bytes, 'utf-8'))) {
      const made = recordRows(value, model, `${name}, line ${line}`);
      rows.push(made.row);
      terms.push(...made.terms);
      if (rows.length === 500) await flush();
    }
  await flush();
  await insertInto('recordTerms', terms, transaction);
  return written;
}

/** One line as JSON. */
function lineValue(text: string, at: string): unknown {
  try {
    return JSON.parse(text) as unknown;
  } catch {
    throw wrong(at, 'This is not JSON.');
  }
}

async function writeLinks(path: string, transaction: Transaction): Promise<number> {
  let rows: object[] = [];
  let written = 0;
  for await (const { name, bytes } of zipFiles(path, { ...LIMITS, wanted: (n) => n === 'links.jsonl' }))
    for await (const { text, line } of linesOf(decode(bytes, 'utf-8'))) {
      const at = `${name}, line ${line}`;
      const [relationId, aId, bId, aPosition, bPosition] = parsed(LinkRow, lineValue(text, at), at);
      rows.push({ relationId, aId, bId, aPosition, bPosition });
      written++;
      if (rows.length < 1000) continue;
      await insertInto('links', rows, transaction);
      rows = [];
    }
  await insertInto('links', rows, transaction);
  return written;
}

/** Everything that follows from what records say: the index, unique values, counts. */
async function fillTables(transaction: Transaction): Promise<void> {
  touchEverything(transaction);
  for (const type of (await readModel(transaction)).types) {
    await reindex(type, transaction);
    if (!type.fields.some((field) => field.unique)) continue;
    const ids = await recordIdsOfType(type.id, transaction);
    for (let i = 0; i < ids.length; i += 500)
      await writeUnique(type, await readRows(ids.slice(i, i + 500), transaction), transaction);
  }
  await recount(transaction);
}

/** What the zip says of itself. */
async function headOf(path: string): Promise<unknown> {
  for await (const { name, bytes } of zipFiles(path, {
    each: 1_000_000,
    all: LIMITS.all,
    wanted: (one) => one === 'backup.json',
  }))
    return json(bytes, name);
  return undefined;
}

/** Fills an empty place from a backup of any version. */
export async function readBackup(path: string, progress: Progress): Promise<BackupResult> {
  const head = await headOf(path);
  if ((head as { version?: unknown } | undefined)?.version === VERSION)
    return restoreBackup(path, head, progress, refuseFull);
  return readFirst(path, progress);
}

/** A backup of version 1, which has no releases: what was designed is seen at once, as it was where it came from. */
async function readFirst(path: string, progress: Progress): Promise<BackupResult> {
  const result: BackupResult = { types: 0, records: 0, links: 0, media: 0, templates: 0 };
  const contents = await readContents(path);
  const { model, media, templates, theme } = contents;
  // Before anything is touched, and once more where nobody can come in between.
  await refuseFull();
  const files = await takeFiles(path, media, progress);
  if (files === undefined) return result;
  const count = (records: number) => {
    progress.report(files + records);
    if (progress.signal.aborted) throw new Refusal(409, 'The import was cancelled.');
  };
  await inTransaction(async (transaction) => {
    await refuseFull(transaction);
    await writeModel(contents, transaction);
    result.records = await writeRecords(path, count, transaction);
    result.links = await writeLinks(path, transaction);
    await fillTables(transaction);
    if (theme) await insertInto('themes', [{ id: 1, tokens: theme, version: 1 }], transaction);
    await insertInto(
      'templates',
      templates.map((template) => ({ ...template, except: template.except ?? null })),
      transaction,
    );
  });
  if (templates.length || model.types.length) await release({ note: 'From a backup' });
  return { ...result, media: files, types: model.types.length, templates: templates.length };
}
