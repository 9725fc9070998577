import { parse as colourOf, wcagContrast } from 'culori';
import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { describe, expect, it } from 'vitest';
import { indexModel } from '../../src/lib/core/model/model';
import { cardSize } from '../../src/lib/core/model/media';
import { compileTree } from '../../src/lib/core/render/compile';
import { firstWords } from '../../src/lib/core/render/first-words';
import { structuredOf } from '../../src/lib/core/render/structured';
import {
  fitting,
  gridWidth,
  PAGE_ROOM,
  parted,
  SCREEN_WIDTH,
  sizesOf,
} from '../../src/lib/core/styles/available-width';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { siteIcon } from '../../src/lib/core/theme/icon';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import { envOf, houseScopes, index, model, own, picture, record } from '../support/world';

/** The width in pixels that a `sizes` attribute says for a screen (HTML Standard, 4.8.4.3.5: the first that matches). */
function widthSaid(sizes: string, screen: number): number {
  for (const part of sizes.split(', ')) {
    const [, from, length = ''] = /^(?:\(min-width: ([\d.]+)rem\) )?(.+)$/.exec(part) ?? [];
    if (from && screen < Number(from) * 16) continue;
    const [, share, sign, rem] = /^calc\(([\d.]+)vw ([+-]) ([\d.]+)rem\)$/.exec(length) ?? [];
    if (share) return (Number(share) * screen) / 100 + Number(`${sign}${rem}`) * 16;
    return length.endsWith('vw') ? (parseFloat(length) * screen) / 100 : parseFloat(length) * 16;
  }
  throw new Error(`Nothing is said for ${screen}: ${sizes}`);
}

describe('the room of pictures', () => {
  it('is said in sizes as it is at every width', () => {
    expect(sizesOf(PAGE_ROOM)).toBe('(min-width: 76rem) 73rem, calc(100vw - 3rem)');
    expect(sizesOf(SCREEN_WIDTH)).toBe('100vw');
    const halves = parted(PAGE_ROOM, [{ from: 48, of: 2, gaps: 2 }]);
    expect(sizesOf(halves)).toBe(
      '(min-width: 76rem) 35.5rem, (min-width: 48rem) calc(50vw - 2.5rem), calc(100vw - 3rem)',
    );
    for (const room of [PAGE_ROOM, halves, gridWidth(PAGE_ROOM, 3, 1), gridWidth(halves, 4, 2), fitting(halves, 12, 0)])
      for (let screen = 320; screen <= 2000; screen += 40) {
        const step = room.find(({ from }) => from * 16 <= screen)!;
        const truth = Math.min(step.share * screen - step.less * 16, step.most * 16);
        expect(Math.abs(widthSaid(sizesOf(room), screen) - truth)).toBeLessThan(0.2);
      }
  });

  it('is that of the column, turn and part they stand in', () => {
    const image: Nested = { kind: 'picture', slots: { source: { fixed: 8 } } };
    const sizes = (nested: Nested) =>
      / sizes="([^"]*)"/.exec(
        compileTree(treeFrom(nested), houseScopes, index).draw(envOf([record(1, 'house')], [picture(8)])),
      )?.[1] ?? '';
    const columns = (share: string, ...children: Nested[]): Nested => ({ kind: 'columns', props: { share }, children });
    expect(widthSaid(sizes({ kind: 'box', children: [image] }), 1280)).toBe(73 * 16);
    expect(widthSaid(sizes(columns('equal', image, image)), 1280)).toBe(35.5 * 16);
    expect(widthSaid(sizes(columns('wide-first', image, image)), 1280)).toBeCloseTo((71 * 16 * 2) / 3, 0);
    expect(widthSaid(sizes(columns('equal', image, image)), 390)).toBe(390 - 48);
    expect(widthSaid(sizes({ kind: 'section', props: { inner: 'text' }, children: [image] }), 1280)).toBe(44 * 16);
    expect(widthSaid(sizes({ kind: 'section', props: { inner: 'full' }, children: [image] }), 1600)).toBe(1600);
    const half: Nested = {
      kind: 'box',
      style: { wide: { width: 'half' }, narrow: { width: 'full' } },
      children: [image],
    };
    expect([1280, 390].map((screen) => widthSaid(sizes(half), screen))).toEqual([36.5 * 16, 390 - 48]);
  });

  it('decides what is fetched first: the first large one, and the first of all', () => {
    const small: Nested = { kind: 'picture', props: { width: 'icon' }, slots: { source: { fixed: 8 } } };
    const large: Nested = { kind: 'picture', slots: { source: { fixed: 8 } } };
    const band: Nested = {
      kind: 'section',
      slots: { background: { fixed: 8 } },
      children: [{ kind: 'text', slots: { text: { fixed: 'A' } } }],
    };
    const how = (...children: Nested[]) =>
      [
        ...compileTree(treeFrom({ kind: 'box', children }), houseScopes, index)
          .draw(envOf([record(1, 'house')], [picture(8)]))
          .matchAll(/<img[^>]*>/g),
      ].map(([image]) =>
        image.includes('fetchpriority="high"') ? 'first' : image.includes('loading="lazy"') ? 'late' : 'at once',
      );
    expect(how(small, small, large, large)).toEqual(['at once', 'late', 'first', 'late']);
    expect(how(band, large)).toEqual(['first', 'late']);
  });
});

