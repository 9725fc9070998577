import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { versionMoved } from '../../src/lib/server/database/last-version';
import { contentVersion, versionSource } from '../../src/lib/server/database/version';
import { createRecord } from '../../src/lib/server/services/records';
import { load } from '../../src/routes/studio/content/[type]/+page.server';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';

type Loaded = Exclude<Awaited<ReturnType<typeof load>>, void>;
const opened = async (address: string): Promise<Loaded> => {
  const url = new URL(`http://a.example/studio/content/${address}`);
  return (await load({ params: { type: url.pathname.split('/').at(-1) }, url } as Parameters<
    typeof load
  >[0])) as Loaded;
};

describe('the table of records', () => {
  let drop: () => Promise<void>;
  beforeAll(async () => {
    drop = await freshDatabase();
    await saveModel();
    for (let n = 0; n < 3; n++) await createRecord('house', { title: `House ${n}`, values: { height: n } });
  });
  afterAll(() => drop());
  const titles = async ({ rows }: Loaded) => (await rows.of).records.map(({ title }: { title: string }) => title);

  it('is there before its rows where these take longer, as right after a start', async () => {
    await opened('house');
    let go = (): void => undefined;
    const slow = new Promise<void>((done) => (go = done));
    // Lists ask what state the content is in; nothing else on this screen does.
    versionSource().read = () => slow.then(contentVersion);
    versionMoved();
    const screen = await opened('house?sort=-height');
    expect([screen.type.id, screen.counts.total, screen.rows.of instanceof Promise]).toEqual(['house', 3, true]);
    go();
    expect(await titles(screen)).toEqual(['House 2', 'House 1', 'House 0']);
    versionSource().read = contentVersion;
  });

  it('shows all records, and says why, where its address asks for what cannot be', async () => {
    const all = ['House 0', 'House 1', 'House 2'];
    const gone = JSON.stringify({
      group: 'all',
      rules: [{ test: 'text.is', path: { from: 'loop:table', steps: ['gone'] }, operand: 'a' }],
    });
    for (const asked of [
      'filter=x',
      'filter=5',
      `filter=${encodeURIComponent(gone)}`,
      'sort=gone',
      `sort=${'a'.repeat(90)}`,
    ]) {
      const screen = await opened(`house?${asked}`);
      expect(screen.refused || (await screen.rows.of).refused, asked).toMatch(/\w{4}.*\.$/);
      expect(await titles(screen), asked).toEqual(all);
    }
    const fine = await opened('house?search=1');
    expect([fine.refused, (await fine.rows.of).refused, await titles(fine)]).toEqual(['', '', ['House 1']]);
  });
});
