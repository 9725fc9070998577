import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startReplicated } from '../../scripts/lib/replicas.mjs';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { migrate } from '../../src/lib/server/database/migrate';
import { clearResults } from '../../src/lib/server/queries/read-cache';
import { changeRecord, createRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { createTemplate } from '../../src/lib/server/services/templates';
import { answer } from '../../src/lib/server/site/respond';
import { saveModel } from '../support/fill';
import { useServer } from '../support/server';

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-replicas-'));
let servers: Awaited<ReturnType<typeof startReplicated>>;
let leave: () => Promise<void>;
let leaveReplicas: (() => Promise<void>) | undefined;
beforeAll(async () => {
  servers = await startReplicated(folder, 2);
  leave = useServer({ database: servers.address, mediaFolder: join(folder, 'media') });
  await migrate();
  await saveModel();
  await createTemplate({
    id: 'house',
    name: 'House',
    purpose: 'record',
    typeId: 'house',
    tree: treeFrom({
      kind: 'box',
      children: [
        { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('record', ['@title']) } },
        { kind: 'text', slots: { text: boundTo('record', ['height']) } },
        {
          kind: 'loop',
          id: 'others',
          props: { source: { from: 'query', typeIds: ['house'] }, order: [{ steps: ['height'], down: true }] },
          children: [{ kind: 'text', slots: { text: boundTo('loop:others', ['@title']) } }],
        },
      ],
    }),
  });
  await release({ note: 'The first' });
});
afterAll(async () => {
  await leaveReplicas?.();
  await leave();
  servers.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** How many statements a server has answered that read something. */
const readsOf = async (i: number): Promise<number> => {
  const [row] = (await servers.tell(i, "SHOW GLOBAL STATUS LIKE 'Com_select'")) as { Value: string }[];
  return Number(row!.Value);
};
/** Waits until a replica has everything. */
const caughtUp = (i: number) =>
  expect
    .poll(
      async () => {
        const of = async (server: number) =>
          String(
            ((await servers.tell(server, 'SELECT SUM(n) AS n FROM plum.content_changes')) as { n: unknown }[])[0]?.n,
          );
        return (await of(0)) === (await of(i));
      },
      { timeout: 300_000, interval: 50 },
    )
    .toBe(true);
const page = async (path: string) => (await answer(path, { base: '', origin: 'http://huts.example' })).html;
/** The page from the database alone, with nothing kept. */
async function fromDatabase(path: string): Promise<string> {
  const leaveThis = useServer({ replicas: '' });
  try {
    return await page(path);
  } finally {
    await leaveThis();
    clearResults();
  }
}

describe('replicas', () => {
  const ids: number[] = [];
  let n = 0;
  const write = async () => {
    n++;
    if (ids.length < 6)
      ids.push((await createRecord('house', { title: `House ${n}`, status: 'published', values: { height: n } })).id);
    else await changeRecord(ids[n % ids.length]!, { title: `Changed ${n}`, values: { height: (n * 37) % 101 } });
  };
  const paths = () => ['/houses/', ...ids.slice(0, 3).map((_, i) => `/houses/house-${i + 1}`)];
  const same = async (when: string) => {
    for (const path of paths()) expect([when, path, await page(path)]).toEqual([when, path, await fromDatabase(path)]);
  };

  it('are read for pages and lists once they have everything', async () => {
    for (let i = 0; i < 6; i++) await write();
    leaveReplicas = useServer({ replicas: servers.replicas });
    await caughtUp(1);
    clearResults();
    const before = await readsOf(1);
    const html = await page('/houses/house-1');
    // Its columns and its record, and how far the replica has come.
    expect((await readsOf(1)) - before).toBeGreaterThan(3);
    expect(html).toBe(await fromDatabase('/houses/house-1'));
  });

  it('that are behind are not read, and nobody can tell', async () => {
    await servers.tell(1, 'STOP SLAVE SQL_THREAD');
    for (let i = 0; i < 12; i++) {
      await write();
      await same(`held up, ${i}`);
    }
    await servers.tell(1, 'START SLAVE');
    await caughtUp(1);
    // While it catches up, and is behind again and again.
    for (let i = 0; i < 15; i++) {
      await write();
      if (i % 4 === 0) await servers.tell(1, 'STOP SLAVE SQL_THREAD');
      if (i % 4 === 2) await servers.tell(1, 'START SLAVE');
      await same(`now and then, ${i}`);
    }
    await servers.tell(1, 'START SLAVE');
    const before = await readsOf(1);
    await caughtUp(1);
    clearResults();
    await page('/houses/');
    expect(await readsOf(1)).toBeGreaterThan(before + 2);
  });

  it('that die are passed over: the next one is read, or the database', async () => {
    await caughtUp(1);
    await caughtUp(2);
    await same('before');
    await servers.kill(1);
    const before = await readsOf(2);
    for (let i = 0; i < 4; i++) {
      await write();
      await caughtUp(2);
      await same(`the first is gone, ${i}`);
    }
    expect(await readsOf(2)).toBeGreaterThan(before + 4);
    await servers.kill(2);
    for (let i = 0; i < 3; i++) {
      await write();
      await same(`both are gone, ${i}`);
    }
    await servers.bringBack(1);
    await caughtUp(1);
    await write();
    await same('one is back');
  });
});
