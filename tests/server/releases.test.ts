import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Tree } from '../../src/lib/core/schema/element';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import { respond } from '../../src/lib/server/api/http';
import { database, isUnreachable, run, select } from '../../src/lib/server/database/connect';
import { affectedPages } from '../../src/lib/server/site/affected';
import { releasedDesign, siteDesign, styleSheet } from '../../src/lib/server/site/design';
import { answer } from '../../src/lib/server/site/respond';
import { readModel } from '../../src/lib/server/services/model';
import { saveRule } from '../../src/lib/server/services/rules';
import { changeRecord, createRecord, publishDue } from '../../src/lib/server/services/records';
import { goBack, pendingChanges, readReleases, release, takeUp } from '../../src/lib/server/services/releases';
import { endShare, readShares, shareExpiry } from '../../src/lib/server/services/shares';
import { createTemplate, readTemplate, saveTemplate } from '../../src/lib/server/services/templates';
import { readTheme } from '../../src/lib/server/services/theme';
import { saveContentType } from '../../src/lib/server/services/types';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { shareDraft } from '../support/services';
import { saveMenu, saveTheme } from '../support/services';
import { environmentOf } from '../support/server';

const origin = 'https://a.example';
const page = (before: string): Tree =>
  treeFrom({
    kind: 'box',
    id: 'root',
    children: [{ kind: 'heading', id: 'h', slots: { text: boundTo('record', ['@title'], { before }) } }],
  });
const get = async (path: string, which: 'released' | 'draft' = 'released') => answer(path, { base: '', origin, which });
const html = async (path: string, which: 'released' | 'draft' = 'released') => (await get(path, which)).html;
const still = { signal: new AbortController().signal, report: () => undefined };

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await createRecord('house', { title: 'Grey crag', status: 'published', terms: ['peak'], values: { name: 'Ash' } });
  await createRecord('house', { title: 'Birch bank', status: 'published', values: { height: 3 } });
  await createRecord('way', { title: 'Over the top', status: 'published' });
});
afterAll(() => drop());

const change = async (tree: Tree) => saveTemplate('page', { ...(await readTemplate('page')), tree });

