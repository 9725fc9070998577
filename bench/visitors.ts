import autocannon from 'autocannon';
import { spawn, type ChildProcess } from 'node:child_process';
import { availableParallelism } from 'node:os';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readModel } from '../src/lib/server/services/model';
import { addressOf } from '../src/lib/core/addresses/addresses';
import { loadRecords } from '../src/lib/server/queries/load';
import { boundTo } from '../src/lib/core/templates/build';
import { changeRecord } from '../src/lib/server/services/records';
import { release } from '../src/lib/server/services/releases';
import { answered, freePort } from '../scripts/lib/ports.mjs';
import { fillOne, median } from './support/fill';
import { pagesWithList } from './support/page';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/** Visitors of a site of 1,000 records: pages that are kept and pages that are drawn, beside a bare server with the same bytes. */
const CONNECTIONS = (process.env.PLUM_BENCH_CONNECTIONS ?? '1,20,50').split(',').map(Number);
const SECONDS = Number(process.env.PLUM_BENCH_SECONDS ?? 2);
const ROUNDS = Number(process.env.PLUM_BENCH_ROUNDS ?? 5);
/** So long it is looked at the memory; not at all without. */
const MINUTES = Number(process.env.PLUM_BENCH_MINUTES ?? 0);
await fillOne('many', 1000);
await fillOne('few', 1000);
await pagesWithList(12, [{ kind: 'text', slots: { text: boundTo('loop:others', ['many_line']) } }]);
await release();
const model = await readModel();
const records = await loadRecords(
  model,
  Array.from({ length: 400 }, (_, i) => i + 1),
  { drafts: false },
);
const addresses = records.map((record) => addressOf(record, model));
const others = Array.from({ length: 400 }, (_, i) => 1001 + i);