describe('what a page says to programs', () => {
  const told = (is: string, properties: { property: string; path: ReturnType<typeof own> }[]) =>
    indexModel({
      ...model,
      authors: [{ id: 3, name: 'Ida Vance', slug: 'ida-vance', about: '', pictureId: null }],
      types: model.types.map((type) => (type.id === 'house' ? { ...type, structured: { is, properties } } : type)),
    });
  const house = {
    ...record(1, 'house', { phone: '+44 1632 960010' }),
    authorId: 3,
    published: '2026-05-04T10:00:00.000Z',
  };
  it('has who wrote an article and when, and nothing of that for places', () => {
    const article = structuredOf(house, envOf([house], [], { model: told('BlogPosting', []) }), 'https://a.example');
    expect(article).toMatchObject({
      author: { '@type': 'Person', name: 'Ida Vance', url: 'https://a.example/by/ida-vance/' },
      datePublished: '2026-05-04T10:00:00.000Z',
      dateModified: house.changed,
    });
    const hotel = structuredOf(
      house,
      envOf([house], [], { model: told('Hotel', [{ property: 'telephone', path: own('phone') }]) }),
      '',
    );
    expect(hotel).not.toHaveProperty('author');
    expect(hotel).not.toHaveProperty('dateModified');
    // schema.org: telephone is Text.
    expect(hotel).toHaveProperty('telephone', '+441632960010');
  });

  it('has the size of the picture that it names', () => {
    expect(cardSize({ ...picture(8), width: 4000, height: 3000 })).toEqual([1280, 960]);
    expect(cardSize({ ...picture(8), width: 900, height: 600 })).toEqual([640, 427]);
    expect(cardSize({ ...picture(8), mime: 'image/svg+xml', width: 90, height: 60 })).toEqual([90, 60]);
  });
});

describe('the language of words', () => {
  it('is told where a field has one that is not the site’s, in words and in blocks', () => {
    const tongue = (language: string) =>
      indexModel({
        ...model,
        types: model.types.map((type) => ({
          ...type,
          fields: type.fields.map((field) =>
            ['name', 'story', 'prose'].includes(field.id)
              ? { ...field, settings: { ...field.settings, language } }
              : field,
          ),
        })),
      });
    const page: Nested = {
      kind: 'box',
      children: [
        { kind: 'heading', slots: { text: boundTo('record', ['name'], { fallbacks: [{ path: own('@title') }] }) } },
        { kind: 'text', slots: { text: boundTo('record', ['story']) } },
        { kind: 'text', slots: { text: boundTo('record', ['prose']) } },
      ],
    };
    const drawIn = (language: string, values: Record<string, unknown>) => {
      const known = tongue(language);
      return compileTree(treeFrom(page), houseScopes, known).draw(
        envOf([record(1, 'house', values, { title: 'Mist Hut' })], [], { model: known }),
      );
    };
    const html = drawIn('ja', { name: '霧の小屋', story: '一\n\n二', prose: '<p>三</p>' });
    expect(html).toMatch(/<h2[^>]*><span lang="ja">霧の小屋<\/span>/);
    expect(html).toMatch(/<div[^>]* lang="ja"><p>一<\/p><p>二<\/p><\/div>/);
    expect(html).toMatch(/<div[^>]* lang="ja"><p>三<\/p><\/div>/);
    expect(drawIn('ja', {})).toMatch(/<h2[^>]*>Mist Hut</);
    for (const same of ['', 'en', 'en-GB']) expect(drawIn(same, { name: 'A', story: 'B' })).not.toContain('lang=');
  });
});

describe('the icon of the site', () => {
  it('is its first letter, whatever that is, readable on its ground', () => {
    for (const [name, letter] of [
      ['alder huts', 'A'],
      ['霧の小屋', '霧'],
      ['<b>', '&lt;'],
      ['👩‍🚀 crew', '👩‍🚀'],
    ]) {
      const svg = siteIcon({ name: name!, locale: 'en-GB' }, BUILT_IN);
      expect(XMLValidator.validate(svg)).toBe(true);
      expect(svg).toContain(`>${letter}</text>`);
      const read = new XMLParser({ ignoreAttributes: false }).parse(svg) as {
        svg: { rect: { '@_fill': string }; text: { '@_fill': string } };
      };
      expect(wcagContrast(colourOf(read.svg.rect['@_fill'])!, colourOf(read.svg.text['@_fill'])!)).toBeGreaterThan(4.5);
    }
  });
});

describe('what a page is about where nothing else says so', () => {
  const story = 'A night in a hut begins with wet boots by the stove & ends late.';
  const page = (...parts: string[]) => parts.join('');

  it('is its first paragraph that says something', () => {
    const html = page(
      '<h1>Grey Crag</h1><p>38 bunks</p>',
      `<p class="text">${story.replace('&', '&amp;')}</p><p>More of it, and so much more of it.</p>`,
    );
    expect(firstWords(html, { facts: false })).toBe(story);
    expect(firstWords(html, { facts: true })).toBe(story);
    expect(firstWords(page('<nav><p>', story, '</p></nav><h2>', story, '</h2>'), { facts: true })).toBeUndefined();
  });

  it('is what stands on it where there is none, if that is asked for', () => {
    const facts =
      '<h1>Weekend</h1><dl><dt>When</dt><dd>12 May</dd><dt>Where</dt><dd>the lower bridge, by boat</dd></dl><p>Bring gloves.</p>';
    expect(firstWords(facts, { facts: true })).toBe('When: 12 May · Where: the lower bridge, by boat · Bring gloves.');
    expect(firstWords(facts, { facts: false })).toBeUndefined();
    expect(firstWords('<p>Short.</p>', { facts: true })).toBeUndefined();
  });

  it('has 300 characters at most, and ends at a word', () => {
    const said = firstWords(`<p>${'harbour '.repeat(100)}</p>`, { facts: false })!;
    expect(said.length).toBeLessThanOrEqual(300);
    expect(said).toMatch(/harbour…$/);
  });
});
