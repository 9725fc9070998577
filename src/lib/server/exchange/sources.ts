import { createReadStream } from 'node:fs';
import { open, stat } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { CsvError, parse } from 'csv-parse';
import yauzl from 'yauzl';
import { depthOf } from '../../core/exchange/json-schema';
import type { ImportFormat } from '../../core/exchange/imports';
import { parseFrontMatter, BODY } from '../../core/exchange/front-matter';
import { fromFeatureCollection } from '../../core/exchange/geojson';
import { markdownToHtml } from '../../core/exchange/markdown';
import { Refusal } from '../base/refusal';
import { decode, encodingOf, type Encoding } from './decode';
import { jsonValues } from './json-values';

/** One row of a file: where it stands there, in words, and what it says by column. */
export interface SourceRow {
  place: string;
  cells: Record<string, unknown>;
}

export interface SourceFile {
  path: string;
  name: string;
  format: ImportFormat;
  encoding?: Encoding;
  /** Whether the text below the front matter goes into a field of markup, and is read as Markdown for it. Else it is taken as it stands. */
  bodyAsMarkup?: boolean;
}

const wrong = (at: string, what: string, fix?: string): Refusal =>
  new Refusal(422, 'The file cannot be read.', [{ at, what, ...(fix ? { fix } : {}) }]);

const MOST_WHOLE = 60_000_000;
const MOST_DEPTH = 60;
const MOST_COLUMNS = 2000;

async function headOf(path: string): Promise<Buffer> {
  const file = await open(path);
  const head = Buffer.alloc(65_536);
  const { bytesRead } = await file.read(head, 0, head.length, 0).finally(() => file.close());
  return head.subarray(0, bytesRead);
}

