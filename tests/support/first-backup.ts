import { Readable } from 'node:stream';
import { Op } from 'sequelize';
import { leadsOf } from '../../src/lib/core/model/field';
import { plainRows, table } from '../../src/lib/server/database/tables';
import { loadRecords } from '../../src/lib/server/queries/load';
import { recordIdsOfType } from '../../src/lib/server/queries/records';
import { files } from '../../src/lib/server/files/store';
import { plainModel, readModel } from '../../src/lib/server/services/model';
import { readTemplates } from '../../src/lib/server/services/templates';
import { readTheme } from '../../src/lib/server/services/theme';
import { Zip } from '../../src/lib/server/files/zip';
import { FIRST_VERSION, type MediaRow } from '../../src/lib/server/exchange/backup/first-parts';

interface Link {
  relationId: string;
  aId: number;
  bId: number;
  aPosition: number;
  bPosition: number;
}

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

/** A backup of version 1, as it was written once: model, records, links, pictures and files, templates, theme. */
export function writeFirstBackup(): AsyncGenerator<Uint8Array> {
  const zip = new Zip();
  return zip.pieces(async () => {
    const add = (name: string, value: unknown) => zip.add(name, Buffer.from(`${JSON.stringify(value, null, 1)}\n`));
    const [model, media, templates, { theme, version }] = await Promise.all([
      plainModel(),
      mediaRows(),
      readTemplates(),
      readTheme(),
    ]);
    await add('backup.json', { format: 'plum-thread-backup', version: FIRST_VERSION });
    await add('model.json', model);
    await add('media.json', media);
    await add('templates.json', templates);
    if (version) await add('theme.json', theme);
    const lines = (of: AsyncIterable<string>) => () => Promise.resolve(Readable.from(of, { objectMode: false }));
    await zip.add('records.jsonl', lines(recordLines()));
    await zip.add('links.jsonl', lines(linkLines()));
    const there = new Set<string>();
    for await (const { name } of files().list('')) there.add(name);
    for (const { file, mime } of media)
      if (there.has(file))
        await zip.add(
          `media/${file}`,
          // One file after the other is opened, when it is its turn.
          async () => {
            const found = await files().read(file);
            if (!found) throw new Error(`${file} has gone while it was to be copied.`);
            return found.content;
          },
          // Pictures are packed already.
          { compress: !mime.startsWith('image/') || mime === 'image/svg+xml' },
        );
  });
}
