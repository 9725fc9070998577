import { XMLParser, XMLValidator } from 'fast-xml-parser';
import Papa from 'papaparse';
import { parse, type DefaultTreeAdapterTypes } from 'parse5';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { kinds } from '../../src/lib/core/model/kinds';
import { atomFeed, jsonFeed } from '../../src/lib/core/serving/feeds';
import { treeFrom } from '../../src/lib/core/templates/build';
import { exportType } from '../../src/lib/server/exchange/exporting';
import { Refusal } from '../../src/lib/server/base/refusal';
import { addBytes } from '../../src/lib/server/services/media';
import { readModel } from '../../src/lib/server/services/model';
import { createRecord } from '../../src/lib/server/services/records';
import { release } from '../../src/lib/server/services/releases';
import { createTemplate } from '../../src/lib/server/services/templates';
import { saveContentType } from '../../src/lib/server/services/types';
import { feedAt } from '../../src/lib/server/site/outlets';
import { answer } from '../../src/lib/server/site/respond';
import { ATTACKS } from '../support/attacks';
import { freshDatabase } from '../support/database';
import { field } from '../support/world';
import { saveAuthor, saveTaxonomy, saveTerm } from '../support/services';
import { saveMenu } from '../support/services';
import { saveSite } from '../support/services';

/** Every attack through every text of the model, as each kind: published, fed and exported. Pages are read by parse5 (HTML Living Standard). */
const origin = 'https://huts.example';
const own = kinds.filter(({ name, forFields }) => forFields !== false && !['rows', 'terms', 'relation'].includes(name));
const OPTIONS = { options: ATTACKS.slice(0, 20).map((label, i) => ({ key: `o${i}`, label })) };
let drop: () => Promise<void>;
/** What was taken: the address of its page, the attack, and the kinds that took it. */
const taken: { id: number; title: string; attack: string; kinds: string[] }[] = [];
const refusedBy = new Map<string, number>();
let termId: string;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveTaxonomy({ id: 'area', key: 'area', name: 'Area <i>', tree: true });
  await saveContentType({
    id: 'thing',
    key: 'thing',
    name: 'Thing',
    plural: 'Things',
    base: 'things',
    taxonomyIds: ['area'],
    fields: own.map(({ name }) =>
      field(`f_${name.replace(/\W/g, '_')}`, name, name.startsWith('choice') ? OPTIONS : {}, `<b>${name}</b>`),
    ),
  });
  const picture = await addBytes(
    '<script>.svg',
    Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><rect width="9" height="9"/></svg>'),
    '"><script>alert(1)</script>',
  );
  for (const [i, attack] of ATTACKS.entries()) {
    const term = await saveTerm({
      id: `t${i}`,
      taxonomyId: 'area',
      parentId: null,
      name: `x ${attack}`,
      slug: `t${i}`,
      position: i,
      description: attack,
    })
      .then(({ id }) => [id])
      .catch((error: unknown) => refusal(error, 'term'));
    const author = await saveAuthor({
      name: `x ${attack}`.slice(0, 160),
      slug: `a${i}`,
      about: attack,
      pictureId: null,
    })
      .then(({ id }) => id)
      .catch((error: unknown) => (refusal(error, 'author'), null));
    termId ??= term[0] ?? '';
    // Each kind by itself first, so that one that refuses it does not keep it from the others.
    const values: Record<string, unknown> = {};
    for (const { name } of own) {
      const id = `f_${name.replace(/\W/g, '_')}`;
      const forms: unknown[] =
        name === 'link'
          ? [
              { url: attack, label: attack },
              { url: '/x', label: attack },
            ]
          : name === 'embed'
            ? [
                { src: attack, title: attack },
                { src: '/player/x', title: attack },
              ]
            : name === 'place'
              ? [{ lat: 1, lon: 2, label: attack }]
              : name === 'choices' || name === 'pictures'
                ? [[attack]]
                : [attack];
      for (const form of forms) {
        const made = await createRecord('thing', { title: 'Trial', values: { [id]: form } }).catch(
          (error: unknown) => void refusal(error, name),
        );
        if (made) {
          values[id] = form;
          break;
        }
      }
    }
    const title = `x ${attack}`.slice(0, 400);
    const made = await createRecord('thing', {
      title,
      slug: `r-${i}`,
      status: 'published',
      terms: term,
      authorId: author,
      values: { ...values, f_picture: picture.id },
    }).catch((error: unknown) => void refusal(error, 'record'));
    if (made) taken.push({ id: made.id, title: made.title, attack, kinds: Object.keys(values) });
  }
  await saveSite({ ...(await readModel()).site, name: ATTACKS[1]!, tagline: ATTACKS[2]! });
  const menu = await saveMenu({
    name: 'M',
    entries: ATTACKS.slice(0, 12).map((label, i) => ({ id: `m${i}`, label, leads: { to: 'front' }, below: [] })),
  });
  await createTemplate({
    id: 'frame',
    name: 'F',
    purpose: 'frame',
    tree: treeFrom({ kind: 'box', children: [{ kind: 'menu', props: { menu: menu.id } }, { kind: 'slot' }] }),
  });
  // Everything that the fields call for.
  await createTemplate({ id: 'thing', name: 'T', purpose: 'record', typeId: 'thing', ready: true });
  await release();
});
afterAll(() => drop());

