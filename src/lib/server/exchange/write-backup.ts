import { Readable } from 'node:stream';
import { Op } from 'sequelize';
import { ZipFile } from 'yazl';
import { leadsOf } from '../../core/model/field';
import { plainRows, table } from '../database/tables';
import { loadRecords } from '../queries/load';
import { recordIdsOfType } from '../queries/records';
import { files } from '../files/store';
import { plainModel, readModel } from '../services/model';
import { readTemplates } from '../services/templates';
import { readTheme } from '../services/theme';
import { VERSION, type Link, type MediaRow } from './backup-parts';

async function mediaRows(): Promise<MediaRow[]> {
  const rows = plainRows<Omit<MediaRow, 'created'> & { created: Date }>(
    // Whose something is stays here: an archive has no accounts.
    await table('media').findAll({ order: ['id'], attributes: { exclude: ['madeBy'] } }),
  );
  return rows.map((row) => ({ ...row, created: row.created.toISOString() }));
}

async function* recordLines(): AsyncGenerator<string> {
  const model = await readModel();
  for (let after = 0; ;) {
    const rows = plainRows<{ id: number }>(
      await table('records').findAll({
        attributes: ['id'],
        where: { id: { [Op.gt]: after } },
        order: ['id'],
        limit: 500,
      }),
    );
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
  const order = ['relationId', 'aId', 'bId'];
  const others = (await readModel()).beside?.types ?? [];
  const gone = new Set((await Promise.all(others.map((id) => recordIdsOfType(id)))).flat());
  for (const { relationId, aId, bId, aPosition, bPosition } of plainRows<Link>(await table('links').findAll({ order })))
    if (!gone.has(aId) && !gone.has(bId)) yield `${JSON.stringify([relationId, aId, bId, aPosition, bPosition])}\n`;
}

/** Everything there is, as a zip: model, records, links, pictures and files, templates, theme. */
export async function* writeBackup(): AsyncGenerator<Uint8Array> {
  const zip = new ZipFile();
  const add = (name: string, value: unknown) => zip.addBuffer(Buffer.from(`${JSON.stringify(value, null, 1)}\n`), name);
  const [model, media, templates, { theme, version }] = await Promise.all([
    plainModel(),
    mediaRows(),
    readTemplates(),
    readTheme(),
  ]);
  add('backup.json', { format: 'plum-thread-backup', version: VERSION });
  add('model.json', model);
  add('media.json', media);
  add('templates.json', templates);
  if (version) add('theme.json', theme);
  zip.addReadStream(Readable.from(recordLines(), { objectMode: false }), 'records.jsonl');
  zip.addReadStream(Readable.from(linkLines(), { objectMode: false }), 'links.jsonl');
  const there = new Set<string>();
  for await (const { name } of files().list('')) there.add(name);
  for (const row of media)
    if (there.has(row.file))
      zip.addReadStreamLazy(
        `media/${row.file}`,
        // Pictures are packed already.
        { compress: !row.mime.startsWith('image/') || row.mime === 'image/svg+xml' },
        // One file after the other is opened, when it is its turn.
        (give) =>
          void files()
            .read(row.file)
            .then(
              (found) => give(found ? null : new Error(`${row.file} has gone.`), found?.content ?? Readable.from([])),
              (error: unknown) => give(error, Readable.from([])),
            ),
      );
  zip.end();
  yield* zip.outputStream as unknown as AsyncIterable<Uint8Array>;
}
