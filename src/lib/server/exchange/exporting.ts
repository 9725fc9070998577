import { recordIdsAfter, slugsOf } from '../queries/records';
import { bodyOf } from '../../core/content/body';
import { roleOfField, subFieldsOf } from '../../core/model/field';
import { stringify } from 'csv-stringify/sync';
import TurndownService from 'turndown';
import type { ContentRecord } from '../../core/schema/record';
import type { Namer } from '../../core/exchange/cells';
import { columnsOf, recordToCells, recordToPlain } from '../../core/exchange/columns';
import { Zip } from '../files/zip';
import { writeFrontMatter } from '../../core/exchange/front-matter';
import { toFeature } from '../../core/exchange/geojson';
import { markdownToHtml } from '../../core/exchange/markdown';
import { typeSchema } from '../../core/exchange/json-schema';
import { isList, kindOf } from '../../core/model/field';
import type { ContentType } from '../../core/schema/model';
import type { Field } from '../../core/model/model';
import type { ModelIndex } from '../../core/model/model-index';
import { loadRecords } from '../queries/load';
import { notFound, Refusal } from '../base/refusal';
import { cleanValue } from '../services/html';
import { readModel } from '../services/model';

interface Exported {
  name: string;
  mime: string;
  content: AsyncIterable<string | Uint8Array>;
}

const BATCH = 500;

/** A type's records by number, a batch at a time. */
async function* batches(
  type: ContentType,
  model: ModelIndex,
): AsyncGenerator<{ records: ContentRecord[]; namer: Namer }> {
  for (let after = 0; ;) {
    const batch = await recordIdsAfter(type.id, after, BATCH);
    const last = batch.at(-1);
    if (last === undefined) return;
    after = last;
    const found = await loadRecords(model, batch, { drafts: true });
    const records = found.sort((a, b) => a.id - b.id);
    const ids = new Set<number>();
    for (const record of records) collectIds(type.fields, record.values, ids);
    const names = await slugsOf([...ids]);
    const slugs = new Map(names.map((row) => [row.id, row.slug]));
    yield { records, namer: { record: (id) => slugs.get(id) ?? `#${id}` } };
  }
}

function collectIds(fields: Field[], values: Record<string, unknown>, into: Set<number>): void {
  for (const field of fields) {
    const value = values[field.id];
    const known = kindOf(field);
    if (!known || value === undefined) continue;
    const list = isList(known) ? (value as unknown[]) : [value];
    if (known.kind.pointsAt === 'record') for (const id of list) into.add(id as number);
    const fields = subFieldsOf(field);
    if (fields) for (const row of list) collectIds(fields, row as Record<string, unknown>, into);
  }
}

/**
 * Keeps spreadsheets from taking a cell for a formula: one that begins with = + - @ and is no number gets an apostrophe
 * (OWASP, "CSV Injection"; from memory). Importing takes it away again.
 */
export const guardCell = (cell: string): string =>
  /^'*[=+\-@\t\r]/.test(cell) && !/^[+-]?\d+(\.\d+)?$/.test(cell) ? `'${cell}` : cell;

async function* csv(type: ContentType, model: ModelIndex): AsyncGenerator<string> {
  // RFC 4180: lines end with CRLF (2.1), cells with quotes, commas or breaks stand in quotes (2.6).
  const write = (rows: string[][]) => stringify(rows, { record_delimiter: '\r\n', bom: false, quoted_match: /[\r\n]/ });
  yield write([columnsOf(type, model).map((column) => column.name)]);
  for await (const { records, namer } of batches(type, model))
    yield write(records.map((record) => recordToCells(record, type, model, namer).map(guardCell)));
}

async function* json(type: ContentType, model: ModelIndex): AsyncGenerator<string> {
  yield '[';
  let first = true;
  for await (const { records, namer } of batches(type, model))
    for (const record of records) {
      yield `${first ? '' : ','}\n${JSON.stringify(recordToPlain(record, type, model, namer))}`;
      first = false;
    }
  yield '\n]\n';
}

async function* geojson(type: ContentType, model: ModelIndex, fieldId: string): AsyncGenerator<string> {
  yield '{"type":"FeatureCollection","features":[';
  let first = true;
  for await (const { records, namer } of batches(type, model))
    for (const record of records) {
      yield `${first ? '' : ','}\n${JSON.stringify(toFeature(record, fieldId, type, model, namer))}`;
      first = false;
    }
  yield '\n]}\n';
}

const turndown = new TurndownService({
  headingStyle: 'atx',
  codeBlockStyle: 'fenced',
  bulletListMarker: '-',
  emDelimiter: '*',
});

/**
 * Markup as Markdown that is read as the same value again: as plain Markdown says it, or, where that has no signs for something of it,
 * as one block of HTML (CommonMark 0.31, 4.6), which Markdown may hold.
 */
export function markdownOf(value: string, isSame: (html: string, value: string) => boolean): string {
  const plain = turndown.turndown(value);
  // A block of HTML ends with an empty line.
  return isSame(markdownToHtml(plain), value) ? plain : `<div>${value.replaceAll('\n', '&#10;')}</div>`;
}

/** One text file for each record; the first field of rich or long text stands below the front matter. */
async function* markdown(type: ContentType, model: ModelIndex): AsyncGenerator<Uint8Array> {
  const body = bodyOf(type);
  const isMarkup = body && kindOf(body)?.kind.outside === 'markup';
  const isSame = (html: string, value: string) => body !== undefined && cleanValue(body, html) === value;
  const zip = new Zip();
  yield* zip.pieces(async () => {
    for await (const { records, namer } of batches(type, model))
      for (const record of records) {
        const { [body?.key ?? '']: _, ...data } = recordToPlain(record, type, model, namer);
        const value = body && record.values[body.id];
        const text = typeof value !== 'string' ? '' : isMarkup ? markdownOf(value, isSame) : value;
        await zip.add(`${record.slug}.md`, Buffer.from(writeFrontMatter(data, text)));
      }
  });
}

export const EXPORT_FORMATS = ['csv', 'json', 'geojson', 'markdown', 'schema'] as const;

/** All records of a type in one of the open formats, or its JSON Schema. */
export async function exportType(typeId: string, format: string): Promise<Exported> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  switch (format) {
    case 'csv':
      return { name: `${type.base}.csv`, mime: 'text/csv; charset=utf-8', content: csv(type, model) };
    case 'json':
      return { name: `${type.base}.json`, mime: 'application/json', content: json(type, model) };
    case 'geojson': {
      const place = type.fields.find((field) => roleOfField(field) === 'map');
      if (!place) throw new Refusal(422, `${type.plural} have no place.`);
      return { name: `${type.base}.geojson`, mime: 'application/geo+json', content: geojson(type, model, place.id) };
    }
    case 'markdown':
      return { name: `${type.base}-markdown.zip`, mime: 'application/zip', content: markdown(type, model) };
    case 'schema':
      return {
        name: `${type.key}.schema.json`,
        mime: 'application/schema+json',
        content: (async function* () {
          yield `${JSON.stringify(typeSchema(type, model), null, 2)}\n`;
        })(),
      };
    default:
      throw notFound(`format “${format}”; there are ${EXPORT_FORMATS.join(', ')}`);
  }
}
