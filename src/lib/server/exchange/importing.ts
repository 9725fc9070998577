import { bodyOf } from '../../core/content/body';
import { kindOf, roleOfField } from '../../core/model/field';
import { noteActivity } from '../people/activity';
import { rm } from 'node:fs/promises';
import { z } from 'zod';
import { columnsOf, guessTargets } from '../../core/exchange/columns';
import { BODY } from '../../core/exchange/front-matter';
import type { FileView, ImportFormat, ImportResult, Job } from '../../core/exchange/imports';
import { notFound, Refusal } from '../base/refusal';
import { receive } from '../files/local';
import { readModel } from '../services/model';
import { deleteUpload, uploadOf, keepUpload, makeRoomForUpload, withUpload } from './uploads';
import { defineJob, type By } from '../jobs/jobs';
import { readRows } from './read-rows';
import { guessFormat } from './sources';
import { runImport } from './import-run';

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
  async run(request, by, progress) {
    const model = await readModel();
    const type = model.type(request.typeId);
    if (!type) throw notFound('content type with this id');
    const { name, result } = await withUpload(request.file, by?.id ?? 0, async (path, { name, size }) => {
      const into = type.fields.find(({ id }) => id === request.targets[BODY]);
      const bodyAsMarkup = into !== undefined && kindOf(into)?.kind.outside === 'markup';
      const source = { path, name, size, format: request.format, encoding: request.encoding, bodyAsMarkup };
      return { name, result: await runImport(source, { type, model }, request, progress) };
    });
    if (!request.dry && !progress.signal.aborted && !(request.allOrNothing && result.refused))
      await deleteUpload(request.file);
    if (!request.dry && result.added + result.updated)
      await noteActivity({
        by,
        via: 'import',
        operation: 'startImport',
        subject: `type ${type.id}`,
        what: `Brought ${result.added} new and ${result.updated} changed ${type.plural.toLowerCase()} in from “${name}”`,
      });
    return result;
  },
});
