import autocannon from 'autocannon';
import { readModel } from '../src/lib/server/services/model';
import { addressOf } from '../src/lib/core/addresses/addresses';
import { loadRecords } from '../src/lib/server/queries/load';
import { boundTo } from '../src/lib/core/templates/build';
import { select } from '../src/lib/server/database/connect';
import { addJob } from '../src/lib/server/queries/jobs';
import { release } from '../src/lib/server/services/releases';
import { fillOne } from './support/fill';
import { pagesWithList } from './support/page';
import { startSite } from './support/site';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/** What visitors wait while an export of 10,000 pages runs, done by the process that answers or by one beside it. */
await fillOne('many', 10_000);
await pagesWithList(12, [{ kind: 'text', slots: { text: boundTo('loop:others', ['many_line']) } }]);
await release();
const model = await readModel();
const ids = Array.from({ length: 400 }, (_, i) => i + 1);
const addresses = (await loadRecords(model, ids, { drafts: false })).map((record) => addressOf(record, model));
/** Pages as they are kept, and with none kept. What an address asks beyond what its page listens to is folded into one page, so that no question has it drawn anew. */
const SORTS: Record<string, string> = { kept: '64', 'drawn anew': '0' };
for (const [worker, name] of ['0', '1'].flatMap((worker) =>
  Object.keys(SORTS).map((name) => [worker, name] as const),
)) {
  const { site, child } = await startSite({ PLUM_WORKER: worker, PLUM_KEPT_PAGES: SORTS[name] as string });
  for (const address of addresses) await (await fetch(site + address)).text();
  let n = 0;
  const load = (duration: number) =>
    autocannon({
      url: site,
      connections: 5,
      duration,
      requests: [{ method: 'GET', setupRequest: (r) => ({ ...r, path: addresses[n++ % addresses.length]! }) }],
    });
  await load(2);
  {
    const quiet = await load(4);
    const id = `job_${worker}_${name.slice(0, 4)}`;
    await addJob({ id, kind: 'export', asked: { site: undefined, own: site }, accountId: 0, accountName: '' });
    for (let i = 0; i < 200; i++) {
      const [row] = await select<{ done: number }>('SELECT done FROM jobs WHERE id = ?', [id]);
      if (row!.done > 0) break;
      await new Promise((done) => setTimeout(done, 50));
    }
    const busy = await load(6);
    const tell = (r: autocannon.Result) =>
      `${r.requests.average.toFixed(0)}/s, p50 ${r.latency.p50} ms, p99 ${r.latency.p99} ms, longest ${r.latency.max} ms`;
    console.log(
      `${worker === '1' ? 'beside' : 'in the same process'}  ${name}: quiet ${tell(quiet)}; during an export ${tell(busy)}`,
    );
    for (;;) {
      const [row] = await select<{ state: string }>('SELECT state FROM jobs WHERE id = ?', [id]);
      if (!['waiting', 'running'].includes(row!.state)) break;
      await new Promise((done) => setTimeout(done, 200));
    }
  }
  child.kill('SIGTERM');
  await new Promise((done) => child.once('exit', done));
}
await server.close();
