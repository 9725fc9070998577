import { spawn } from 'node:child_process';
import { createHash, randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseArgs } from 'node:util';
import { startDatabase, takeFolder } from './lib/mariadb.mjs';
import { answered, freePort } from './lib/ports.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root } from './lib/setup.mjs';

// Kills the application, or its database, at random moments while it writes, imports, takes files and releases; after each,
// what was acknowledged must be there, and nothing may be there by half: npm run survive -- --times 200
const { values } = parseArgs({ options: { times: { type: 'string', default: '20' } } });
const TIMES = Number(values.times);
ensureDebian('database');
ensurePackages();
await ensureBuild();
const { register } = await import('tsx/esm/api');
register();
/** @param {string} path */
const ours = (path) => import(new URL(`../src/lib/server/${path}`, import.meta.url).href);

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-survive-'));
const release = await takeFolder(folder);
let db = await startDatabase(folder);
const { select } = await ours('database/connect.ts');
const { enterServer } = await ours('application/create-server.ts');
const port = String(await freePort());
const origin = `http://127.0.0.1:${port}`;
const env = () => ({
  ...process.env,
  PLUM_DATABASE: db.url,
  PLUM_MEDIA: join(folder, 'media'),
  PLUM_HTTP_HOST: '127.0.0.1',
  PLUM_HTTP_PORT: port,
  PLUM_HTTP_ORIGIN: origin,
  PLUM_LOG: 'fatal',
});