/** What a file most likely is, by its content and, where that leaves it open, by its name. */
export async function guessFormat(path: string, name: string): Promise<ImportFormat> {
  const head = await headOf(path);
  if (head.subarray(0, 4).toString('latin1') === 'PK\u0003\u0004') return 'markdown';
  const encoding = encodingOf(head);
  const text = new TextDecoder(encoding === 'utf-16' ? (head[0] === 0xfe ? 'utf-16be' : 'utf-16le') : 'utf-8')
    .decode(head)
    .trimStart();
  if (/^\{\s*"type"\s*:\s*"FeatureCollection"/.test(text) || (/^\{/.test(text) && /\.geojson$/i.test(name)))
    return 'geojson';
  if (/^[[{]/.test(text)) return 'json';
  if (/^---\s/.test(text) || /\.(md|markdown)$/i.test(name)) return 'markdown';
  return 'csv';
}

/** The rows of a file, one after the other; the file is never held as a whole, but where its kind asks for it. */
export async function* sourceRows(file: SourceFile, signal?: AbortSignal): AsyncGenerator<SourceRow> {
  const encoding = file.encoding ?? encodingOf(await headOf(file.path));
  if ((await stat(file.path)).size === 0) throw wrong('', 'The file is empty.');
  const rows = { csv: csvRows, json: jsonRows, geojson: geojsonRows, markdown: markdownRows }[file.format](
    file.path,
    encoding,
    file,
  );
  for await (const row of rows) {
    if (signal?.aborted) return;
    const depth = depthOf(row.cells);
    if (depth > MOST_DEPTH)
      throw wrong(
        row.place,
        `This is nested ${depth >= 1000 ? 'more than 1,000' : depth} levels deep; ${MOST_DEPTH} are the most.`,
      );
    yield row;
  }
}

const text = (path: string, encoding: Encoding) =>
  decode(createReadStream(path, { highWaterMark: 256 * 1024 }), encoding);

/** The sign between cells: whichever of four parts the first line into the most. */
function delimiterOf(line: string): string {
  const bare = line.replace(/"[^"]*"/g, '');
  const [best = ','] = [',', ';', '\t', '|'].sort((a, b) => bare.split(b).length - bare.split(a).length);
  return best;
}

/** What was put before a cell so that no spreadsheet takes it for a formula, taken away again; see `guardCell`. */
const unguard = (cell: string): string => (/^'+[=+\-@\t\r]/.test(cell) ? cell.slice(1) : cell);

/** Comma-separated values (RFC 4180); other delimiters are recognised, and a byte order mark is passed over. */
async function* csvRows(path: string, encoding: Encoding): AsyncGenerator<SourceRow> {
  const pieces = text(path, encoding);
  const first = await pieces.next();
  if (first.done) throw wrong('', 'The file is empty.');
  const delimiter = delimiterOf(first.value.split(/\r?\n/, 1)[0] ?? '');
  // Composed, so that an error in reading the bytes ends the rows as one in the rows themselves does.
  const rows = Readable.from(
    (async function* () {
      yield first.value;
      yield* pieces;
    })(),
  ).compose(
    parse({
      delimiter,
      bom: true,
      info: true,
      relax_column_count: true,
      skip_empty_lines: true,
      max_record_size: 6_000_000,
    }),
  ) as AsyncIterable<unknown>;
  let names: string[] | undefined;
  try {
    for await (const entry of rows) {
      const { record, info } = entry as { record: string[]; info: { lines: number } };
      const at = `line ${info.lines}`;
      if (!names) {
        names = record.map((name) => name.trim());
        if (names.length > MOST_COLUMNS)
          throw wrong(
            'line 1',
            `The file has ${names.length} columns; ${MOST_COLUMNS} are the most.`,
            'Take columns away, or check which sign stands between them.',
          );
        const seen = new Set<string>();
        const twice = names.find((name) => name && (seen.has(name) || !seen.add(name)));
        if (twice) throw wrong('line 1', `Two columns are called “${twice}”.`, 'Give one another name.');
        if (names.every((name) => !name))
          throw wrong(
            'line 1',
            'The first line names no columns.',
            'Put the names of the columns into the first line.',
          );
        continue;
      }
      if (record.length > names.length)
        throw wrong(
          at,
          `This line has ${record.length} cells; there are ${names.length} columns.`,
          'Check its quotes and commas.',
        );
      yield {
        place: at,
        cells: Object.fromEntries(names.flatMap((name, i) => (name ? [[name, unguard(record[i] ?? '')]] : []))),
      };
    }
  } catch (error) {
    if (error instanceof CsvError) throw csvProblem(error);
    throw error;
  }
}

function csvProblem(error: CsvError): Refusal {
  const line = `line ${String((error as CsvError & { lines?: number }).lines ?? '?')}`;
  switch (error.code) {
    case 'CSV_MAX_RECORD_SIZE':
      return wrong(
        line,
        'A row here is larger than 6 MB.',
        'Check that the quotes before this line are closed, or shorten the cell.',
      );
    case 'CSV_QUOTE_NOT_CLOSED':
      return wrong(
        line,
        'A quote that was opened is never closed; the file may be cut off.',
        'Close the quote, or save the file again.',
      );
    case 'CSV_INVALID_CLOSING_QUOTE':
    case 'INVALID_OPENING_QUOTE':
      return wrong(
        line,
        'A quote stands where none may be.',
        'Put the whole cell into quotes, and write a quote inside it twice (RFC 4180, 2.7).',
      );
    default:
      return wrong(line, error.message);
  }
}

/** Objects of a JSON array, or one after the other. */
async function* jsonRows(path: string, encoding: Encoding): AsyncGenerator<SourceRow> {
  for await (const { value, line } of jsonValues(text(path, encoding))) {
    if (!value || typeof value !== 'object' || Array.isArray(value))
      throw wrong(`line ${line}`, 'This is no object of names and values.', 'Give an array of objects.');
    yield { place: `line ${line}`, cells: value as Record<string, unknown> };
  }
}

async function* geojsonRows(path: string, encoding: Encoding): AsyncGenerator<SourceRow> {
  if ((await stat(path)).size > MOST_WHOLE)
    throw wrong('', `GeoJSON takes ${MOST_WHOLE / 1_000_000} MB at most.`, 'Split the file.');
  let whole = '';
  for await (const piece of text(path, encoding)) whole += piece;
  let parsed: unknown;
  try {
    parsed = JSON.parse(whole) as unknown;
  } catch (error) {
    throw wrong('', `This is not JSON: ${(error as Error).message}`);
  }
  const rows = fromFeatureCollection(parsed);
  if (!rows.ok) throw new Refusal(422, 'The file cannot be read.', rows.problems);
  for (const [i, cells] of rows.value.entries()) yield { place: `feature ${i + 1}`, cells };
}

/** Levels that Markdown may be nested: far more than anybody reads, and far from what keeps its parser busy for good. */
const MOST_NESTED = 100;

/** The line, from 1, at which text is nested deeper than that, by its quotes, bullets and indentation; 0 where none is. */
export function nestedAt(text: string): number {
  for (const [i, line] of text.split('\n').entries()) {
    let levels = 0;
    let blanks = 0;
    for (let at = 0; at < line.length;) {
      const marker = /^(?:>|[-*+](?=\s)|\d{1,9}[.)](?=\s))/.exec(line.slice(at, at + 12))?.[0];
      if (marker) {
        levels++;
        at += marker.length;
      } else if (line[at] === ' ' || line[at] === '\t') {
        blanks++;
        at++;
      } else break;
      if (levels > MOST_NESTED || blanks > 3 * MOST_NESTED) return i + 1;
    }
  }
  return 0;
}

/** One file with front matter, or a zip of many. The text below stands in the column `body`. */
async function* markdownRows(path: string, encoding: Encoding, file: SourceFile): AsyncGenerator<SourceRow> {
  const zipped = (await headOf(path)).subarray(0, 2).toString('latin1') === 'PK';
  const files = zipped
    ? zipEntries(path, { each: MOST_ENTRY, all: MOST_UNPACKED, wanted: (entry) => /\.(md|markdown)$/i.test(entry) })
    : single(path, encoding, file.name);
  for await (const { name: entry, content } of files) {
    const parsed = parseFrontMatter(content);
    if (!parsed.ok)
      throw new Refusal(
        422,
        'The file cannot be read.',
        parsed.problems.map((p) => ({ ...p, at: `${entry}, line ${p.at}` })),
      );
    const { [BODY]: body, ...cells } = parsed.value;
    const deep = file.bodyAsMarkup && typeof body === 'string' ? nestedAt(body) : 0;
    if (deep)
      throw wrong(
        `${entry}, line ${deep} of its text`,
        `This is nested more than ${MOST_NESTED} levels deep.`,
        'Take quotes, bullets or blanks away.',
      );
    const slug = entry.replace(/^.*\//, '').replace(/\.(md|markdown)$/i, '');
    yield {
      place: entry,
      cells: {
        ...(cells.title === undefined ? { title: slug.replace(/[-_]+/g, ' ') } : {}),
        ...(cells.slug === undefined && zipped ? { slug } : {}),
        ...cells,
        ...(typeof body === 'string' && { [BODY]: file.bodyAsMarkup ? markdownToHtml(body) : body }),
      },
    };
  }
}

async function* single(path: string, encoding: Encoding, name: string) {
  if ((await stat(path)).size > MOST_ENTRY) throw wrong('', `A text file takes ${MOST_ENTRY / 1_000_000} MB at most.`);
  let content = '';
  for await (const piece of text(path, encoding)) content += piece;
  yield { name, content };
}

/** Bytes. */
const MOST_ENTRY = 10_000_000;
const MOST_UNPACKED = 1_000_000_000;
const MOST_ENTRIES = 200_000;

interface ZipLimits {
  /** Bytes of one entry, and of all together, unpacked. */
  each: number;
  all: number;
  wanted(name: string): boolean;
}

/** The text of a zip's entries. Sizes are counted while unpacking, whatever the zip says of itself. */
export async function* zipEntries(path: string, limits: ZipLimits): AsyncGenerator<{ name: string; content: string }> {
  for await (const { name, bytes } of zipFiles(path, limits)) {
    const content = Buffer.concat(await collect(bytes));
    try {
      yield { name, content: new TextDecoder('utf-8', { fatal: true }).decode(content) };
    } catch {
      throw wrong(name, 'This entry is not UTF-8.', 'Save it as UTF-8.');
    }
  }
}

async function collect(stream: AsyncIterable<Uint8Array>): Promise<Uint8Array[]> {
  const pieces: Uint8Array[] = [];
  for await (const piece of stream) pieces.push(piece);
  return pieces;
}

/** A zip's entries as streams, one after the other. */
export async function* zipFiles(
  path: string,
  limits: ZipLimits,
): AsyncGenerator<{ name: string; bytes: AsyncIterable<Uint8Array> }> {
  let zip: yauzl.ZipFile;
  try {
    zip = await new Promise<yauzl.ZipFile>((done, failed) =>
      yauzl.open(
        path,
        { lazyEntries: true, autoClose: false, validateEntrySizes: true, strictFileNames: true },
        (error, opened) => (error ? failed(error) : done(opened)),
      ),
    );
  } catch (error) {
    throw wrong('', `The zip cannot be opened: ${(error as Error).message}`, 'It may be cut off; make it again.');
  }
  let all = 0;
  try {
    if (zip.entryCount > MOST_ENTRIES)
      throw wrong('', `The zip has ${zip.entryCount} entries; ${MOST_ENTRIES} are the most.`);
    for (;;) {
      const entry = await new Promise<yauzl.Entry | undefined>((done, failed) => {
        zip.once('entry', done);
        zip.once('end', () => done(undefined));
        zip.once('error', (error: Error) => failed(wrong('', `The zip cannot be read: ${error.message}`)));
        zip.readEntry();
      });
      zip.removeAllListeners('entry');
      zip.removeAllListeners('end');
      zip.removeAllListeners('error');
      if (!entry) return;
      const name = entry.fileName;
      if (name.endsWith('/') || !limits.wanted(name)) continue;
      const stream = await new Promise<Readable>((done, failed) =>
        zip.openReadStream(entry, (error, opened) =>
          error ? failed(wrong(name, `This entry cannot be unpacked: ${error.message}`)) : done(opened),
        ),
      );
      const counted = async function* () {
        let own = 0;
        try {
          for await (const piece of stream as AsyncIterable<Uint8Array>) {
            own += piece.length;
            all += piece.length;
            if (own > limits.each)
              throw wrong(name, `Unpacked, this entry is larger than ${limits.each / 1_000_000} MB.`);
            if (all > limits.all) throw wrong(name, `Unpacked, the zip is larger than ${limits.all / 1_000_000} MB.`);
            yield piece;
          }
        } catch (error) {
          if (error instanceof Refusal) throw error;
          throw wrong(
            name,
            `This entry cannot be unpacked: ${(error as Error).message}`,
            'The zip may be damaged; make it again.',
          );
        } finally {
          stream.destroy();
        }
      };
      yield { name, bytes: counted() };
    }
  } finally {
    zip.close();
  }
}
