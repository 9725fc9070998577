import { createWriteStream, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { closeDatabase, select } from '../../src/lib/server/database/connect';
import { readBackup } from '../../src/lib/server/exchange/read-backup';
import { writeBackup } from '../../src/lib/server/exchange/write-backup';
import { zipFiles } from '../../src/lib/server/exchange/sources';
import { saveAuthor } from '../../src/lib/server/services/authors';
import { addBytes, changeMedia, readOriginal } from '../../src/lib/server/services/media';
import { saveSite } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { createTemplate } from '../../src/lib/server/services/templates';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { dump, saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { field } from '../support/world';

const progress = { signal: new AbortController().signal, report: () => undefined };

async function fill(): Promise<void> {
  await saveSite({ name: 'A & B', tagline: 'x', locale: 'de-DE', timeZone: 'Europe/Berlin' });
  await saveModel();
  await saveContentType({
    id: 'box',
    key: 'box',
    name: 'Box',
    plural: 'Boxes',
    base: 'boxes',
    taxonomyIds: ['area'],
    fields: [
      { ...field('code', 'text'), unique: true, initial: 'none', tab: 'More' },
      field('body', 'richtext'),
      field('shots', 'pictures'),
      field('in', 'rows', {
        fields: [
          field('what', 'text'),
          field('from', 'relation', { relationId: 'f', side: 'a', many: false, typeIds: ['person'] }),
          field('deep', 'rows', { fields: [field('n', 'number')] }),
        ],
      }),
    ],
  });
  const picture = await addBytes(
    'ä.svg',
    Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"><rect width="4" height="4"/></svg>'),
    'Alt',
  );
  await changeMedia(picture.id, { focalX: 0.25 });
  const file = await addBytes('notes.txt', Buffer.from('Some notes'));
  const author = await saveAuthor({ name: 'Ada', about: '<p>x</p>', pictureId: picture.id });
  const gone = await createRecord('person', { title: 'Gone' });
  const people = [
    await createRecord('person', { title: 'P', status: 'published' }),
    await createRecord('person', { title: 'Q' }),
  ];
  await deleteRecords([gone.id]);
  const ways = [
    await createRecord('way', { title: 'W1' }),
    await createRecord('way', { title: 'W2', values: { km: 0 } }),
  ];
  for (let i = 0; i < 5; i++)
    await createRecord('house', {
      title: `霧 ${i}`,
      status: i % 2 ? 'published' : 'draft',
      authorId: i ? author.id : null,
      terms: i ? ['south', 'peak'] : [],
      values: { height: i, photo: picture.id, keeper: [people[i % 2]!.id], ways: ways.map((w) => w.id).reverse() },
    });
  await createRecord(
    'box',
    {
      title: 'Box',
      values: {
        code: 'B',
        body: `<p>a</p><img src="/media/${picture.id}/original" />`,
        shots: [picture.id, file.id],
        in: [{ what: 'x', from: [people[0]!.id], deep: [{ n: 0 }] }],
      },
    },
    { created: '2020-01-01T00:00:00Z', generated: true },
  );
  await createTemplate({
    name: 'Houses',
    purpose: 'record',
    typeId: 'house',
    tree: treeFrom({ kind: 'text', slots: { text: boundTo('record', ['@title']) } }),
  });
}

const bytesOf = async () => {
  const pieces: Uint8Array[] = [];
  for await (const piece of writeBackup()) pieces.push(piece);
  return Buffer.concat(pieces);
};
const fails = (path: string) => refused(readBackup(path, progress));

describe('a backup of everything', () => {
  it('read into an empty database gives the same database', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'plum-thread-backup-'));
    const path = join(folder, 'all.zip');
    let drop = await freshDatabase();
    await fill();
    const before = await dump();
    writeFileSync(path, await bytesOf());
    // A full database is left alone.
    expect(await fails(path)).toMatchObject({ status: 409 });
    expect(await dump()).toEqual(before);
    await drop();
    await closeDatabase();

    drop = await freshDatabase();
    const whole = await bytesOf();
    for (const [name, bytes] of [
      ['cut.zip', whole.subarray(0, whole.length - 30)],
      ['none.zip', Buffer.from('no zip')],
    ] as const) {
      writeFileSync(join(folder, name), bytes);
      expect(await fails(join(folder, name))).toMatchObject({ status: 422 });
    }
    const result = await readBackup(path, progress);
    expect(result).toEqual({ types: 4, records: 10, links: 15, media: 2, templates: 1 });
    const after = await dump();
    for (const table of Object.keys(before)) expect([table, after[table]]).toEqual([table, before[table]]);
    await drop();
    await closeDatabase();

    // Files from when it was called otherwise are read as well.
    drop = await freshDatabase();
    const former = new ZipFile();
    for await (const { name, bytes } of zipFiles(path, { each: 1e9, all: 1e9, wanted: () => true })) {
      const pieces: Uint8Array[] = [];
      for await (const piece of bytes) pieces.push(piece);
      const content = Buffer.concat(pieces);
      if (name === 'backup.json')
        former.addBuffer(
          Buffer.from(content.toString().replace('plum-thread-backup', 'plum-thread-archive')),
          'archive.json',
        );
      else former.addBuffer(content, name);
    }
    former.end();
    await pipeline(former.outputStream, createWriteStream(join(folder, 'former.zip')));
    expect(await readBackup(join(folder, 'former.zip'), progress)).toEqual(result);
    expect(await dump()).toEqual(after);
    const [text] = await select<{ id: number }>("SELECT id FROM media WHERE name = 'notes.txt'");
    const pieces: Buffer[] = [];
    for await (const piece of (await readOriginal(text!.id)).content as AsyncIterable<Buffer>) pieces.push(piece);
    expect(Buffer.concat(pieces).toString()).toBe('Some notes');
    await drop();
    rmSync(folder, { recursive: true, force: true });
  }, 180_000);
});
