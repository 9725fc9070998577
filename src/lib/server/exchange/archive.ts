import { leadsOf } from '../../core/model/field';
import { createReadStream, createWriteStream } from 'node:fs';
import { mkdir, stat, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import type { Transaction } from 'sequelize';
import { ZipFile } from 'yazl';
import { z } from 'zod';
import { ModelSchema, type Model } from '../../core/schema/model';
import { parseContentType } from '../../core/model/model';
import { parseTemplate } from '../../core/templates/parse';
import { RecordSchema } from '../../core/schema/record';
import { parseValues } from '../../core/content/validate';
import { problemsOf } from '../../core/base/result';
import { TemplateSchema } from '../../core/schema/template';
import { ThemeSchema } from '../../core/schema/theme';
import { inTransaction, run, select } from '../database/connect';
import { loadRecords } from '../queries/load';
import { Refusal } from '../refusal';
import { cleanHtml, cleanSvg, cleanValue } from '../services/html';
import { pathOf } from '../services/media';
import { modelMoved, plainModel, readModel } from '../services/model';
import { reindex, keptRecords, writeUnique } from '../services/record-parts';
import { recount } from '../services/records';
import { release } from '../services/releases';
import { readTemplates } from '../services/templates';
import { readTheme } from '../services/theme';
import { jsonValues } from './json-values';
import { decode } from './decode';
import type { Progress } from './jobs';
import { zipFiles } from './sources';

/** The archive's own version; see docs/formats/archive.md. */
const VERSION = 1;

const MediaRow = z.strictObject({
  id: z.number().int().positive(),
  name: z.string().min(1).max(255),
  mime: z.string().max(120),
  width: z.number().int().min(0),
  height: z.number().int().min(0),
  alt: z.string().max(500),
  file: z.string().regex(/^[a-z0-9]{1,64}\.[a-z0-9]{2,5}$/),
  size: z.number().int().min(0),
  focalX: z.number().min(0).max(1),
  focalY: z.number().min(0).max(1),
  hash: z.string().max(64).nullable(),
  created: z.iso.datetime(),
});
type MediaRow = z.infer<typeof MediaRow>;

const LinkRow = z.tuple([
  z.string().min(1).max(40),
  z.number().int(),
  z.number().int(),
  z.number().int(),
  z.number().int(),
]);

const Head = z.object({ format: z.literal('plum-thread-archive'), version: z.number().int() });

async function mediaRows(): Promise<MediaRow[]> {
  const rows = await select<Omit<MediaRow, 'created'> & { created: Date }>(
    'SELECT id, name, mime, width, height, alt, file, size, focal_x AS focalX, focal_y AS focalY, hash, created FROM media ORDER BY id',
  );
  return rows.map((row) => ({ ...row, created: row.created.toISOString() }));
}

async function* recordLines(): AsyncGenerator<string> {
  const model = await readModel();
  for (let after = 0; ;) {
    const rows = await select<{ id: number }>('SELECT id FROM records WHERE id > ? ORDER BY id LIMIT 500', [after]);
    if (!rows.length) return;
    after = rows.at(-1)!.id;
    const records = await loadRecords(
      model,
      rows.map((row) => row.id),
      { drafts: true },
    );
    for (const record of records.sort((a, b) => a.id - b.id)) {
      const fields = model.type(record.typeId)?.fields ?? [];
      // Relations are links of their own, and values of fields that are gone stay behind.
      const values = Object.fromEntries(
        fields.flatMap((field) =>
          leadsOf(field) === 'record' || record.values[field.id] === undefined
            ? []
            : [[field.id, record.values[field.id]]],
        ),
      );
      yield `${JSON.stringify({ ...record, values })}\n`;
    }
  }
}

async function* linkLines(): AsyncGenerator<string> {
  const rows = await select<{ r: string; a: number; b: number; pa: number; pb: number }>(
    'SELECT relation_id AS r, a_id AS a, b_id AS b, a_position AS pa, b_position AS pb FROM links ORDER BY relation_id, a_id, b_id',
  );
  for (const { r, a, b, pa, pb } of rows) yield `${JSON.stringify([r, a, b, pa, pb])}\n`;
}

/** Everything there is, as a zip: model, records, links, pictures and files, templates, theme. */
export async function* writeArchive(): AsyncGenerator<Uint8Array> {
  const zip = new ZipFile();
  const add = (name: string, value: unknown) => zip.addBuffer(Buffer.from(`${JSON.stringify(value, null, 1)}\n`), name);
  const [model, media, templates, { theme, version }] = await Promise.all([
    plainModel(),
    mediaRows(),
    readTemplates(),
    readTheme(),
  ]);
  add('archive.json', { format: 'plum-thread-archive', version: VERSION });
  add('model.json', model);
  add('media.json', media);
  add('templates.json', templates);
  if (version) add('theme.json', theme);
  zip.addReadStream(Readable.from(recordLines(), { objectMode: false }), 'records.jsonl');
  zip.addReadStream(Readable.from(linkLines(), { objectMode: false }), 'links.jsonl');
  for (const row of media)
    if (
      await stat(pathOf(row.file)).then(
        () => true,
        () => false,
      )
    )
      // Pictures are packed already.
      zip.addReadStream(createReadStream(pathOf(row.file)), `media/${row.file}`, {
        compress: !row.mime.startsWith('image/') || row.mime === 'image/svg+xml',
      });
  zip.end();
  yield* zip.outputStream as unknown as AsyncIterable<Uint8Array>;
}

const wrong = (at: string, what: string, fix?: string) =>
  new Refusal(422, 'The archive cannot be read.', [{ at, what, ...(fix ? { fix } : {}) }]);

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
  if (!result.success) throw new Refusal(422, 'The archive cannot be read.', problemsOf(result.error, at).slice(0, 20));
  return result.data;
}