describe('a release', () => {
  it('is what visitors see; until then pages of a released type are plain, and the draft is as designed', async () => {
    await createTemplate({ id: 'page', name: 'Page', purpose: 'record', typeId: 'house', tree: page('One: ') });
    expect(await html('/houses/grey-crag')).not.toContain('One: ');
    expect(await html('/houses/grey-crag', 'draft')).toContain('One: Grey crag');
    expect(await html('/houses/grey-crag', 'draft')).toContain('noindex');
    const first = await release({ note: 'First' });
    expect(first.changes).toMatchObject([{ what: 'template', how: 'new', name: 'Page' }]);
    expect(await html('/houses/grey-crag')).toContain('One: Grey crag');
    expect((await refused(release())).title).toContain('Nothing has changed');
  });

  it('takes everything that was designed together: templates, theme, menus, addresses', async () => {
    await change(page('Two: '));
    await saveTheme({
      theme: {
        ...BUILT_IN,
        colour: BUILT_IN.colour.map((one) => (one.key === 'ink' ? { ...one, value: '#010203' } : one)),
      },
      version: 0,
    });
    const menu = await saveMenu({
      name: 'Main',
      entries: [{ id: 'a', leads: { to: 'type', typeId: 'house' }, below: [] }],
    });
    await createTemplate({
      id: 'frame',
      name: 'Frame',
      purpose: 'frame',
      tree: treeFrom({ kind: 'box', children: [{ kind: 'menu', props: { menu: menu.id } }, { kind: 'slot' }] }),
    });
    const house = (await readModel()).type('house')!;
    await saveContentType({ ...house, address: '/homes/{slug}' });
    const before = await html('/houses/grey-crag');
    expect(before).toContain('One: Grey crag');
    expect(before).not.toContain('aria-label="Main"');
    const { changes, mark } = await pendingChanges();
    expect(changes.map(({ what, how, name }) => `${what} ${how} ${name}`)).toEqual([
      'addresses changed Houses',
      'template changed Page',
      'template new Frame',
      'menu new Main',
      'theme changed Theme',
    ]);
    const found = await affectedPages(still, '');
    expect(found.some.filter(({ how }) => how === 'moved').map(({ was, address }) => [was, address])).toContainEqual([
      '/houses/grey-crag',
      '/homes/grey-crag',
    ]);
    expect(found.some.map(({ address }) => address)).toContain('/ways/over-the-top');
    await release({ mark, pages: found.changed });
    const after = await get('/homes/grey-crag');
    expect(after.html).toContain('Two: Grey crag');
    expect(after.html).toMatch(/aria-label="Main"><ul><li><a href="\/houses\/" aria-current="true">Houses/);
    expect(await get('/houses/grey-crag')).toMatchObject({ status: 301, to: '/homes/grey-crag' });
    const sheet = /\/styles\/(r3-[0-9a-f]+\.css)/.exec(after.html)?.[1] ?? '';
    expect(await styleSheet(sheet, '')).toMatchObject({
      current: true,
      css: expect.stringContaining('--colour-ink:#010203') as string,
    });
    expect((await readReleases()).map(({ id, shown, pages }) => [id, shown, pages])).toEqual([
      [3, true, found.changed],
      [2, false, null],
      [1, false, null],
    ]);
  });

  it('is refused where the draft is another one than was looked at', async () => {
    const { mark } = await pendingChanges();
    await change(page('Three: '));
    const no = await refused(release({ mark }));
    expect([no.status, no.title]).toEqual([409, expect.stringContaining('changed since you looked')]);
    expect(await html('/homes/grey-crag')).toContain('Two: ');
  });

  it('can be gone back to, with what was designed since left alone; or taken up in the draft', async () => {
    await goBack(2);
    expect(await html('/houses/grey-crag')).toContain('One: Grey crag');
    expect(await get('/homes/grey-crag')).toMatchObject({ status: 301, to: '/houses/grey-crag' });
    expect(await html('/homes/grey-crag', 'draft')).toContain('Three: ');
    expect((await refused(goBack(2))).status).toBe(409);
    expect((await refused(goBack(99))).status).toBe(404);
    await takeUp(3);
    expect((await readTemplate('page')).tree).toEqual(page('Two: '));
    await goBack(3);
    expect((await pendingChanges()).changes).toEqual([]);
    // Old releases still have their sheets, for pages that were fetched a moment ago.
    const { address } = (await releasedDesign(2)).sheet('');
    expect((await styleSheet(address.slice('/styles/'.length), ''))?.current).toBe(true);
  });

  it('counts only the pages that are drawn otherwise', async () => {
    await change(page('Two: '));
    const same = await affectedPages(still, '');
    expect([same.changed, same.looks, same.drawn]).toEqual([0, 0, 0]);
    // A rule that holds for one house alone changes that one.
    const tree = page('Two: ');
    tree.elements.more = {
      id: 'more',
      kind: 'text',
      props: {},
      children: [],
      slots: { text: boundTo('record', ['name']) },
    };
    tree.elements.root!.children.push('more');
    await change(tree);
    const { some, changed, drawn } = await affectedPages(still, '');
    expect([changed, drawn, some.map(({ address, how }) => [address, how])]).toEqual([
      1,
      2,
      [['/homes/grey-crag', 'changed']],
    ]);
    const aborted = new AbortController();
    aborted.abort();
    expect((await affectedPages({ ...still, signal: aborted.signal }, '')).changed).toBe(0);
    await release();
  });

  it('counts pages that only look otherwise, where that can be seen', async () => {
    const base = 'body{color:var(--colour-ink)}.chart{color:var(--colour-accent)}h9{margin:var(--space-xl)}';
    const at = async () => {
      const { changed, looks, some } = await affectedPages(still, base);
      return [
        changed,
        looks,
        some.map(({ address, how }) => `${how} ${address}`).filter((one) => one.includes('homes/')),
      ];
    };
    const { theme, version } = await readTheme();
    const coloured = (key: string, value: string) => ({
      ...theme,
      colour: theme.colour.map((one) => (one.key === key ? { ...one, value } : one)),
    });
    // Nothing on any page is in this colour.
    const accent = await saveTheme({ theme: coloured('accent', '#123456'), version });
    expect(await at()).toEqual([0, 0, []]);
    const back = await saveTheme({ theme, version: accent.version });
    // The looks of an element are seen where its template is.
    const tree = (await readTemplate('page')).tree;
    const styled = {
      ...tree,
      elements: { ...tree.elements, h: { ...tree.elements.h!, style: { wide: { colour: 'accent' } } } },
    };
    await change(styled);
    expect(await at()).toEqual([2, 0, ['changed /homes/grey-crag', 'changed /homes/birch-bank']]);
    await release();
    // Other looks of the same element leave its HTML as it is.
    await change({
      ...styled,
      elements: { ...styled.elements, h: { ...styled.elements.h!, style: { wide: { colour: 'deep' } } } },
    });
    expect(await at()).toEqual([2, 2, ['looks /homes/grey-crag', 'looks /homes/birch-bank']]);
    await change(styled);
    // What every page is written in is seen on every page.
    await saveTheme({ theme: coloured('ink', '#445566'), version: back.version });
    const [changed, looks] = await at();
    expect(changed).toBe(looks);
    expect(changed).toBe((await affectedPages(still, base)).pages);
    await saveTheme({ theme, version: back.version + 1 });
  });

  it('tells pages with nothing in them, and without a first heading, before it happens', async () => {
    const tree = (await readTemplate('page')).tree;
    const { bare, untitled } = await affectedPages(still, '');
    expect([bare.pages, untitled.pages]).toEqual([0, 0]);
    await change(treeFrom({ kind: 'box', children: [{ kind: 'text', slots: { text: boundTo('record', ['name']) } }] }));
    const found = await affectedPages(still, '');
    expect(found.bare).toEqual({ pages: 1, some: [{ address: '/homes/birch-bank', title: 'Birch bank' }] });
    expect(found.untitled).toEqual({ pages: 1, some: [{ address: '/homes/grey-crag', title: 'Grey crag' }] });
    await change(tree);
  });

  it('keeps rules by name with it', async () => {
    const rule = await saveRule({
      name: 'High',
      typeId: 'house',
      rule: { group: 'all', rules: [{ test: 'order.gt', path: { from: 'record', steps: ['height'] }, operand: 2 }] },
    });
    const tree = page('High: ');
    tree.elements.h!.rule = { group: 'all', rules: [{ named: rule.id }] };
    await change(tree);
    await release();
    expect(await html('/homes/birch-bank')).toContain('High: Birch bank');
    await saveRule({
      ...rule,
      rule: { group: 'all', rules: [{ test: 'order.gt', path: { from: 'record', steps: ['height'] }, operand: 100 }] },
    });
    expect(await html('/homes/birch-bank')).toContain('High: Birch bank');
    expect(await html('/homes/birch-bank', 'draft')).not.toContain('High: Birch bank');
  });
});

