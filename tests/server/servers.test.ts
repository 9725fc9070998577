import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Sequelize } from 'sequelize';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { createServer } from '../../src/lib/server/application/create-server';
import { writeFile } from 'node:fs/promises';
import { answerApi } from '../../src/lib/server/api/answer';
import { operations } from '../../src/lib/server/api/operations';
import { keepUpload } from '../../src/lib/server/exchange/uploads';
import { localPath } from '../../src/lib/server/files/local';
import { OWNER } from '../support/people';
import { configurationFrom } from '../../src/lib/server/base/configuration';
import { configuration, currentServer, forServer, perServer, type Server } from '../../src/lib/server/base/server';
import { inTransaction, run, select } from '../../src/lib/server/database/connect';
import { migrate } from '../../src/lib/server/database/migrate';
import { files } from '../../src/lib/server/files/store';
import { defineJob, readJob } from '../../src/lib/server/jobs/jobs';
import { addBytes, readOriginal } from '../../src/lib/server/services/media';
import { createRecord } from '../../src/lib/server/services/records';
import { listRecords } from '../../src/lib/server/services/lists';
import { release } from '../../src/lib/server/services/releases';
import { createTemplate, editTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { activeServer } from '../support/server';

describe('parts of a server', () => {
  const counter = perServer(() => ({ n: 0 }));
  const none = configurationFrom({});

  it('are built once for each, through whatever is waited for, and closed the last first', async () => {
    const closed: string[] = [];
    const one = perServer(
      () => 'one',
      (name) => closed.push(name),
    );
    const two = perServer(
      () => `two over ${one()}`,
      (name) => closed.push(name),
    );
    const [a, b] = [createServer(none), createServer(none)];
    const count = async () => {
      for (let i = 0; i < 5; i++) {
        counter().n++;
        await new Promise((done) => setTimeout(done, 1));
      }
      return counter().n;
    };
    expect(await Promise.all([a.run(count), b.run(count), a.run(count)])).toEqual([10, 5, 10]);
    expect(a.run(() => two())).toBe('two over one');
    await a.close();
    expect(closed).toEqual(['two over one', 'one']);
    expect([a.run(() => counter().n), b.run(() => counter().n)]).toEqual([0, 5]);
  });

  it('are those of the server that a timer, a callback or an event was begun for', async () => {
    const [a, b] = [createServer({ ...none, host: 'a' }), createServer({ ...none, host: 'b' })];
    const later = () =>
      new Promise<string>((done) => setTimeout(() => queueMicrotask(() => done(configuration().host)), 2));
    expect(await Promise.all([a.run(later), b.run(later)])).toEqual(['a', 'b']);
    expect(a.run(() => b.run(() => currentServer()))).toBe(b);
  });
});

describe('what is sent piece by piece', () => {
  it('is made for the server that answered, whoever takes it', async () => {
    const server = createServer({ ...configurationFrom({}), host: 'the one that answered' });
    const other = createServer({ ...configurationFrom({}), host: 'another' });
    async function* hosts() {
      for (let i = 0; i < 3; i++) {
        await new Promise((done) => setTimeout(done, 1));
        yield configuration().host;
      }
    }
    const pieces = server.run(() => forServer(hosts()));
    for (let i = 0; i < 3; i++)
      expect(await other.run(() => pieces.next())).toEqual({ done: false, value: 'the one that answered' });
    expect(await other.run(() => pieces.next())).toMatchObject({ done: true });
    const half = server.run(() => forServer(hosts()));
    await other.run(() => half.next());
    expect(await other.run(() => half.return!(undefined))).toMatchObject({ done: true });
    expect(await other.run(() => half.next())).toMatchObject({ done: true });
  });
});

describe('every operation that sends a file', () => {
  const all = operations('').filter(({ response }) => response === 'file');
  let drop: () => Promise<void>;
  let file: string;
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
    for (let i = 0; i < 3; i++) await createRecord('house', { title: `House ${i}`, status: 'published', values: {} });
    const path = await localPath('.zip');
    await writeFile(path, 'what was packed');
    file = await keepUpload(OWNER.id, path, { name: 'site.zip', size: 15 });
  });
  afterAll(() => drop());

  it('are these', () => {
    expect(all.length).toBeGreaterThan(3);
    for (const { path } of all) expect(path.replace(/\{(file|typeId)\}/g, '')).not.toContain('{');
  });

  it.each(all.map(({ method, path }) => [method, path as string]))(
    '%s %s makes it for its own server, after whoever answered has gone',
    async (method, path) => {
      // Whatever is asked of this one fails, since it has no database.
      const other = createServer(configurationFrom({}));
      for (const query of path.endsWith('/export') ? ['?format=csv', '?format=json'] : ['']) {
        const at = path.replace('{file}', file).replace('{typeId}', 'house');
        const url = new URL(`http://huts.example/api/v1${at}${query}`);
        const response = await answerApi(new Request(url, { method }), url, at, operations(''), OWNER);
        expect([path, response.status]).toEqual([path, 200]);
        expect((await other.run(() => response.arrayBuffer())).byteLength).toBeGreaterThan(10);
      }
    },
  );
});

