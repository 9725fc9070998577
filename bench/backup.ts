import { execFileSync, spawnSync } from 'node:child_process';
import { createWriteStream, mkdtempSync, openSync, rmSync, statSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { pipeline } from 'node:stream/promises';
import { run, select } from '../src/lib/server/database/connect';
import { readBackup } from '../src/lib/server/exchange/backup/read';
import { writeBackup } from '../src/lib/server/exchange/backup/write';
import { prepareDatabase } from '../src/lib/server/services/start';
import { fillOne } from './support/fill';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/**
 * A backup of so many records, and restoring it, beside `mariadb-dump` and `mariadb` with the same rows in one run, by turns (aim: restoring takes at
 * most 3 times as long). The database's own programs check nothing and compress nothing; the files of the library are left out on both sides.
 */
const RECORDS = Number(process.env.PLUM_BENCH_ROWS ?? 100_000);
const ROUNDS = 2;

const url = new URL(process.env.PLUM_DATABASE ?? '');
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-bench-'));
const [zip, sql] = [join(folder, 'backup.zip'), join(folder, 'dump.sql')];
const login = [
  '-h',
  url.hostname,
  '-P',
  url.port,
  '-u',
  url.username,
  `--password=${decodeURIComponent(url.password)}`,
];
const name = url.pathname.slice(1);

const timed = async (work: () => unknown): Promise<number> => {
  const from = performance.now();
  await work();
  return performance.now() - from;
};
const middle = (values: number[]): number => values.sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

await fillOne('many', RECORDS);
const counts = async () => (await select<{ n: number }>('SELECT COUNT(*) AS n FROM record_index'))[0]?.n;
const rows = await counts();
const times: Record<'dump' | 'backup' | 'load' | 'restore', number[]> = { dump: [], backup: [], load: [], restore: [] };
/** An empty database in the place of that of the bench. */
async function emptied(): Promise<void> {
  await run(`DROP DATABASE ${name}`, []);
  await run(`CREATE DATABASE ${name} CHARACTER SET utf8mb4`, []);
  await server.close();
}
for (let round = 0; round < ROUNDS; round++) {
  times.dump.push(
    await timed(() =>
      execFileSync('mariadb-dump', [...login, '--single-transaction', name], {
        stdio: ['ignore', openSync(sql, 'w'), 'inherit'],
      }),
    ),
  );
  times.backup.push(await timed(() => pipeline(writeBackup(), createWriteStream(zip))));
  await emptied();
  times.load.push(
    await timed(() => {
      const { status } = spawnSync('mariadb', [...login, name], { stdio: [openSync(sql, 'r'), 'inherit', 'inherit'] });
      if (status !== 0) throw new Error(`mariadb has ended with ${status}.`);
    }),
  );
  if ((await counts()) !== rows) throw new Error('The dump lacks rows.');
  await emptied();
  await prepareDatabase();
  times.restore.push(
    await timed(() => readBackup(zip, { signal: new AbortController().signal, report: () => undefined })),
  );
  if ((await counts()) !== rows) throw new Error('The backup lacks rows.');
}
const seconds = (ms: number) => `${(ms / 1000).toFixed(1)} s`;
const size = (path: string) => `${(statSync(path).size / 1e6).toFixed(0)} MB`;
console.log(`${RECORDS.toLocaleString('en')} records, ${Number(rows).toLocaleString('en')} rows of the index`);
for (const [label, own, other, aim] of [
  ['written', times.backup, times.dump, ''],
  ['restored', times.restore, times.load, ' (aim: at most 3)'],
] as const)
  console.log(
    `${label.padEnd(10)} ${seconds(middle([...own]))}, the database’s own program ${seconds(middle([...other]))}: ratio ${(middle([...own]) / middle([...other])).toFixed(2)}${aim}`,
  );
console.log(`The zip has ${size(zip)}, the dump ${size(sql)}.`);
await server.close();
rmSync(folder, { recursive: true, force: true });