describe('scheduled records', () => {
  it('are seen once their moment has come, by whichever process looks', async () => {
    const inAnHour = new Date(Date.now() + 3_600_000).toISOString();
    const made = await createRecord('house', { title: 'Soon', status: 'scheduled', published: inAnHour });
    expect(made.status).toBe('scheduled');
    expect((await get('/homes/soon')).status).toBe(404);
    expect(await publishDue()).toBe(0);
    // Its moment comes.
    await run('UPDATE records SET published = ? WHERE id = ?', [new Date(Date.now() - 1000), made.id]);
    expect((await Promise.all([publishDue(), publishDue(), publishDue()])).reduce((a, b) => a + b)).toBe(1);
    expect((await get('/homes/soon')).status).toBe(200);
    const [count] = await select<{ n: number }>(
      "SELECT SUM(n) AS n FROM record_counts WHERE type_id = 'house' AND status = 'scheduled'",
    );
    expect(Number(count?.n)).toBe(0);
  });

  it('need a moment, and are published at once where it is past', async () => {
    const no = await refused(createRecord('house', { title: 'When', status: 'scheduled' }));
    expect(no.problems[0]?.at).toBe('published');
    const past = await createRecord('house', { title: 'Past', status: 'scheduled', published: '2020-01-01T00:00:00Z' });
    expect(past.status).toBe('published');
    const later = await changeRecord(past.id, { status: 'scheduled', published: '2999-01-01T00:00:00Z' });
    expect([later.status, (await get('/homes/past')).status]).toEqual(['scheduled', 404]);
    const now = await changeRecord(past.id, { status: 'published' });
    expect(new Date(now.published ?? '').getTime()).toBeLessThanOrEqual(Date.now());
    expect((await get('/homes/past')).status).toBe(200);
  });
});

