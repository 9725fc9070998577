import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import type { Template } from '../../src/lib/core/schema/template';
import type { Tree } from '../../src/lib/core/schema/element';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import type { Theme } from '../../src/lib/core/schema/theme';
import { createRecord } from '../../src/lib/server/services/records';
import { createTemplate, deleteTemplate, readTemplate, saveTemplate } from '../../src/lib/server/services/templates';
import { readTheme, tokenUses } from '../../src/lib/server/services/theme';
import { saveContentType } from '../../src/lib/server/services/types';
import { readVersion, readVersions } from '../../src/lib/server/services/versions';
import { siteDesign, styleSheet } from '../../src/lib/server/site/design';
import { answer } from '../../src/lib/server/site/respond';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { refused } from '../support/refused';
import { model } from '../support/world';
import { saveTheme } from '../support/services';

let drop: () => Promise<void>;
const heading = (before: string): Tree =>
  treeFrom({
    kind: 'box',
    id: 'root',
    children: [{ kind: 'heading', id: 'h', slots: { text: boundTo('record', ['@title'], { before }) } }],
  });
const get = async (path: string) =>
  (await answer(path, { base: '', which: 'draft', origin: 'https://a.example' })).html;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  await createRecord('house', { title: 'Home', status: 'published', values: { height: 12 } });
});
afterAll(() => drop());

describe('versions', () => {
  it('keep every sitting, several edits of one together, and what stood before the first', async () => {
    let now = await createTemplate({ id: 'v', name: 'V', purpose: 'record', typeId: 'house', tree: heading('0 ') });
    const save = async (before: string, edits: string[], sitting: string) => {
      now = (await saveTemplate('v', { ...now, tree: heading(before) }, { edits, sitting })).template;
    };
    await save('1 ', ['One'], 'a');
    await save('2 ', ['Two', 'Three'], 'a');
    await save('3 ', ['Four'], 'b');
    const versions = await readVersions('v');
    expect(versions.map(({ edits }) => edits)).toEqual([['Four'], ['One', 'Two', 'Three'], []]);
    const trees = await Promise.all(versions.map(({ id }) => readVersion('v', id)));
    expect(trees.map(({ tree }) => JSON.stringify(tree).match(/"before":"(\d) "/)?.[1])).toEqual(['3', '2', '0']);
    expect(versions.every(({ saved }) => !Number.isNaN(Date.parse(saved)))).toBe(true);
    // A name that changes is no version of its own, and neither is the same tree once more.
    await saveTemplate('v', { ...now, name: 'W' }, { edits: [], sitting: 'b' });
    expect(await readVersions('v')).toHaveLength(3);
    expect((await refused(readVersion('v', 99_999))).status).toBe(404);
  });

  it('are not written by one who has not seen the last', async () => {
    const seen = await readTemplate('v');
    await saveTemplate('v', { ...seen, tree: heading('4 ') }, { edits: ['Five'], sitting: 'c' });
    const stale = await refused(saveTemplate('v', { ...seen, tree: heading('5 ') }, { edits: ['Six'], sitting: 'd' }));
    expect(stale.status).toBe(409);
    expect(stale.message).toContain('Nothing was overwritten');
    expect(JSON.stringify((await readTemplate('v')).tree)).toContain('"4 "');
    expect((await readVersions('v'))[0]?.edits).toEqual(['Five']);
    await deleteTemplate('v');
  });
});

describe('what does not fit', () => {
  it('is refused, but for what fitted when it was saved', async () => {
    const text = { kind: 'text', id: 't', slots: { text: boundTo('record', ['height']) } };
    const picture = (steps: string[]) => ({ kind: 'picture', id: 'p', slots: { source: boundTo('record', steps) } });
    const house = model.types.find((type) => type.id === 'house')!;
    const tree = treeFrom({ kind: 'box', id: 'root', children: [text, picture(['photo'])] });
    const made = await createTemplate({ id: 'm', name: 'M', purpose: 'record', typeId: 'house', tree });
    const wrong = treeFrom({ kind: 'box', id: 'root', children: [text, picture(['height'])] });
    const no = await refused(saveTemplate('m', { ...made, tree: wrong }));
    expect(no.problems[0]).toMatchObject({
      at: 'tree.elements.p.slots.source',
      what: 'Height is number; this takes a picture.',
    });

    // The field becomes another kind: everything else of the template can still be saved, with the end told as loose.
    await saveContentType({
      ...house,
      fields: house.fields.map((field) => (field.id === 'photo' ? { ...field, kind: 'text' } : field)),
    });
    const after = { ...tree, elements: { ...tree.elements, t: { ...tree.elements.t!, name: 'Height' } } };
    const saved = await saveTemplate('m', { ...made, tree: after });
    expect(saved.looseEnds.map((end) => [end.elementId, end.via, end.what])).toEqual([
      ['p', 'source', 'Photo is text; this takes a picture.'],
    ]);
    expect(await get('/houses/home')).toContain('12\u00a0m');
    // Another slot with the same misfit is none that stood before.
    const more = treeFrom({
      kind: 'box',
      id: 'root',
      children: [text, picture(['photo']), { ...picture(['photo']), id: 'q' }],
    });
    expect((await refused(saveTemplate('m', { ...saved.template, tree: more }))).status).toBe(422);
    await saveContentType(house);
    await deleteTemplate('m');
  });
});