const started: ChildProcess[] = [];
const start = (args: string[], env: Record<string, string> = {}): ChildProcess => {
  const child = spawn(process.execPath, args, {
    env: { ...process.env, ...env },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  started.push(child);
  return child;
};

const barePort = await freePort();
const bare = `http://127.0.0.1:${barePort}`;
/** The application, as it is started for visitors. */
async function startSite(env: Record<string, string> = {}): Promise<{ site: string; child: ChildProcess }> {
  const port = await freePort();
  const site = `http://127.0.0.1:${port}`;
  const child = start(
    [
      ...(process.env.PLUM_BENCH_PROFILE ? ['--cpu-prof', `--cpu-prof-dir=${process.env.PLUM_BENCH_PROFILE}`] : []),
      join(import.meta.dirname, '..', 'scripts', 'lib', 'serve.mjs'),
    ],
    { PLUM_HTTP_HOST: '127.0.0.1', PLUM_HTTP_PORT: String(port), PLUM_HTTP_ORIGIN: site, ...env },
  );
  await answered(`${site}/healthz`);
  return { site, child };
}
const { site, child: own } = await startSite();
// What is kept nowhere is drawn each time.
const { site: forgetful } = await startSite({ PLUM_KEPT_PAGES: '0' });
const processes = availableParallelism();
const { site: several } =
  processes > 1 ? await startSite({ PLUM_KEPT_PAGES: '0', PLUM_PROCESSES: String(processes) }) : { site: '' };
const page = await fetch(site + addresses[0]);
const html = await page.text();
const headers = Object.fromEntries([...page.headers].filter(([name]) => name !== 'transfer-encoding'));
start([
  '-e',
  `const html = Buffer.from(${JSON.stringify(html)}); const headers = { ...${JSON.stringify(headers)}, 'content-length': html.length };
require('node:http').createServer((request, response) => { response.writeHead(200, headers); response.end(html); }).listen(${barePort}, '127.0.0.1');`,
]);
await answered(bare);

let fresh = 0;
const keptPages = () => ({ base: site, path: addresses[fresh++ % addresses.length] as string });
/** An author who saves a record five times a second, of a type that all of these pages list, or that none of them shows. */
function author(type: 'many' | 'few' = 'few'): () => Promise<unknown> {
  let last: Promise<unknown> = Promise.resolve();
  const saving = setInterval(() => {
    const id = type === 'few' ? (others[fresh % others.length] as number) : 1000 - (fresh % 100);
    const save = changeRecord(id, { values: { [`${type}_line`]: `Line ${fresh}` } });
    last = save.catch((error: unknown) => console.error(error));
  }, 200);
  return () => {
    clearInterval(saving);
    return last;
  };
}
const SORTS = {
  'a bare server': () => ({ base: bare, path: '/' }),
  kept: keptPages,
  'kept, written': keptPages,
  // Such as from letters and other sites: nothing that the page listens to.
  'kept, asked': () => ({ base: site, path: `${addresses[fresh % addresses.length]}?from=letter-${fresh++}` }),
  'drawn anew': () => ({ ...keptPages(), base: forgetful }),
  ...(several && { [`by ${processes} processes`]: () => ({ ...keptPages(), base: several }) }),
};
const at = (results: autocannon.Result) => ({ rate: results.requests.average, p99: results.latency.p99 });
console.log(
  `Pages of ${html.length} bytes, median of ${ROUNDS} rounds of ${SECONDS} s each, by autocannon in a process of its own`,
);
for (const connections of CONNECTIONS) {
  const rows: Record<string, { rate: number; p99: number }[]> = {};
  // By turns, since a machine does a third of the same a moment later: each round has a bare server of its own beside it.
  for (let round = 0; round <= ROUNDS; round++)
    for (const [name, next] of Object.entries(SORTS)) {
      // What is kept has been asked for twice, so that it is packed too.
      for (const address of !round && name.startsWith('kept') ? [...addresses, ...addresses] : [])
        await (await fetch(site + address)).text();
      const stop = name === 'kept, written' ? author() : () => Promise.resolve();
      const results = await autocannon({
        url: next().base,
        connections,
        duration: SECONDS,
        requests: [{ method: 'GET', setupRequest: (request) => ({ ...request, path: next().path }) }],
      });
      await stop();
      // The first round warms up.
      if (round) (rows[name] ??= []).push(at(results));
    }
  const bareRows = rows['a bare server'] as { rate: number; p99: number }[];
  console.log(`\n${connections} ${connections === 1 ? 'connection' : 'connections'}`);
  for (const [name, own] of Object.entries(rows)) {
    const rate = median(own.map((row) => row.rate));
    const ratio = median(own.map((row, i) => row.rate / (bareRows[i]?.rate ?? NaN)));
    const p99 = median(own.map((row) => row.p99));
    const times = median(own.map((row, i) => row.p99 / Math.max(bareRows[i]?.p99 ?? NaN, 1)));
    console.log(
      `  ${name.padEnd(14)} ${rate.toFixed(0).padStart(7)} a second   99th percentile ${p99} ms   ratio ${ratio.toFixed(3)} of bare, ${times.toFixed(1)} times its 99th percentile`,
    );
  }
  console.log('  aims: 0.5 kept, 0.1 drawn anew, 5 times the 99th percentile');
}
if (MINUTES) {
  const memory = (): number =>
    Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${own.pid}/status`, 'utf8'))?.[1]) / 1024;
  // Whatever is kept goes five times a second, and is drawn anew.
  const stop = author('many');
  const at: number[] = [];
  for (let minute = 0; minute < MINUTES; minute++) {
    // What waits to be collected comes and goes by a third within seconds.
    const seen: number[] = [];
    const looking = setInterval(() => seen.push(memory()), 500);
    await autocannon({
      url: site,
      connections: 20,
      duration: 60,
      requests: [
        { method: 'GET', setupRequest: (request) => ({ ...request, path: keptPages().path }) },
        { method: 'GET', setupRequest: (request) => ({ ...request, path: SORTS['kept, asked']().path }) },
      ],
    });
    clearInterval(looking);
    at.push(median(seen));
  }
  await stop();
  console.log(
    `\nMemory in the middle of each minute's figures with 20 visitors, of kept and drawn pages: ${at.map((mb) => mb.toFixed(0)).join(', ')} MB`,
  );
  console.log(
    `  in minute ${MINUTES} ${((at.at(-1) as number) / (at[0] as number)).toFixed(2)} of that in the first; aim 1.1 in the tenth`,
  );
}
await server.close();
for (const child of started) child.kill('SIGTERM');