export interface ArchiveResult {
  types: number;
  records: number;
  links: number;
  media: number;
  templates: number;
}

/** Fills an empty database from an archive, with the same numbers. All or nothing, but for files, which are harmless alone. */
export async function readArchive(path: string, progress: Progress): Promise<ArchiveResult> {
  const result: ArchiveResult = { types: 0, records: 0, links: 0, media: 0, templates: 0 };
  const parts = new Map<string, unknown>();
  for await (const { name, bytes } of zipFiles(path, {
    each: 200_000_000,
    all: LIMITS.all,
    wanted: (n) => /^(archive|model|media|templates|theme)\.json$/.test(n),
  }))
    parts.set(name, await json(bytes, name));
  const head = Head.safeParse(parts.get('archive.json'));
  if (!head.success)
    throw wrong(
      'archive.json',
      'This zip is no archive of Plum Thread.',
      'Choose a file that was exported as an archive.',
    );
  if (head.data.version > VERSION)
    throw wrong(
      'archive.json',
      `This archive has version ${head.data.version}; up to ${VERSION} is understood.`,
      'Use a newer Plum Thread.',
    );
  const model = parsed(ModelSchema as unknown as z.ZodType<Model>, parts.get('model.json'), 'model.json');
  for (const type of model.types) {
    const whole = parseContentType(type);
    if (!whole.ok)
      throw new Refusal(
        422,
        'The archive cannot be read.',
        whole.problems.map((p) => ({ ...p, at: `model.json, ${type.name}, ${p.at}` })),
      );
  }
  const media = parsed(z.array(MediaRow), parts.get('media.json') ?? [], 'media.json');
  const templates = parsed(z.array(TemplateSchema), parts.get('templates.json') ?? [], 'templates.json');
  for (const template of templates) {
    const whole = parseTemplate(template);
    if (!whole.ok)
      throw new Refusal(
        422,
        'The archive cannot be read.',
        whole.problems.map((p) => ({ ...p, at: `templates.json, ${template.name}, ${p.at}` })),
      );
  }
  const theme = parts.has('theme.json') ? parsed(ThemeSchema, parts.get('theme.json'), 'theme.json') : undefined;

  const files = new Map(media.map((row) => [`media/${row.file}`, row]));
  for await (const { name, bytes } of zipFiles(path, { ...LIMITS, wanted: (n) => files.has(n) })) {
    if (progress.signal.aborted) return result;
    const target = pathOf((files.get(name) as MediaRow).file);
    await mkdir(dirname(target), { recursive: true });
    if (files.get(name)?.mime === 'image/svg+xml') {
      const pieces: Uint8Array[] = [];
      for await (const piece of bytes) pieces.push(piece);
      await writeFile(target, cleanSvg(Buffer.concat(pieces).toString('utf8')));
    } else await pipeline(bytes, createWriteStream(target));
    result.media++;
    progress.report(result.media, media.length + 1);
  }

  await inTransaction(async (transaction) => {
    const [full] = await select(
      'SELECT id FROM content_types UNION ALL SELECT id FROM taxonomies LIMIT 1',
      [],
      transaction,
    );
    if (full)
      throw new Refusal(409, 'An archive goes into an empty database.', [
        {
          at: '',
          what: 'There is content already.',
          fix: 'Start with an empty data folder: npm run demo -- --empty --data DIR.',
        },
      ]);
    Object.assign(result, { records: 0, links: 0 });
    const { name, tagline, locale, timeZone } = model.site;
    await run(
      'UPDATE sites SET name = ?, tagline = ?, locale = ?, time_zone = ? WHERE id = 1',
      [name, tagline, locale, timeZone],
      transaction,
    );
    const insert = async (into: string, rows: unknown[][]) => {
      for (let i = 0; i < rows.length; i += 1000)
        await run(`INSERT INTO ${into} VALUES ?`, [rows.slice(i, i + 1000)], transaction);
    };
    await insert(
      'media (id, name, mime, width, height, alt, file, size, focal_x, focal_y, hash, created)',
      media.map((m) => [
        m.id,
        m.name,
        m.mime,
        m.width,
        m.height,
        m.alt,
        m.file,
        m.size,
        m.focalX,
        m.focalY,
        m.hash,
        new Date(m.created),
      ]),
    );
    await insert(
      'taxonomies (id, `key`, name, tree, position)',
      model.taxonomies.map((t, i) => [t.id, t.key, t.name, t.tree, i]),
    );
    await insert(
      'terms (id, taxonomy_id, parent_id, name, slug, position, description, picture_id)',
      model.terms.map((t) => [t.id, t.taxonomyId, null, t.name, t.slug, t.position, t.description, t.pictureId]),
    );
    for (const term of model.terms)
      if (term.parentId)
        await run('UPDATE terms SET parent_id = ? WHERE id = ?', [term.parentId, term.id], transaction);
    await insert(
      'authors (id, name, slug, about, picture_id)',
      model.authors.map((a) => [a.id, a.name, a.slug, cleanHtml(a.about), a.pictureId]),
    );
    await insertTypes(model, transaction);
    await modelMoved(transaction);
    const now = await readModel(transaction);
    for await (const { name: part, bytes } of zipFiles(path, { ...LIMITS, wanted: (n) => n === 'records.jsonl' })) {
      let rows: unknown[][] = [];
      const terms: unknown[][] = [];
      for await (const { value, line } of jsonValues(decode(bytes, 'utf-8'))) {
        const record = parsed(RecordSchema, value, `${part}, line ${line}`);
        const type = now.type(record.typeId);
        if (!type) throw wrong(`${part}, line ${line}`, `There is no content type ${record.typeId}.`);
        const known = type.fields.flatMap((field): [string, unknown][] =>
          record.values[field.id] === undefined ? [] : [[field.id, cleanValue(field, record.values[field.id])]],
        );
        const checked = parseValues(type, Object.fromEntries(known));
        if (!checked.ok)
          throw new Refusal(
            422,
            'The archive cannot be read.',
            checked.problems.map((p) => ({ ...p, at: `${part}, line ${line}, ${p.at}` })),
          );
        const values = Object.fromEntries([...checked.value].map(([field, given]) => [field.id, given]));
        rows.push([
          record.id,
          record.typeId,
          record.title,
          record.slug,
          record.status,
          new Date(record.created),
          new Date(record.changed),
          record.published && new Date(record.published),
          JSON.stringify(values),
          record.version,
          record.authorId,
          record.generated,
        ]);
        for (const [i, term] of record.terms.entries()) terms.push([record.id, term, i]);
        result.records++;
        if (rows.length === 500) {
          await insertRecordRows(rows, transaction);
          rows = [];
          progress.report(result.media + result.records);
          if (progress.signal.aborted) throw new Refusal(409, 'The import was cancelled.');
        }
      }
      await insertRecordRows(rows, transaction);
      await insert('record_terms (record_id, term_id, position)', terms);
    }
    for await (const { bytes } of zipFiles(path, { ...LIMITS, wanted: (n) => n === 'links.jsonl' })) {
      let rest = '';
      let rows: unknown[][] = [];
      const take = async (text: string) => {
        if (!text.trim()) return;
        let value: unknown;
        try {
          value = JSON.parse(text) as unknown;
        } catch {
          throw wrong(`links.jsonl, line ${result.links + 1}`, 'This is not JSON.');
        }
        rows.push(parsed(LinkRow, value, `links.jsonl, line ${result.links + 1}`));
        result.links++;
        if (rows.length === 1000) {
          await insert('links (relation_id, a_id, b_id, a_position, b_position)', rows);
          rows = [];
        }
      };
      for await (const piece of decode(bytes, 'utf-8')) {
        const lines = (rest + piece).split('\n');
        rest = lines.pop() ?? '';
        for (const line of lines) await take(line);
      }
      await take(rest);
      await insert('links (relation_id, a_id, b_id, a_position, b_position)', rows);
    }
    for (const type of now.types) {
      await reindex(type, transaction);
      if (type.fields.some((field) => field.unique)) {
        const ids = await select<{ id: number }>('SELECT id FROM records WHERE type_id = ?', [type.id], transaction);
        for (let i = 0; i < ids.length; i += 500)
          await writeUnique(
            type,
            await keptRecords(
              ids.slice(i, i + 500).map((row) => row.id),
              transaction,
            ),
            transaction,
          );
      }
    }
    await recount(transaction);
    await insert(
      'named_rules (id, name, type_id, rule, version)',
      model.rules.map((r) => [r.id, r.name, r.typeId, JSON.stringify(r.rule), r.version]),
    );
    await insert(
      'menus (id, name, entries, position, version)',
      model.menus.map((m, i) => [m.id, m.name, JSON.stringify(m.entries), i, m.version]),
    );
    if (theme) await insert('themes (id, tokens, version)', [[1, JSON.stringify(theme), 1]]);
    await insert(
      'templates (id, name, purpose, serves, excepted, `order`, tree, version)',
      templates.map((t) => [
        t.id,
        t.name,
        t.purpose,
        JSON.stringify(t.serves),
        t.except ? JSON.stringify(t.except) : null,
        t.order,
        JSON.stringify(t.tree),
        t.version,
      ]),
    );
  });
  // What was designed is seen at once, as it was where it came from.
  if (templates.length) await release({ note: 'From an archive' });
  result.types = model.types.length;
  result.templates = templates.length;
  return result;
}