describe('links to the draft', () => {
  it('hold until they expire or are taken back, and are kept as a hash only', async () => {
    const { token, id } = await shareDraft({ note: 'For Bo', days: 2 });
    expect((await shareExpiry(token))?.getTime()).toBeGreaterThan(Date.now() + 86_400_000);
    const [row] = await select<{ hash: string }>('SELECT token_hash AS hash FROM share_links WHERE id = ?', [id]);
    expect(row?.hash).not.toContain(token);
    expect(await shareExpiry('wrong-token-that-is-long-enough')).toBeUndefined();
    expect(await shareExpiry("' OR 1=1 --")).toBeUndefined();
    await run('UPDATE share_links SET expires = ? WHERE id = ?', [new Date(Date.now() - 1000), id]);
    expect(await shareExpiry(token)).toBeUndefined();
    expect(await readShares()).toEqual([]);
    const other = await shareDraft({});
    await endShare(other.id);
    expect(await shareExpiry(other.token)).toBeUndefined();
    expect((await refused(shareDraft({ days: 1000 }))).status).toBe(422);
    expect((await refused(endShare(999))).status).toBe(404);
  });
});

describe('a database that goes away in the middle', () => {
  it('leaves the release that was, and the one that was begun comes to nothing', async () => {
    const count = async () => (await readReleases()).length;
    const before = await html('/homes/grey-crag');
    const releases = await count();
    await change(page('Cut: '));
    // Another connection holds the row that a release waits for; then every other one is cut, as by a restart.
    const cut = database().transaction(async (transaction) => {
      await select('SELECT id FROM sites WHERE id = 1 FOR UPDATE', [], transaction);
      const begun = release();
      begun.catch(() => undefined);
      await new Promise((go) => setTimeout(go, 300));
      const [own] = await select<{ id: number }>('SELECT CONNECTION_ID() AS id', [], transaction);
      const others = await select<{ id: number }>(
        'SELECT id FROM information_schema.processlist WHERE db = DATABASE() AND id <> ?',
        [own?.id],
        transaction,
      );
      for (const { id } of others) await run('KILL ?', [id], transaction);
      return begun;
    });
    const error: unknown = await cut.then(
      () => undefined,
      (failure: unknown) => failure,
    );
    expect(isUnreachable(error)).toBe(true);
    const answered = await respond(() => Promise.reject(error as Error));
    expect([answered.status, ((await answered.json()) as { title: string }).title]).toEqual([
      503,
      'The database cannot be reached. Nothing was changed; try again in a moment.',
    ]);
    expect(await html('/homes/grey-crag')).toBe(before);
    expect(await count()).toBe(releases);
    await release();
    expect(await html('/homes/grey-crag')).toContain('Cut: Grey crag');
  });
});

describe('two processes on one database', () => {
  const reader = () =>
    fork('tests/support/reader.ts', [], {
      execArgv: ['--import', 'tsx'],
      env: { ...process.env, ...environmentOf() },
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
  /** What a process saw from when it was told to read until it was told to stop. */
  const reading = (child: ChildProcess) => {
    const told = once(child, 'message') as Promise<[{ torn: string[]; numbers: number[] }]>;
    child.send({ read: '/homes/grey-crag' });
    return async () => {
      child.send({ stop: true });
      return (await told)[0];
    };
  };

  it('never show parts of two releases, while one after the other is released', async () => {
    // Heading, frame and colour say which release they are of.
    const stamp = async (n: number) => {
      await change(page(`[${n}] `));
      await saveTemplate('frame', {
        ...(await readTemplate('frame')),
        tree: treeFrom({
          kind: 'box',
          children: [{ kind: 'text', slots: { text: { fixed: `frame [${n}]` } } }, { kind: 'slot' }],
        }),
      });
    };
    await stamp(0);
    await release();
    const children = [reader(), reader()];
    try {
      await Promise.all(children.map((child) => once(child, 'message')));
      const seen = children.map(reading);
      for (let n = 1; n <= 12; n++) {
        await stamp(n);
        await release();
        await goBack((await readReleases(2))[1]!.id);
        await goBack((await readReleases(1))[0]!.id);
      }
      for (const stop of seen) {
        const { torn, numbers } = await stop();
        expect(torn).toEqual([]);
        expect(new Set(numbers).size).toBeGreaterThan(1);
      }
      // Asked once more, both show the last one.
      for (const child of children) expect((await reading(child)()).numbers.at(-1)).toBe(12);
    } finally {
      for (const child of children) child.kill();
    }
  });

  it('that release at once make one after the other of it', async () => {
    await change(page('[last] '));
    const outcomes = await Promise.allSettled([release(), release(), release()]);
    expect(outcomes.filter(({ status }) => status === 'fulfilled')).toHaveLength(1);
    expect((await siteDesign('released')).templates.find(({ id }) => id === 'page')?.tree).toEqual(page('[last] '));
  });
});