describe('two servers in one process', () => {
  const folder = mkdtempSync(join(tmpdir(), 'plum-thread-servers-'));
  const servers: Server[] = [];
  const drops: (() => Promise<void>)[] = [];
  const heights = [[300, 500, 700], [80]];

  beforeAll(async () => {
    drops.push(await freshDatabase());
    const [own, database] = [activeServer().configuration, activeServer().configuration.database as string];
    const second = `${new URL(database).pathname.slice(1)}_two`;
    const admin = new Sequelize(database, { dialect: 'mariadb', logging: false });
    await admin.query(`CREATE DATABASE ${second} CHARACTER SET utf8mb4`);
    drops.push(async () => {
      await admin.query(`DROP DATABASE ${second}`);
      await admin.close();
    });
    for (const [i, name] of [database, database.replace(/\/[^/]*$/, `/${second}`)].entries())
      servers.push(createServer({ ...own, database: name, mediaFolder: join(folder, String(i)) }));
    await servers[1]!.run(migrate);
    // At the same time, so that whatever they shared would be mixed.
    await Promise.all(
      servers.map((server, i) =>
        server.run(async () => {
          await saveModel();
          await createTemplate({
            id: 'house',
            name: 'House',
            purpose: 'record',
            typeId: 'house',
            tree: treeFrom({
              kind: 'box',
              children: [{ kind: 'text', slots: { text: boundTo('record', ['height'], { before: `Site ${i}: ` }) } }],
            }),
          });
          for (const height of heights[i]!)
            await createRecord('house', { title: 'The house', status: 'published', values: { height } });
          await release();
        }),
      ),
    );
  });
  afterAll(async () => {
    for (const server of servers) await server.close();
    for (const drop of drops.reverse()) await drop();
    rmSync(folder, { recursive: true, force: true });
  });
  const ofBoth = <T>(body: (i: number) => Promise<T>) =>
    Promise.all(servers.map((server, i) => server.run(() => body(i))));

  it('draw the pages of their own database under one address, again and again', async () => {
    for (let times = 0; times < 3; times++)
      expect(
        await ofBoth(async () => {
          const { html } = await answer('/houses/the-house', { base: '', origin: 'http://huts.example' });
          return /Site \d: [\d.,]+/.exec(html)?.[0];
        }),
      ).toEqual(['Site 0: 300', 'Site 1: 80']);
  });

  it('list their own records, also after the other one has written', async () => {
    const all = () =>
      listRecords({ source: { from: 'query', typeIds: ['house'] } }, { drafts: false }).then(({ total }) => total);
    expect(await ofBoth(all)).toEqual([3, 1]);
    await servers[1]!.run(() => createRecord('house', { title: 'Another', status: 'published', values: {} }));
    expect(await ofBoth(all)).toEqual([3, 2]);
  });

  it('keep their own files and do their own work', async () => {
    const work = defineJob<null, { where: string }>('test where', {
      again: true,
      run: () => Promise.resolve({ where: files().where }),
    });
    const stored = await ofBoth((i) => addBytes('a.txt', Buffer.from(`text of ${i}`)));
    expect(await ofBoth(async (i) => (await readOriginal(stored[i]!.id)).size)).toEqual([9, 9]);
    const jobs = await ofBoth(() => work.start(null));
    await expect
      .poll(() => ofBoth(async (i) => (await readJob(jobs[i]!.id)).result), { timeout: 60_000 })
      .toEqual(['0', '1'].map((name) => ({ where: join(folder, name) })));
  });
});

describe('a transaction', () => {
  let drop: () => Promise<void>;
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
  });
  afterAll(() => drop());

  it('refuses a question beside it, for which there may be no connection', async () => {
    await expect(inTransaction(() => select('SELECT 1'))).rejects.toThrow('part of it');
    await expect(inTransaction(() => run('UPDATE sites SET id = id', []))).rejects.toThrow('part of it');
    expect(await inTransaction((transaction) => select<{ n: number }>('SELECT 1 AS n', [], transaction))).toEqual([
      { n: 1 },
    ]);
  });

  it('of each of many who save templates at once comes to its end', async () => {
    const many = Array.from({ length: 24 }, (_, i) => `t${i}`);
    for (const id of many)
      await createTemplate({
        id,
        name: id,
        purpose: 'record',
        typeId: 'house',
        tree: treeFrom({ kind: 'box', id: 'b' }),
      });
    const saved = await Promise.all(
      many.map((id) =>
        editTemplate(id, {
          version: 1,
          operations: [],
          labels: [],
          sitting: 's',
          name: { from: id, to: `${id} renamed` },
        }),
      ),
    );
    expect(saved).toHaveLength(24);
  });
});