describe('parts', () => {
  it('change every page they stand in, and cannot go while they stand somewhere', async () => {
    await createTemplate({ id: 'part', name: 'Line', purpose: 'part', typeId: 'house', tree: heading('Part: ') });
    const page = treeFrom({ kind: 'box', children: [{ kind: 'part', props: { part: 'part' } }] });
    await createTemplate({ id: 'page', name: 'Page', purpose: 'record', typeId: 'house', tree: page });
    expect(await get('/houses/home')).toContain('Part: Home');
    const part = await readTemplate('part');
    await saveTemplate('part', { ...part, tree: heading('Changed: ') });
    expect(await get('/houses/home')).toContain('Changed: Home');
    const no = await refused(deleteTemplate('part'));
    expect([no.status, no.message]).toEqual([409, 'This part stands in “Page”. Take it out there first.']);
    const circle = treeFrom({ kind: 'box', children: [{ kind: 'part', props: { part: 'part' } }] });
    const around = await refused(saveTemplate('part', { ...(await readTemplate('part')), tree: circle }));
    expect(around.problems[0]?.what).toBe('A part cannot stand in itself: Line → Line.');
    await deleteTemplate('page');
    await deleteTemplate('part');
  });
});

describe('the theme', () => {
  it('is kept whole, follows at once, and is never overwritten unseen', async () => {
    expect(await readTheme()).toEqual({ theme: BUILT_IN, version: 0 });
    const colour = BUILT_IN.colour.map((token) => (token.key === 'ink' ? { ...token, value: '#112233' } : token));
    const added: Theme = {
      ...BUILT_IN,
      colour: [...colour, { key: 'brand', name: 'Brand', value: '#aa0000' }],
      space: [],
    };
    const { version, theme } = await saveTheme({ theme: added, version: 0 });
    // What the site's own style sheet needs is never gone.
    expect(theme.space).toEqual(BUILT_IN.space);
    const { address } = (await siteDesign('draft')).sheet('');
    const sheet = await styleSheet(address.slice('/styles/'.length), '');
    expect(sheet).toMatchObject({ current: true });
    expect(sheet?.css).toContain('--colour-ink:#112233');
    expect(sheet?.css).toContain('--colour-brand:#aa0000');
    expect((await styleSheet('draft-0000000000.css', ''))?.current).toBe(false);
    expect((await refused(saveTheme({ theme: BUILT_IN, version: 0 }))).status).toBe(409);
    const look = { key: 'x', name: 'X', kind: 'box', style: { wide: { padding: '1px}body{display:none' } } };
    expect(await refused(saveTheme({ theme: { ...BUILT_IN, looks: [look] }, version: 1 }))).toMatchObject({
      status: 422,
      problems: [{ at: 'looks.0.wide.padding' }],
    });
    const bad = { ...BUILT_IN, colour: [{ key: 'ink', name: 'Ink', value: 'red;}body{display:none' }] };
    const no = await refused(saveTheme({ theme: bad, version }));
    expect([no.status, no.problems[0]?.at]).toEqual([422, 'theme.colour.0.value']);
    expect((await readTheme()).version).toBe(version);
  });

  it('knows where its tokens stand, and each template has a sheet of its own looks', async () => {
    const tree = treeFrom({
      kind: 'box',
      children: [
        {
          kind: 'text',
          name: 'Lead',
          slots: { text: boundTo('record', ['@title']) },
          style: { wide: { colour: 'brand' }, narrow: { above: 'm' } },
        },
        {
          kind: 'text',
          slots: { text: boundTo('record', ['@title']) },
          style: { wide: { colour: 'brand' } },
          css: '& { color: blue }',
        },
      ],
    });
    const made: Template = await createTemplate({
      id: 'styled',
      name: 'Styled',
      purpose: 'record',
      typeId: 'house',
      tree,
    });
    const uses = await tokenUses();
    expect(uses['colour-brand']).toEqual([{ template: 'Styled', elements: 2 }]);
    expect(uses['space-m']).toEqual([{ template: 'Styled', elements: 1 }]);
    const html = await get('/houses/home');
    const file = /\/styles\/(draft-[0-9a-f]+\.css)/.exec(html)?.[1] as string;
    const sheet = await styleSheet(file, '');
    expect(sheet?.current).toBe(true);
    expect(sheet?.css).toMatch(/\.lead-\w{5}\{color:var\(--colour-brand\)\}/);
    // Another state has another address, and the old one is told apart.
    await saveTemplate('styled', { ...made, tree: heading('') });
    expect((await styleSheet(file, ''))?.current).toBe(false);
    expect(await get('/houses/home')).not.toContain(file);
    expect(await styleSheet('nothing-abc.css', '')).toBeUndefined();
    expect(await styleSheet('../../x', '')).toBeUndefined();
  });
});