function refusal(error: unknown, by: string): never[] {
  if (!(error instanceof Refusal)) throw error;
  refusedBy.set(by, (refusedBy.get(by) ?? 0) + 1);
  return [];
}

type Node = DefaultTreeAdapterTypes.Node;
function* elements(node: Node): Generator<DefaultTreeAdapterTypes.Element> {
  if ('tagName' in node) yield node;
  for (const child of 'childNodes' in node ? node.childNodes : []) yield* elements(child);
}
const textOf = (node: Node): string =>
  'value' in node ? node.value : 'childNodes' in node ? node.childNodes.map(textOf).join('') : '';

/** What a page has that could run, lead away or change the page; nothing for one that is sound. */
function faults(html: string): string[] {
  const wrong: string[] = [];
  for (const { tagName, attrs, childNodes } of elements(parse(html))) {
    const all = new Map(attrs.map(({ name, value }) => [name, value]));
    if (tagName === 'script') {
      if (all.get('type') !== 'application/ld+json') wrong.push('script');
      else JSON.parse(childNodes.map(textOf).join(''));
    }
    if (['object', 'base', 'applet', 'svg script', 'frame'].includes(tagName)) wrong.push(tagName);
    if (tagName === 'meta' && all.has('http-equiv')) wrong.push('meta http-equiv');
    if (tagName === 'iframe' && !/^\/player\/[\w-]+$/.test(all.get('src') ?? ''))
      wrong.push(`iframe ${all.get('src')}`);
    if (tagName === 'link' && /^(https?:)?\/\//.test(all.get('href') ?? '') && !all.get('href')?.startsWith(origin))
      wrong.push('link');
    if (tagName === 'form' && !/^\/(?!\/)/.test(all.get('action') ?? '/')) wrong.push('form');
    for (const [name, value] of all) {
      if (name.startsWith('on') || name === 'srcdoc' || name === 'formaction') wrong.push(name);
      if (name === 'style') wrong.push(`style ${value}`);
      // As browsers read an address (URL standard): where it would lead, and by what.
      if (name === 'href' || name === 'src') {
        const url = URL.canParse(value, origin) ? new URL(value, origin) : undefined;
        const fine = name === 'href' ? ['http:', 'https:', 'mailto:', 'tel:'] : ['https:'];
        if (url && (!fine.includes(url.protocol) || (name === 'src' && url.origin !== origin)))
          wrong.push(`${name} ${value}`);
      }
    }
  }
  return wrong;
}

describe('every attack', () => {
  it('is taken by text of every length, and refused by kinds that it does not fit', () => {
    expect(taken.length).toBeGreaterThan(ATTACKS.length * 0.9);
    const tookText = taken.filter((one) => one.kinds.includes('f_text')).length;
    expect(tookText).toBeGreaterThan(ATTACKS.length * 0.7);
    for (const kind of ['number', 'date', 'colour', 'email', 'phone', 'icon'])
      expect([kind, (refusedBy.get(kind) ?? 0) > ATTACKS.length * 0.8]).toEqual([kind, true]);
  });

  it('stands on its page as text: nothing runs, leads away, or closes what it stands in', async () => {
    const wrong: unknown[] = [];
    for (const [i, attack] of ATTACKS.entries()) {
      if (!taken.some((one) => one.attack === attack)) continue;
      const { html, status } = await answer(`/things/r-${i}`, { base: '', origin, which: 'released' });
      const found = faults(html);
      if (status !== 200 || found.length) wrong.push([attack, status, found]);
      const heading = [...elements(parse(html))].find(({ tagName }) => tagName === 'h1');
      const squeeze = (text: string) => text.replace(/\s+/g, ' ').trim();
      const said = taken.find((one) => one.attack === attack)!.title;
      if (squeeze(heading ? textOf(heading) : '') !== squeeze(said))
        wrong.push([attack, 'heading', heading && textOf(heading)]);
    }
    expect(wrong).toEqual([]);
  });

  it('stands in archives, of terms and of authors too, and in searches', async () => {
    const addresses = ['/', '/things/', `/area/${termId}/`, '/search/', '/nowhere/'];
    for (let page = 2; page < 12; page++) addresses.push(`/things/page/${page}/`);
    for (const address of addresses) {
      const { html } = await answer(address, { base: '', origin, which: 'released' });
      expect([address, faults(html)]).toEqual([address, []]);
    }
    for (const attack of ATTACKS) {
      const { html } = await answer(
        '/search/',
        { base: '', origin, which: 'released' },
        { q: [attack], [attack]: [attack] },
      );
      expect([attack, faults(html)]).toEqual([attack, []]);
    }
    for (const attack of ATTACKS) {
      const { html } = await answer(`/${attack}/`, { base: '', origin, which: 'released' });
      expect([attack, faults(html)]).toEqual([attack, []]);
    }
  });

  it('stands in feeds that are well formed (RFC 4287, JSON Feed 1.1)', async () => {
    const found = await feedAt('/things/feed.atom', origin);
    const text = atomFeed(found!.feed);
    expect(XMLValidator.validate(text)).toBe(true);
    const { feed } = new XMLParser({ ignoreAttributes: false }).parse(text) as {
      feed: { entry: { title: unknown }[] };
    };
    expect(feed.entry.length).toBeGreaterThan(5);
    // What XML cannot say is not in it (XML 1.0, 2.2).
    // eslint-disable-next-line no-control-regex
    expect(text).not.toMatch(/[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]/);
    expect(() => JSON.parse(JSON.stringify(jsonFeed(found!.feed))) as unknown).not.toThrow();
  });

  it('comes out as it went in: CSV (by Papa Parse) and JSON', async () => {
    const whole = async (format: string) => {
      let text = '';
      for await (const piece of (await exportType('thing', format)).content) text += String(piece);
      return text;
    };
    const rows = Papa.parse<Record<string, string>>((await whole('csv')).replace(/^\uFEFF/, ''), {
      header: true,
      skipEmptyLines: true,
    }).data;
    const objects = JSON.parse(await whole('json')) as { title: string }[];
    for (const { title } of taken) {
      expect([title, rows.some((row) => row.title === title)]).toEqual([title, true]);
      expect([title, objects.some((one) => one.title === title)]).toEqual([title, true]);
    }
  });
});