async function insertRecordRows(rows: unknown[][], transaction: Transaction): Promise<void> {
  if (rows.length)
    await run(
      'INSERT INTO records (id, type_id, title, slug, status, created, changed, published, `values`, version, author_id, is_generated) VALUES ?',
      [rows],
      transaction,
    );
}

async function insertTypes(model: Model, transaction: Transaction): Promise<void> {
  for (const [i, type] of model.types.entries()) {
    await run(
      'INSERT INTO content_types (id, `key`, name, plural, base, position, taxonomy_ids, description, address, structured) VALUES (?)',
      [
        [
          ...[type.id, type.key, type.name, type.plural, type.base, i, JSON.stringify(type.taxonomyIds)],
          ...[type.description ?? '', type.address ?? null],
          type.structured ? JSON.stringify(type.structured) : null,
        ],
      ],
      transaction,
    );
    for (const [position, field] of type.fields.entries())
      await run(
        'INSERT INTO fields (id, type_id, `key`, label, kind, help, required, settings, position, is_unique, tab, initial) VALUES (?)',
        [
          [
            field.id,
            type.id,
            field.key,
            field.label,
            field.kind,
            field.help,
            field.required,
            JSON.stringify(field.settings),
            position,
            field.unique,
            field.tab,
            field.initial === undefined ? null : JSON.stringify({ value: field.initial }),
          ],
        ],
        transaction,
      );
  }
}
