import { createWriteStream, mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { pipeline } from 'node:stream/promises';
import { execFile } from 'node:child_process';
import { tmpdir } from 'node:os';
import { promisify } from 'node:util';
import { join } from 'node:path';
import { afterAll, afterEach, describe, expect, it } from 'vitest';
import { ZipFile } from 'yazl';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { run, select } from '../../src/lib/server/database/connect';
import { BACKUP_TABLES, LEFT_OUT } from '../../src/lib/server/exchange/backup/tables';
import { createAccount } from '../../src/lib/server/people/accounts';
import { noteActivity } from '../../src/lib/server/people/activity';
import { noteCreator } from '../../src/lib/server/queries/own';
import { release } from '../../src/lib/server/services/releases';
import { deleteTaxonomy } from '../../src/lib/server/services/taxonomies';
import { readBackup } from '../../src/lib/server/exchange/backup/read';
import { writeBackup } from '../../src/lib/server/exchange/backup/write';
import { zipFiles } from '../../src/lib/server/exchange/sources';
import { addBytes, readOriginal } from '../../src/lib/server/services/media';
import { createRecord } from '../../src/lib/server/services/records';
import { deleteRecords } from '../../src/lib/server/services/record-removal';
import { createTemplate, readTemplates, saveTemplate } from '../../src/lib/server/services/templates';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { dump, saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { field } from '../support/world';
import { writeFirstBackup } from '../support/first-backup';
import { addRedirects, changeMedia, saveAuthor, saveTaxonomy, saveTerm, shareDraft } from '../support/services';
import { saveSite } from '../support/services';
import { environmentOf } from '../support/server';

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

const bytesOf = async (backup: AsyncIterable<Uint8Array> = writeBackup()) => {
  const pieces: Uint8Array[] = [];
  for await (const piece of backup) pieces.push(piece);
  return Buffer.concat(pieces);
};
const fails = (path: string) => refused(readBackup(path, progress));
/** Parts of a zip by their names. */
const partsOf = async (path: string): Promise<Map<string, Buffer>> => {
  const parts = new Map<string, Buffer>();
  for await (const { name, bytes } of zipFiles(path, { each: 1e9, all: 1e9, wanted: () => true })) {
    const pieces: Uint8Array[] = [];
    for await (const piece of bytes) pieces.push(piece);
    parts.set(name, Buffer.concat(pieces));
  }
  return parts;
};
const zipOf = async (path: string, parts: Iterable<readonly [string, Buffer]>) => {
  const zip = new ZipFile();
  for (const [name, content] of parts) zip.addBuffer(content, name);
  zip.end();
  await pipeline(zip.outputStream, createWriteStream(path));
};

/** Every table that a backup has, as MariaDB gives it, without what lets people in. */
async function everything(withPeople = false): Promise<Record<string, unknown[]>> {
  const out: Record<string, unknown[]> = {};
  for (const { name, secrets = [], secret } of BACKUP_TABLES) {
    if (secret && !withPeople) continue;
    // Counts are parted so that writers need not wait for each other; what counts is their sum.
    const rows = await select<Record<string, unknown>>(
      name === 'record_counts'
        ? 'SELECT type_id, status, SUM(n) AS n FROM record_counts GROUP BY type_id, status HAVING SUM(n) <> 0'
        : `SELECT * FROM ${name}`,
    );
    const without = new Set(['model_version', ...(withPeople ? [] : secrets)]);
    out[name] = rows
      .map((row) => JSON.stringify(Object.fromEntries(Object.entries(row).filter(([key]) => !without.has(key)))))
      .sort();
  }
  return out;
}

const drops: (() => Promise<void>)[] = [];
/** A database of its own; whatever was there before is gone. */
async function place(): Promise<void> {
  await leave();
  drops.push(await freshDatabase());
}
async function leave(): Promise<void> {
  for (const drop of drops.splice(0)) await drop();
}
afterEach(leave);

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-backup-'));
const path = join(folder, 'all.zip');
afterAll(() => rmSync(folder, { recursive: true, force: true }));

/** What stands around content: releases, versions, removed things, redirects, links, people. */
async function fillAround(): Promise<void> {
  const owner = await createAccount(
    { name: 'Ada', email: 'ada@huts.example', role: 'owner', mayPublish: true },
    { password: 'seven soups at noon' },
  );
  const author = await createAccount({ name: 'Bo', email: 'bo@huts.example', role: 'author', mayPublish: false });
  const [record] = await select<{ id: number }>("SELECT id FROM records WHERE type_id = 'house' LIMIT 1");
  await noteCreator('records', [record!.id], author.id);
  await run('INSERT INTO record_shares (record_id, account_id) VALUES (?, ?)', [record!.id, author.id]);
  await release({ note: 'First' });
  await saveTaxonomy({ id: 'gone', key: 'gone', name: 'Gone', tree: true });
  await saveTerm({
    id: 'kept',
    taxonomyId: 'gone',
    name: 'Kept',
    slug: 'kept',
    parentId: null,
    position: 0,
    description: '',
    pictureId: null,
  });
  await saveTerm({
    id: 'below',
    taxonomyId: 'gone',
    name: 'Below',
    slug: 'below',
    parentId: 'kept',
    position: 0,
    description: '',
    pictureId: null,
  });
  await release({ note: 'With a taxonomy' });
  // Visitors see it, with its terms, until the next release.
  await deleteTaxonomy('gone');
  await addRedirects([{ path: '/old', target: '/houses/' }]);
  await shareDraft({ note: 'For Bo', days: 9 });
  await noteActivity({ by: owner, via: 'screen', operation: 'x', what: 'Did something' });
  const tree = treeFrom({ kind: 'text', slots: { text: { fixed: 'Changed' } } });
  const [template] = await readTemplates();
  await saveTemplate(template!.id, { ...template!, tree }, { sitting: 's', edits: ['Changed a word'] });
}

describe('a backup of everything', () => {
  it('has every table, or says why it has not', async () => {
    await place();
    const tables = await select<{ name: string }>(
      'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE()',
    );
    const known = new Set([...BACKUP_TABLES.map(({ name }) => name), ...Object.keys(LEFT_OUT)]);
    expect(tables.map(({ name }) => name).filter((name) => !known.has(name))).toEqual([]);
  });

  it('restored into an empty place gives the same rows, the same release before visitors, and releases nothing', async () => {
    await place();
    await fill();
    await fillAround();
    const before = await everything();
    const seen = await select('SELECT release_id FROM sites');
    expect(before.terms!.length).toBe(6);
    writeFileSync(path, await bytesOf());
    // A full place is left alone.
    expect(await fails(path)).toMatchObject({ status: 409 });
    expect(await everything()).toEqual(before);
    const people = await bytesOf(writeBackup({ withPeople: true }));
    writeFileSync(join(folder, 'people.zip'), people);
    const withPeople = await everything(true);

    await place();
    const whole = await bytesOf();
    for (const [name, bytes] of [
      ['cut.zip', whole.subarray(0, whole.length - 30)],
      ['none.zip', Buffer.from('no zip')],
    ] as const) {
      writeFileSync(join(folder, name), bytes);
      expect(await fails(join(folder, name))).toMatchObject({ status: 422 });
    }
    const result = await readBackup(path, progress);
    expect(result).toMatchObject({
      types: 4,
      records: 10,
      links: 15,
      media: 2,
      templates: 1,
      releases: 3,
      withPeople: false,
    });
    const after = await everything();
    for (const table of Object.keys(before)) expect([table, after[table]]).toEqual([table, before[table]]);
    expect(await select('SELECT release_id FROM sites')).toEqual(seen);
    // Nothing that lets anybody in was in it.
    expect((await partsOf(path)).get('tables/accounts.jsonl')!.toString()).not.toContain('argon2');
    expect(await select('SELECT id FROM accounts WHERE password IS NOT NULL')).toEqual([]);
    const [text] = await select<{ id: number }>("SELECT id FROM media WHERE name = 'notes.txt'");
    const pieces: Buffer[] = [];
    for await (const piece of (await readOriginal(text!.id)).content as AsyncIterable<Buffer>) pieces.push(piece);
    expect(Buffer.concat(pieces).toString()).toBe('Some notes');
    // And the next one is the same.
    writeFileSync(join(folder, 'again.zip'), await bytesOf());
    const [first, second] = [await partsOf(path), await partsOf(join(folder, 'again.zip'))];
    for (const [name, content] of first)
      if (name !== 'backup.json')
        expect([name, second.get(name)?.toString('base64')]).toEqual([name, content.toString('base64')]);

    await place();
    expect(await readBackup(join(folder, 'people.zip'), progress)).toMatchObject({ withPeople: true });
    expect(await everything(true)).toEqual(withPeople);
  });

  it('leaves whoever is there, and brings the others with what they did', async () => {
    await place();
    const { id } = await createAccount(
      { name: 'Zoe', email: 'zoe@huts.example', role: 'owner', mayPublish: true },
      { password: 'seven soups at noon' },
    );
    await readBackup(path, progress);
    const all = await select<{ id: number; email: string; role: string }>(
      'SELECT id, email, role FROM accounts ORDER BY email',
    );
    expect(all.map(({ email, role }) => [email, role])).toEqual([
      ['ada@huts.example', 'owner'],
      ['bo@huts.example', 'author'],
      ['zoe@huts.example', 'owner'],
    ]);
    expect(all.find(({ email }) => email.startsWith('zoe'))!.id).toBe(id);
    const bo = all.find(({ email }) => email.startsWith('bo'))!.id;
    expect(await select('SELECT DISTINCT made_by AS by_whom FROM records WHERE made_by IS NOT NULL')).toEqual([
      { by_whom: bo },
    ]);
    expect(await select('SELECT account_id AS id FROM record_shares')).toEqual([{ id: bo }]);
  });

  it('is refused with the list where a zip has other names, or is not as it was written', async () => {
    await place();
    const parts = await partsOf(path);
    const changed = async (change: (parts: Map<string, Buffer>) => void) => {
      const own = new Map(parts);
      change(own);
      await zipOf(join(folder, 'changed.zip'), own);
      const { status, problems } = await fails(join(folder, 'changed.zip'));
      expect(await select('SELECT id FROM content_types')).toEqual([]);
      return [status, ...problems.map(({ at }) => at).slice(0, 2)];
    };
    const text = (name: string, change: (text: string) => string) => (own: Map<string, Buffer>) =>
      own.set(name, Buffer.from(change(own.get(name)!.toString())));
    expect(
      await changed((own) => {
        own.set('tables/sessions.jsonl', Buffer.from('[]'));
        own.set('notes.txt', Buffer.from('x'));
      }),
    ).toEqual([422, 'tables/sessions.jsonl', 'notes.txt']);
    expect(await changed((own) => own.set('tables/passkeys.jsonl', Buffer.from('["id"]\n')))).toEqual([
      422,
      'tables/passkeys.jsonl',
    ]);
    expect(await changed((own) => void own.delete('tables/links.jsonl'))).toEqual([422, 'tables/links.jsonl']);
    expect(await changed(text('tables/records.jsonl', (all) => all.slice(0, -5)))).toEqual([
      422,
      'tables/records.jsonl, line 11',
    ]);
    expect(await changed(text('tables/records.jsonl', (all) => all.replace('"title"', '"tilte"')))).toEqual([
      422,
      'tables/records.jsonl, line 1',
    ]);
    expect(await changed(text('tables/terms.jsonl', (all) => all.replaceAll('"area"', '"nowhere"')))).toEqual([
      422,
      'tables/terms.jsonl',
    ]);
    expect(await changed(text('tables/templates.jsonl', (all) => all.replace('\\"kind\\"', '\\"sort\\"')))).toEqual([
      422,
      expect.stringContaining('tables/templates.jsonl, line 2'),
      expect.stringContaining('tables/templates.jsonl, line 2'),
    ]);
    expect(
      await changed(text('backup.json', (all) => all.replace(/"schema": "[^"]*"/, '"schema": "9999-later"'))),
    ).toEqual([422, 'backup.json']);
    const [file] = [...parts.keys()].filter((name) => name.startsWith('media/') && !name.endsWith('.svg'));
    expect(await changed((own) => own.set(file!, Buffer.from('Other notes')))).toEqual([422, file]);
    // Markup goes through the door that all markup goes through.
    await zipOf(
      join(folder, 'script.zip'),
      new Map(parts).set(
        'tables/records.jsonl',
        Buffer.from(
          parts.get('tables/records.jsonl')!.toString().replace('<p>a</p>', '<p>a</p><script>alert(1)</script>'),
        ),
      ),
    );
    await readBackup(join(folder, 'script.zip'), progress);
    expect(JSON.stringify(await select('SELECT `values` FROM records'))).not.toContain('script');
  });

  it('is of one moment, while fifty records a second are written', async () => {
    await place();
    await fill();
    await fillAround();
    let writing = true;
    let count = 0;
    const write = async () => {
      const [person] = await select<{ id: number }>("SELECT id FROM records WHERE type_id = 'person' LIMIT 1");
      for (; writing; count++)
        await createRecord('house', {
          title: `W ${count}`,
          terms: ['peak'],
          values: { height: count, keeper: [person!.id] },
        });
    };
    let writers: Promise<unknown> | undefined;
    let moment: Record<string, unknown[]> = {};
    const reports: number[] = [];
    const zip = writeBackup({
      // A second read of the same moment: nobody writes yet.
      begun: async () => {
        moment = await everything();
        writers = Promise.all([write(), write(), write()]);
        await expect.poll(() => count, { timeout: 300_000 }).toBeGreaterThan(20);
      },
      tell: ({ done, total, bytes }) => reports.push(done, total, bytes),
    });
    const pieces: Uint8Array[] = [];
    for await (const piece of zip) {
      const until = count + 5;
      // Each piece of it comes some records later.
      await expect.poll(() => count, { timeout: 300_000, interval: 5 }).toBeGreaterThan(until);
      pieces.push(piece);
    }
    writing = false;
    await writers;
    expect((await select<{ n: number }>('SELECT COUNT(*) AS n FROM records'))[0]!.n).toBeGreaterThan(30);
    expect(reports.at(-3)).toBe(reports.at(-2));
    expect(reports.at(-1)).toBeGreaterThan(0);
    writeFileSync(join(folder, 'busy.zip'), Buffer.concat(pieces));
    await place();
    await readBackup(join(folder, 'busy.zip'), progress);
    expect(await everything()).toEqual(moment);
  });

  it('is written and restored by one command each, which say what to do', async () => {
    const command = (name: string, ...args: string[]) =>
      promisify(execFile)(process.execPath, [`scripts/${name}.mjs`, ...args], {
        env: { PATH: process.env.PATH, ...environmentOf() },
      }).then(
        ({ stdout }) => [0, stdout],
        (error: { code: number; stderr: string }) => [error.code, error.stderr],
      );
    await place();
    await fill();
    await fillAround();
    const before = await everything();
    const [own, people] = [join(folder, 'own.zip'), join(folder, 'own-people.zip')];
    expect(await command('backup', own)).toEqual([0, expect.stringMatching(/own\.zip: \d+ rows and files/)]);
    expect(await command('backup', own)).toEqual([1, expect.stringContaining('is there already')]);
    expect(await command('backup', people, '--with-people')).toEqual([0, expect.any(String)]);
    expect(await command('backup', '--all')).toEqual([1, expect.stringContaining('Say where it goes')]);
    expect(await command('restore', own)).toEqual([1, expect.stringContaining('There is content already.')]);
    expect(await everything()).toEqual(before);
    await place();
    const [code, said] = await command('restore', own);
    expect([code, said]).toEqual([
      0,
      expect.stringMatching(/Restored 10 records[^]*Set the owner's here[^]*\/studio\/link\/[\w-]{43}/),
    ]);
    expect(await everything()).toEqual(before);
    await place();
    expect(await command('restore', people)).toEqual([0, expect.not.stringContaining('/studio/link/')]);
    expect(await command('restore', join(folder, 'nowhere.zip'))).toEqual([
      1,
      expect.stringContaining('There is no file'),
    ]);
  });

  it('of version 1 is read as well, also from when it was called otherwise', async () => {
    await place();
    await fill();
    const before = await dump();
    const bytes = await bytesOf(writeFirstBackup());
    writeFileSync(join(folder, 'first.zip'), bytes);
    const parts = await partsOf(join(folder, 'first.zip'));
    parts.set(
      'archive.json',
      Buffer.from(parts.get('backup.json')!.toString().replace('plum-thread-backup', 'plum-thread-archive')),
    );
    parts.delete('backup.json');
    await zipOf(join(folder, 'former.zip'), parts);
    for (const name of ['first.zip', 'former.zip']) {
      await place();
      expect(await readBackup(join(folder, name), progress)).toEqual({
        types: 4,
        records: 10,
        links: 15,
        media: 2,
        templates: 1,
      });
      const after = await dump();
      for (const table of Object.keys(before))
        expect([name, table, after[table]]).toEqual([name, table, before[table]]);
    }
  });
});