/** @type {import('node:child_process').ChildProcess} */
let app = /** @type {any} */ (undefined);
async function startApp() {
  app = spawn(process.execPath, [join(root, 'build', 'index.js')], {
    cwd: root,
    env: env(),
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  await answered(`${origin}/healthz`, app);
}
const pause = (/** @type {number} */ ms) => new Promise((done) => setTimeout(done, ms));

const mediaFolder = join(folder, 'media');
let server = enterServer({ database: db.url, mediaFolder });
await startApp();
const { createAccount } = await ours('people/accounts.ts');
const { beginSession } = await ours('people/sessions.ts');
const { id: account } = await createAccount(
  { name: 'S', email: 's@huts.example', role: 'owner', mayPublish: true },
  { password: 'a long way down' },
);
const headers = { cookie: `plum_session=${await beginSession(account, '127.0.0.1', 'A program')}`, 'if-match': '*' };
await server.close();

/** @param {string} method @param {string} path @param {unknown} [body] */
async function ask(method, path, body) {
  const file = typeof body === 'string';
  const answer = await fetch(`${origin}/api/v1${path}`, {
    method,
    headers: {
      ...headers,
      ...(body === undefined ? {} : { 'content-type': file ? 'application/octet-stream' : 'application/json' }),
    },
    ...(body === undefined ? {} : { body: file ? body : JSON.stringify(body) }),
  });
  const said = await answer.text();
  if (!answer.ok) throw new Error(`${answer.status} ${said.slice(0, 200)}`);
  return /** @type {any} */ (said ? JSON.parse(said) : {});
}
await ask('POST', '/types', {
  id: 'note',
  key: 'note',
  name: 'Note',
  plural: 'Notes',
  base: 'notes',
  taxonomyIds: [],
  fields: [
    { id: 'body', key: 'body', label: 'Body', kind: 'longtext' },
    { id: 'n', key: 'n', label: 'N', kind: 'number' },
  ],
});

/** What was acknowledged: for each record the titles that it may have. @type {Map<number, Set<string>>} */
const records = new Map();
/** @type {Map<number, string>} */
const files = new Map();
/** Prefix of the titles of an import, and whether it was acknowledged. @type {Map<string, boolean>} */
const imports = new Map();
/** @type {Set<number>} */
const releases = new Set();
const ROWS = 60;
const counts = { records: 0, changes: 0, files: 0, imports: 0, releases: 0, kills: 0 };
let going = false;
const done = () => counts.records + counts.changes + counts.files + counts.imports + counts.releases;

const works = [
  async () => {
    const title = randomUUID();
    const { id } = await ask('POST', '/records', {
      typeId: 'note',
      title,
      status: 'published',
      values: { body: title.repeat(20), n: 4 },
    });
    records.set(id, new Set([title]));
    counts.records++;
  },
  async () => {
    const ids = [...records.keys()];
    const id = ids[Math.floor(Math.random() * ids.length)];
    if (id === undefined) return;
    const title = randomUUID();
    // Until it is acknowledged it may have either.
    records.get(id)?.add(title);
    await ask('PATCH', `/records/${id}`, { title });
    records.set(id, new Set([title]));
    counts.changes++;
  },
  async () => {
    const text = `note ${randomUUID()}\n`.repeat(2000);
    const { id } = await ask('POST', `/media?name=${randomUUID()}.txt`, text);
    files.set(id, createHash('sha256').update(text).digest('hex'));
    counts.files++;
  },
  async () => {
    const prefix = randomUUID();
    imports.set(prefix, false);
    const csv = ['title,n', ...Array.from({ length: ROWS }, (_, i) => `${prefix} ${i},${i}`)].join('\n');
    const { id: file } = await ask('PUT', `/imports?name=${prefix}.csv`, csv);
    let job = await ask('POST', '/imports', {
      file,
      typeId: 'note',
      targets: { title: '@title', n: 'n' },
      format: 'csv',
    });
    while (job.state === 'running') {
      await pause(30);
      job = await ask('GET', `/jobs/${job.id}`);
    }
    if (job.state === 'done' && job.result.added === ROWS) {
      imports.set(prefix, true);
      counts.imports++;
    } else throw new Error(`An import came to ${JSON.stringify(job).slice(0, 300)}`);
  },
  async () => {
    await ask('POST', '/menus', { name: randomUUID(), entries: [] });
    const { id } = await ask('POST', '/releases', {});
    releases.add(id);
    counts.releases++;
  },
];

/** @type {string[]} */
const wrong = [];
async function worker() {
  while (going) {
    const work = works[Math.floor(Math.random() * works.length)];
    // What fails because of the kill was not acknowledged; anything else is a fault.
    await work?.().catch((/** @type {Error} */ error) => {
      if (
        going &&
        !/fetch failed|terminated|socket|^50[03] |ECONN|^4(09|12) |"state":"failed"/i.test(
          `${error.message} ${error.cause}`,
        )
      )
        wrong.push(error.message);
      return pause(20);
    });
  }
}

async function look() {
  const fail = (/** @type {string} */ words) => wrong.push(`after ${counts.kills} kills: ${words}`);
  const rows = await select('SELECT id, title FROM records');
  const titles = new Map(rows.map((/** @type {{ id: number, title: string }} */ row) => [row.id, row.title]));
  for (const [id, may] of records) {
    const title = titles.get(id);
    if (!may.has(title)) fail(`record ${id} is ${title}, and may be ${[...may].join(' or ')}`);
    else records.set(id, new Set([title]));
  }
  for (const [prefix, whole] of imports) {
    const n = rows.filter((/** @type {{ title: string }} */ row) => row.title.startsWith(prefix)).length;
    if (n !== ROWS && (whole || n !== 0))
      fail(`of an import that was ${whole ? '' : 'not '}acknowledged ${n} rows are there`);
  }
  const one = async (/** @type {string} */ sql) => Number((await select(sql))[0].n);
  if (
    await one(
      'SELECT COUNT(*) AS n FROM records r WHERE NOT EXISTS (SELECT 1 FROM record_words w WHERE w.record_id = r.id)',
    )
  )
    fail('records stand in no index');
  const [counted, there] = [await one('SELECT SUM(n) AS n FROM record_counts'), rows.length];
  if (counted !== there) fail(`${counted} records are counted, ${there} are there`);
  for (const id of releases)
    if (!(await one(`SELECT COUNT(*) AS n FROM releases WHERE id = ${id}`))) fail(`release ${id} is gone`);
  if (
    await one(
      'SELECT COUNT(*) AS n FROM sites WHERE release_id IS NOT NULL AND release_id NOT IN (SELECT id FROM releases)',
    )
  )
    fail('the site shows a release that is not there');
  for (const [id, hash] of files) {
    const answer = await fetch(`${origin}/media/${id}/file/x`, { headers });
    const bytes = Buffer.from(await answer.arrayBuffer());
    if (!answer.ok || createHash('sha256').update(bytes).digest('hex') !== hash)
      fail(`file ${id} is not what it was (${answer.status})`);
  }
  const media = await select('SELECT id FROM media');
  for (const { id } of media.slice(-50))
    if (!(await fetch(`${origin}/media/${id}/file/x`, { headers })).ok) fail(`file ${id} has no content`);
  if ((await fetch(origin)).status !== 200) fail('the front page is not there');
}

try {
  for (counts.kills = 0; counts.kills < TIMES && wrong.length < 20;) {
    going = true;
    const all = Promise.all([worker(), worker(), worker(), worker()]);
    // Begun anew it takes a moment until work goes on.
    const before = done();
    for (let tries = 0; tries < 200 && done() === before; tries++) await pause(50);
    await pause(Math.random() * 1500);
    if (Math.random() < 0.5) {
      app.kill('SIGKILL');
      going = false;
    } else {
      process.kill(Number(db.pid), 'SIGKILL');
      await pause(Math.random() * 100);
      going = false;
      // The database comes back at another port, so that the application begins anew as well.
      app.kill('SIGKILL');
      await db.ended;
      await server.close();
      db = await startDatabase(folder);
      server = enterServer({ database: db.url, mediaFolder });
    }
    counts.kills++;
    await all;
    await startApp();
    await look();
    if (counts.kills % 10 === 0) console.log(JSON.stringify(counts));
  }
} finally {
  app.kill('SIGKILL');
  await server.close();
  await db.stop();
  release();
  rmSync(folder, { recursive: true, force: true });
}
console.log(
  `${JSON.stringify(counts)}: ${wrong.length ? `${wrong.length} faults` : 'nothing acknowledged is missing, nothing is there by half'}`,
);
for (const words of wrong.slice(0, 20)) console.log(`  ${words}`);
process.exitCode = wrong.length ? 1 : 0;
