import { createApi } from '../../src/lib/client/api';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { keyOfList, type LoopReport } from '../../src/lib/core/loops/loop-report';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import type { Template } from '../../src/lib/core/schema/template';
import type { SentOperation } from '../../src/lib/core/templates/merging';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import { RequestFailed } from '../../src/lib/studio/base/request';
import { Saving } from '../../src/lib/studio/workbench/state/saving.svelte';
import type { CanvasListRequest } from '../../src/lib/studio/workbench/state/site-lists.svelte';
import { changeable, showOne, suppose } from '../../src/lib/studio/workbench/state/suppose';
import { Workbench } from '../../src/lib/studio/workbench/state/workbench.svelte';
import { model, picture, record } from '../support/world';

const words = (text: string) => ({ fixed: text });
const tree = treeFrom({
  kind: 'box',
  id: 'root',
  children: [
    { kind: 'heading', id: 'head', slots: { text: boundTo('record', ['@title']) } },
    { kind: 'text', id: 'one', slots: { text: words('One') } },
    { kind: 'box', id: 'held', children: [{ kind: 'text', id: 'two', slots: { text: words('Two') } }] },
  ],
});
const template: Template = {
  id: 't',
  name: 'House page',
  purpose: 'record',
  order: 0,
  version: 7,
  tree,
  serves: [{ on: 'type', typeId: 'house' }],
};
const records = [
  record(1, 'house', { height: 3 }, { title: 'Ash' }),
  record(2, 'house', {}, { title: 'Birch', terms: ['north'] }),
  record(3, 'way', {}, { title: 'Path' }),
];
const open = (own: Partial<Template> = {}) =>
  new Workbench({
    model,
    records,
    media: [picture(8)],
    partial: {},
    parts: [],
    templates: [],
    theme: BUILT_IN,
    template: { ...template, ...own },
  });
const put = (wb: Workbench, id: string, text: string) =>
  wb.edit('Wrote', { do: 'put', id, at: ['slots', 'text'], value: words(text) });
const textOf = (wb: Workbench, id: string) => wb.element(id)?.slots.text;
const children = (wb: Workbench, id = 'root') => wb.element(id)?.children;

beforeEach(() => {
  vi.useFakeTimers();
  // No room may reach for a server by itself.
  vi.stubGlobal('fetch', () => Promise.reject(new Error('There is no server here.')));
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

describe('records of which only the first are here', () => {
  const house = (id: number) => record(id, 'house', {}, { title: `House ${id}` });
  const at = (first: number, count: number) => Array.from({ length: count }, (_, i) => house(first + i));
  /** A site with so many houses, that gives two thousand at a time. */
  const site = (all: number, fails = Infinity) => {
    const asked: string[] = [];
    vi.stubGlobal('fetch', (address: string) => {
      asked.push(address);
      if (asked.length >= fails) return Promise.reject(new Error('gone'));
      const after = Number(new URL(address, 'http://a.example').searchParams.get('after'));
      return Promise.resolve(Response.json({ records: at(after + 1, Math.min(2000, all - after)) }));
    });
    const wb = new Workbench({
      model,
      records: [...at(1, 1000), record(9000, 'way')],
      media: [],
      partial: { house: all },
      parts: [],
      templates: [],
      theme: BUILT_IN,
      template,
    });
    return { wb, asked };
  };

  it('stay here when one of them is corrected, a relation of it too', async () => {
    const { wb } = site(2500);
    await wb.fetchMore();
    expect(wb.atHand('house')).toBe(2500);
    const requests: string[] = [];
    vi.stubGlobal('fetch', (address: string, { method = 'GET' }: RequestInit = {}) => {
      requests.push(`${method} ${address}`);
      if (method === 'PATCH')
        return Promise.resolve(
          Response.json(record(2000, 'house', { keeper: [9000] }, { title: 'House 2000', version: 2 })),
        );
      const ids = new URL(address, 'http://a.example').searchParams.get('ids');
      return Promise.resolve(
        Response.json({ records: ids ? [record(9000, 'way', {}, { title: 'Now led to' })] : at(1, 1000), media: [] }),
      );
    });
    expect(
      await wb.correct(
        wb.records.find(({ id }) => id === 2000)!,
        'keeper',
        [9000],
      ),
    ).toBeUndefined();
    expect(wb.atHand('house')).toBe(2500);
    expect(wb.records.find(({ id }) => id === 2000)?.values.keeper).toEqual([9000]);
    // The other side is read anew, and nothing else.
    expect(wb.records.find(({ id }) => id === 9000)?.title).toBe('Now led to');
    expect(requests.map((one) => one.split('?').at(-1))).toEqual([expect.stringContaining('PATCH'), 'ids=9000']);
  });

  it('are fetched while work goes on, until all are here', async () => {
    const { wb, asked } = site(2500);
    expect(wb.atHand('house')).toBe(1000);
    await wb.fetchMore();
    expect([wb.atHand('house'), wb.atHand('way'), wb.partial, asked.length]).toEqual([2500, 1, {}, 1]);
    expect(wb.records.filter(({ typeId }) => typeId === 'house').map(({ id }) => id)).toEqual(
      at(1, 2500).map(({ id }) => id),
    );
    await wb.fetchMore();
    expect(asked).toHaveLength(1);
  });

  it('are so many at most, and go on being told as some', async () => {
    const { wb, asked } = site(100_000);
    await wb.fetchMore();
    expect([wb.atHand('house'), wb.partial, asked.length]).toEqual([5000, { house: 100_000 }, 2]);
  });

  it('are found by their titles and put on screen, and the others are fetched as if they were not here', async () => {
    const { wb } = site(4500);
    const asked: string[] = [];
    const others = globalThis.fetch;
    vi.stubGlobal('fetch', (address: string) => {
      if (!/titles|records\/\d/.test(address)) return others(address);
      asked.push(address);
      return Promise.resolve(
        Response.json(
          address.includes('titles')
            ? [
                { id: 4, title: 'House 4' },
                { id: 4321, title: 'House 4321' },
              ]
            : house(4321),
        ),
      );
    });
    expect(await wb.findElsewhere(' ')).toEqual([]);
    expect(await wb.findElsewhere('House')).toEqual([{ id: 4321, title: 'House 4321' }]);
    await wb.bring(4321);
    expect([wb.preview.record?.title, wb.fetchedUpTo('house'), asked.length]).toEqual(['House 4321', 1000, 2]);
    expect(await wb.findElsewhere('House')).toEqual([]);
    await wb.fetchMore();
    expect(wb.records.filter(({ typeId }) => typeId === 'house').map(({ id }) => id)).toEqual(
      at(1, 4500).map(({ id }) => id),
    );
    expect([wb.preview.record?.title, wb.partial]).toEqual(['House 4321', {}]);
  });

  it('stay as they are where the server is away', async () => {
    const { wb } = site(100_000, 2);
    await expect(wb.fetchMore()).rejects.toThrow('cannot be reached');
    expect([wb.atHand('house'), wb.partial]).toEqual([3000, { house: 100_000 }]);
    expect(wb.index.type('house')).toBeDefined();
  });
});

describe('lists over records that are not all here', () => {
  const listed = treeFrom({
    kind: 'box',
    id: 'root',
    children: [
      {
        kind: 'loop',
        id: 'list',
        props: { source: { from: 'query', typeIds: ['house'] }, limit: 2 },
        children: [{ kind: 'text', slots: { text: boundTo('loop:list', ['@title']) } }],
      },
      { kind: 'heading', id: 'beside', slots: { text: words('Beside') } },
    ],
  });
  /** A site that has House 70 and House 71 first, and says so when it is let. */
  const site = (partial: Record<string, number> = { house: 90_000 }) => {
    const asked: CanvasListRequest[] = [];
    const let_: (() => void)[] = [];
    let away = false;
    const wb = new Workbench({
      model,
      records,
      media: [],
      partial,
      parts: [],
      templates: [],
      theme: BUILT_IN,
      template: { ...template, tree: listed },
    });
    vi.stubGlobal('fetch', async (_: string, { body }: { body: string }) => {
      asked.push(JSON.parse(body) as CanvasListRequest);
      await new Promise<void>((go) => let_.push(go));
      if (away) throw new Error('gone');
      const loop = wb.compiledOf('list')!.loop!;
      const key = keyOfList(loop, wb.preview.freshEnv());
      return Response.json({
        lists: [{ key, ids: [70, 71], total: 90_000, page: 1, pages: 1 }],
        stories: [{ key, candidates: 90_000, leftOut: 0, removed: [], found: 90_000, total: 2 }],
        facets: [],
        records: [70, 71].map((id) => record(id, 'house', {}, { title: `House ${id}` })),
      } satisfies LoopReport);
    });
    const shown = () => [...wb.preview.drawing.html.matchAll(/data-bound[^>]*>([^<]+)/g)].map(([, text]) => text);
    const answer = async (is: 'here' | 'away' = 'here') => {
      away = is === 'away';
      let_.splice(0).forEach((go) => go());
      await vi.advanceTimersByTimeAsync(0);
    };
    return { wb, asked, shown, answer };
  };
  const ask = (wb: Workbench) => void wb.lists.ask(wb.lists.asked!);

  it('are asked of the site, and go over what is here until it has answered', async () => {
    const { wb, asked, shown, answer } = site();
    expect([shown(), wb.lists.told]).toEqual([['Ash', 'Birch'], false]);
    ask(wb);
    expect(asked[0]).toMatchObject({ template: { id: 't' }, record: 1 });
    await answer();
    expect([shown(), wb.lists.told]).toEqual([['House 70', 'House 71'], true]);
    // What changes beside the list leaves it as it was told, and asks again for what may be new.
    put(wb, 'beside', 'Otherwise');
    expect([shown(), wb.lists.told]).toEqual([['House 70', 'House 71'], false]);
    // Another list is not known yet.
    wb.edit('Set', { do: 'put', id: 'list', at: ['props', 'limit'], value: 1 });
    expect(shown()).toEqual(['Ash']);
  });

  it('are asked one question at a time, the last of those that come meanwhile', async () => {
    const { wb, asked, answer } = site();
    ask(wb);
    for (const text of ['A', 'B', 'C']) {
      put(wb, 'beside', text);
      ask(wb);
    }
    expect(asked).toHaveLength(1);
    await answer();
    expect(asked).toHaveLength(2);
    expect(JSON.stringify(asked[1])).toContain('"C"');
    await answer();
    expect([asked.length, wb.lists.told]).toEqual([2, true]);
  });

  it('say how they come about only once that is told, for the loop that is worked on', async () => {
    const { wb, asked, answer } = site();
    wb.selection.select('list');
    ask(wb);
    const { loop } = wb.compiledOf('list')!;
    const story = () => wb.lists.story(loop!, wb.preview.envAt({ loops: [] }));
    expect(story()).toBeUndefined();
    await answer();
    expect(asked[0]?.story).toEqual({ loop: 'list', turns: {} });
    expect(story()).toEqual({ candidates: 90_000, leftOut: 0, tests: [], found: 90_000, total: 2 });
  });

  it('are not asked where all records are here, nor while something is supposed of which the site knows nothing', async () => {
    expect(site({}).wb.lists.asked).toBeUndefined();
    expect(site({ way: 90_000 }).wb.lists.asked).toBeUndefined();
    const { wb, shown, answer } = site();
    ask(wb);
    await answer();
    wb.preview.suppose(1, '@title', 'Elm');
    expect([shown(), wb.lists.asked]).toEqual([['Elm', 'Birch'], undefined]);
    wb.preview.letGo();
    expect(shown()).toEqual(['House 70', 'House 71']);
  });

  it('are as they are here where the site is away, or records have changed since', async () => {
    const { wb, shown, answer } = site();
    ask(wb);
    await answer('away');
    expect([shown(), wb.lists.told]).toEqual([['Ash', 'Birch'], false]);
    ask(wb);
    wb.lists.forget();
    await answer();
    expect([shown(), wb.lists.told]).toEqual([['Ash', 'Birch'], false]);
    ask(wb);
    await answer();
    expect([shown(), wb.lists.told]).toEqual([['House 70', 'House 71'], true]);
  });
});

describe('history', () => {
  it('takes edits back and does them again, each by its name', () => {
    const wb = open();
    put(wb, 'one', 'Uno');
    wb.edit('Removed it', { do: 'remove', id: 'held' });
    expect([wb.history.undoLabel, wb.history.redoLabel]).toEqual(['Removed it', undefined]);
    wb.history.undo();
    expect(children(wb)).toEqual(['head', 'one', 'held']);
    wb.history.undo();
    expect([textOf(wb, 'one'), wb.history.redoLabel]).toEqual([words('One'), 'Wrote']);
    wb.history.goTo(2);
    expect([children(wb), textOf(wb, 'one')]).toEqual([['head', 'one'], words('Uno')]);
    wb.history.goTo(0);
    expect(wb.tree).toEqual(tree);
  });

  it('keeps letters typed at one place together, until somebody pauses', () => {
    const wb = open();
    for (const text of ['U', 'Un', 'Uno']) put(wb, 'one', text);
    expect(wb.history.done).toHaveLength(1);
    vi.advanceTimersByTime(2000);
    put(wb, 'one', 'Uno!');
    expect(wb.history.done).toHaveLength(2);
    put(wb, 'two', 'Due');
    expect(wb.history.done).toHaveLength(3);
  });

  it('refuses what cannot be applied, and an edit cuts off what was undone', () => {
    const wb = open();
    expect(wb.edit('Nothing', { do: 'remove', id: 'gone' })).toBe(false);
    put(wb, 'one', 'Uno');
    wb.history.undo();
    put(wb, 'two', 'Due');
    expect(wb.history.undone).toEqual([]);
  });
});

describe('selection', () => {
  it('goes over several, one by one, and lets go of what is gone', () => {
    const { selection, commands, ...wb } = open();
    void wb;
    selection.select('one');
    selection.select('two', true);
    expect(selection.chosen).toEqual(['one', 'two']);
    selection.select('held', true);
    // What stands in something selected goes with it.
    expect(selection.chosen).toEqual(['one', 'held']);
    selection.select('one', true);
    expect(selection.id).toBe('two');
    selection.parent();
    expect([selection.id, selection.also]).toEqual(['held', []]);
    selection.step(-1);
    expect(selection.id).toBe('one');
    commands.remove();
    expect(selection.id).toBe('held');
  });

  it('lists nothing that stands in something folded, until it is to be seen', () => {
    const { selection } = open();
    selection.folded.add('held');
    expect(selection.listed.map(({ element }) => element.id)).toEqual(['root', 'head', 'one', 'held']);
    selection.reveal('two');
    expect(selection.listed).toHaveLength(5);
  });
});

describe('preview', () => {
  it('flips through the records of its type, and draws the one on screen', () => {
    const { preview } = open();
    expect(preview.strip.map(({ id }) => id)).toEqual([1, 2]);
    expect(preview.drawing.html).toContain('Ash');
    preview.flip(1);
    expect(preview.drawing.html).toContain('Birch');
    preview.flip(1);
    expect(preview.record?.id).toBe(1);
    preview.narrowed = { ids: [2], words: 'without a height' };
    expect(preview.record?.id).toBe(2);
    preview.put(1);
    expect([preview.record?.id, preview.narrowed]).toEqual([1, undefined]);
  });

  it('goes through the archives that a template serves', () => {
    const wb = open({
      purpose: 'archive',
      serves: [
        { on: 'type', typeId: 'house' },
        { on: 'term', termId: 'north' },
        // Nothing is filed under it: no page of the site.
        { on: 'term', termId: 'south' },
      ],
      tree: treeFrom({ kind: 'heading', slots: { text: boundTo('archive', ['@title']) } }),
    });
    const { preview } = wb;
    expect(preview.archives[0]).toEqual({ of: 'type', typeId: 'house' });
    expect(preview.drawing.html).toContain('Houses');
    preview.flip(1);
    expect(preview.archive).toMatchObject({ of: 'term' });
    expect(preview.archives).not.toContainEqual({ of: 'term', termId: 'south' });
    expect(preview.everyone).toEqual([]);
  });

  it('flips through the records that it answers, of all its types; others of these can be looked at too', () => {
    const ways = { on: 'type' as const, typeId: 'way' };
    const wb = open({ serves: [{ on: 'records', typeId: 'house', ids: [1] }, ways] });
    const ids = () => wb.preview.strip.map(({ id }) => id);
    expect([ids(), wb.preview.answered.answered, wb.preview.answered.all, wb.plural]).toEqual([
      [1, 3],
      2,
      3,
      'houses and ways',
    ]);
    // An address that leads to no record of these changes nothing; one that it does not answer opens all.
    wb.preview.put(99);
    expect(ids()).toEqual([1, 3]);
    wb.preview.put(2);
    expect([ids(), wb.preview.record?.id]).toEqual([[1, 2, 3], 2]);
  });

  it('supposes what stands in the turns of a loop: of records by themselves, of rows with the field that holds them', () => {
    const over = (id: string, source: object, steps: string[]) => ({
      kind: 'loop',
      id,
      props: { source },
      children: [{ kind: 'text', id: `${id}-in`, slots: { text: boundTo(`loop:${id}`, steps) } }],
    });
    const rows = over('rows', { from: 'values', path: { from: 'record', steps: ['seasons'] } }, ['season']);
    const ways = over('ways', { from: 'query', typeIds: ['way'] }, ['km']);
    const wb = open({ tree: treeFrom({ kind: 'box', id: 'root', children: [rows, ways] }) });
    wb.records = [record(1, 'house', { seasons: [{ season: 'Spring' }] }), record(3, 'way', { km: 2 })];
    const found = (loop: string, step: string) =>
      changeable(wb, { from: `loop:${loop}`, steps: [step] }, wb.scopesIn(loop))!;
    const way = found('ways', 'km');
    expect([way.record.id, way.value]).toEqual([3, 2]);
    expect(suppose(wb, way, 7)).toBeUndefined();
    const season = found('rows', 'season');
    expect([season.step, season.value]).toEqual(['seasons', [{ season: 'Spring' }]]);
    expect(suppose(wb, season, [{ season: 'Autumn' }, { season: 'Winter' }])).toBeUndefined();
    expect(wb.preview.drawing.html).toMatch(/Autumn.*Winter.*7/s);
    // What the field would refuse is not supposed.
    expect(suppose(wb, found('ways', 'km'), 'far')).toMatch(/number/);
    wb.preview.letGo();
    expect(wb.preview.drawing.html).toMatch(/Spring.*2/s);
  });

  it('shows a turn as no turn is: the nearest one, with what is supposed of its record, or why there is none', () => {
    const ask = (test: string, operand: unknown, from = 'loop:ways') => ({
      group: 'all' as const,
      rules: [{ test, path: { from, steps: [from === 'record' ? 'height' : 'km'] }, operand }],
    });
    const inTurn = (id: string, rule: object) => ({ kind: 'text', id, slots: { text: words(id) }, rule }) as Nested;
    const wb = open({
      tree: treeFrom({
        kind: 'box',
        id: 'root',
        children: [
          {
            kind: 'loop',
            id: 'ways',
            props: { source: { from: 'query', typeIds: ['way'] } },
            children: [
              inTurn('far', ask('order.ge', 40)),
              inTurn('both', { group: 'all', rules: [...ask('order.ge', 40).rules, ...ask('order.lt', 5).rules] }),
              inTurn('outside', ask('order.ge', 90, 'record')),
            ],
          },
        ],
      }),
    });
    wb.records = [record(1, 'house', {}, { title: 'Ash' }), record(3, 'way', { km: 2 }, { title: 'Near' })];
    expect(wb.preview.drawing.html).not.toContain('far');
    expect(showOne(wb, 'far')).toBe(
      'No turn is like that. The nearest is that of Near, on the page of Ash, with what is supposed above.',
    );
    expect([...wb.preview.supposed]).toEqual([[3, { km: 40 }]]);
    expect(wb.preview.drawing.html).toContain('far');
    expect(wb.selection.id).toBe('far');
    wb.preview.letGo();
    expect(showOne(wb, 'both')).toMatch(/^There can be none: .* contradict each other\.$/);
    expect(showOne(wb, 'outside')).toMatch(/asks for what stands around its turn/);
    wb.records = [record(1, 'house', {}, { title: 'Ash' })];
    expect(showOne(wb, 'far')).toMatch(/^No page has a turn of /);
  });

  it('tells what became of each element, and holds open what a rule hides', () => {
    const wb = open();
    const rule = { group: 'all', rules: [{ test: 'empty', path: { from: 'record', steps: ['@title'] } }] };
    wb.edit('Hid', { do: 'put', id: 'one', at: ['rule'], value: rule });
    expect(wb.preview.fates.get('one')).toMatchObject({ drawn: 0, rule: 1 });
    wb.hold('one');
    expect(wb.preview.drawing.html).toContain('One');
    // What is held open is no part of the page that visitors get.
    expect(wb.preview.fates.get('one')).toMatchObject({ drawn: 0, rule: 1 });
    wb.hold('one');
    expect(wb.preview.drawing.html).not.toContain('One');
  });
});

describe('commands', () => {
  it('put things into a box and take it away again', () => {
    const wb = open();
    wb.selection.select('head');
    wb.selection.select('one', true);
    wb.commands.wrap('box');
    const box = wb.selection.id;
    expect([children(wb), children(wb, box)]).toEqual([
      [box, 'held'],
      ['head', 'one'],
    ]);
    wb.commands.unwrap(box);
    expect([children(wb), wb.selection.id]).toEqual([['head', 'one', 'held'], 'head']);
  });

  it('duplicate, move and remove what is selected', () => {
    const wb = open();
    wb.selection.select('one');
    wb.commands.duplicate();
    const copy = wb.selection.id;
    expect([children(wb), textOf(wb, copy)]).toEqual([['head', 'one', copy, 'held'], words('One')]);
    wb.commands.move('down');
    expect(children(wb)).toEqual(['head', 'one', 'held', copy]);
    wb.commands.move('in');
    expect(children(wb, 'held')).toEqual(['two', copy]);
    wb.commands.move('out');
    wb.commands.move('up');
    expect(children(wb)).toEqual(['head', 'one', copy, 'held']);
    wb.commands.remove();
    expect([children(wb), wb.selection.id]).toEqual([['head', 'one', 'held'], 'held']);
  });

  it('put new things into what is selected, or after it', () => {
    const wb = open();
    wb.selection.select('held');
    expect(wb.commands.placeForNew()).toEqual({ parent: 'held', index: 1 });
    wb.selection.select('one');
    expect(wb.commands.placeForNew()).toEqual({ parent: 'root', index: 2 });
  });
});

describe('the clipboard', () => {
  it('carries elements from one template to another, under new ids', () => {
    const from = open();
    from.selection.select('held');
    const text = from.clipboard.copy() ?? '';
    const to = open();
    expect(to.clipboard.paste(text)).toBe(true);
    expect(children(to)).toHaveLength(4);
    expect(to.element(to.selection.id)?.children).not.toContain('two');
    expect(to.clipboard.paste('no elements')).toBe(false);
    expect(to.notice).toContain('no elements of a template');
  });

  it('puts a rule on another element, and says why it cannot', () => {
    const wb = open();
    const about = (from: string) => ({
      group: 'all' as const,
      rules: [{ test: 'filled', path: { from, steps: ['height'] } }],
    });
    expect(wb.clipboard.putRule('one', about('record'))).toBeUndefined();
    expect(wb.element('one')?.rule).toEqual(about('record'));
    expect(wb.clipboard.putRule('one', about('loop:gone'))).toContain('can be reached');
  });
});

describe('saving', () => {
  interface Sent {
    method: string;
    address: string;
    body: {
      version: number;
      operations: SentOperation[];
      labels: string[];
      name?: { from: string; to: string };
    };
  }
  /** A template with something that answers, as told. */
  function bench(...answers: (object | Error)[]) {
    const sent: Sent[] = [];
    const wb = open();
    const send = (method: string, address: string, body?: unknown): Promise<never> => {
      sent.push({ method, address, body: body as Sent['body'] });
      const answer = answers.shift() ?? { version: 8, name: wb.template.name };
      return (answer instanceof Error ? Promise.reject(answer) : Promise.resolve(answer)) as Promise<never>;
    };
    const saving = new Saving(wb, createApi(send));
    Object.assign(wb, { saving });
    return { wb, saving, sent };
  }
  const settle = () => vi.advanceTimersByTimeAsync(500);

  it('sends what was done since the last time, and only that', async () => {
    const { wb, saving, sent } = bench();
    for (const text of ['U', 'Un', 'Uno']) put(wb, 'one', text);
    expect(saving.state.is).toBe('unsaved');
    await settle();
    expect([saving.state.is, wb.template.version]).toEqual(['saved', 8]);
    expect(sent).toHaveLength(1);
    expect(sent[0]).toMatchObject({ method: 'POST', address: '/api/v1/templates/t/edits' });
    expect(sent[0]?.body).toMatchObject({ version: 7, labels: ['Wrote'] });
    // Letters typed at one place are one operation.
    expect(sent[0]?.body.operations.map(({ operation }) => operation)).toEqual([
      { do: 'put', id: 'one', at: ['slots', 'text'], value: words('Uno') },
    ]);
    put(wb, 'two', 'Due');
    await settle();
    expect(sent[1]?.body.operations).toHaveLength(1);
    expect(sent[1]?.body.version).toBe(8);
  });

  it('takes in what others did elsewhere, and does again what was done meanwhile', async () => {
    const theirs = treeFrom({ kind: 'box', id: 'root', children: [] });
    const other = {
      ...tree,
      elements: { ...tree.elements, two: { ...tree.elements.two!, slots: { text: words('Theirs') } } },
    };
    void theirs;
    const { wb, saving } = bench({ version: 9, name: 'Their name', tree: other });
    put(wb, 'one', 'Uno');
    const done = saving.now();
    put(wb, 'head', 'Meanwhile');
    await done;
    expect([textOf(wb, 'one'), textOf(wb, 'two'), textOf(wb, 'head')]).toEqual([
      words('One'),
      words('Theirs'),
      words('Meanwhile'),
    ]);
    expect([wb.template.name, wb.template.version, saving.state.is]).toEqual(['Their name', 9, 'unsaved']);
  });

  it('tries again where the server is away, and loses nothing', async () => {
    const { wb, saving, sent } = bench(new RequestFailed('The server cannot be reached.', 0));
    put(wb, 'one', 'Uno');
    await settle();
    expect(saving.state).toMatchObject({ is: 'failed', final: false, why: 'The server cannot be reached.' });
    put(wb, 'two', 'Due');
    await vi.advanceTimersByTimeAsync(4000);
    expect(saving.state.is).toBe('saved');
    expect(sent.at(-1)?.body.operations).toHaveLength(2);
  });

  const conflict = () => new RequestFailed('It was changed elsewhere.', 409, [{ at: 'x', what: 'The same place.' }]);
  const kept: Template = {
    ...template,
    name: 'Their name',
    version: 12,
    serves: [{ on: 'type', typeId: 'way' }],
    except: [{ on: 'records', typeId: 'way', ids: [3] }],
    tree: treeFrom({ kind: 'box', id: 'root', children: [{ kind: 'text', id: 'theirs' }] }),
  };

  it('stops at a conflict until somebody has chosen', async () => {
    const { wb, saving, sent } = bench(conflict());
    put(wb, 'one', 'Uno');
    await settle();
    expect(saving.state).toMatchObject({ is: 'failed', final: true, conflict: true });
    put(wb, 'two', 'Due');
    await vi.advanceTimersByTimeAsync(60_000);
    expect(sent).toHaveLength(1);
  });

  it('takes theirs with its name and its targets, and writes nothing over them afterwards', async () => {
    const { wb, saving, sent } = bench(conflict(), kept);
    saving.rename('My name');
    put(wb, 'one', 'Uno');
    await settle();
    await saving.takeTheirs();
    expect(wb.template).toEqual(kept);
    expect(saving.state.is).toBe('saved');
    await vi.advanceTimersByTimeAsync(60_000);
    expect(sent).toHaveLength(2);
    // The next edit goes by what was taken, and says nothing of a name.
    put(wb, 'theirs', 'More');
    await settle();
    expect(sent[2]?.body.version).toBe(12);
    expect(sent[2]?.body.name).toBeUndefined();
    expect(wb.template.serves).toEqual(kept.serves);
    wb.history.undo();
    wb.history.undo();
    expect(textOf(wb, 'one')).toEqual(words('Uno'));
  });

  it('keeps mine in the place of theirs, with the targets that stand', async () => {
    const { wb, saving, sent } = bench(conflict(), kept, { version: 13, name: 'House page' });
    put(wb, 'one', 'Uno');
    await settle();
    await saving.keepMine();
    expect(saving.state.is).toBe('saved');
    expect(sent[2]?.body.operations.map(({ operation }) => operation.do)).toEqual(['replace']);
    expect(sent[2]?.body.name).toEqual({ from: 'Their name', to: 'House page' });
    expect([wb.template.serves, textOf(wb, 'one')]).toEqual([kept.serves, words('Uno')]);
  });

  it('sends a new name with the one before it, whatever is typed on the way', async () => {
    const { saving, sent } = bench({ version: 8, name: 'B' });
    saving.rename('A');
    saving.rename('  B ');
    saving.rename('');
    await settle();
    expect(sent[0]?.body).toMatchObject({ operations: [], name: { from: 'House page', to: 'B' } });
  });
});
