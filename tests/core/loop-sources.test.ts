import { describe, expect, it } from 'vitest';
import { compileTree } from '../../src/lib/core/render/compile';
import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { envOf, houseScopes, index, picture, record } from '../support/world';

const R = 'record';
const records = [
  record(
    1,
    'house',
    {
      gallery: [9, 8, 7],
      uses: ['ski', 'walk'],
      ways: [4, 2],
      seasons: [
        {
          season: 'Winter',
          price: 12,
          guide: [5],
          beds: [
            { bed: 'Bunk', count: 4 },
            { bed: 'Bed', count: 2 },
          ],
        },
        { season: 'Summer', price: 9, beds: [{ bed: 'Mat', count: 8 }] },
        { season: 'Autumn', beds: [] },
      ],
    },
    { title: 'Home', terms: ['hill', 'south'] },
  ),
  record(2, 'way', { km: 5 }, { title: 'Éclat way', published: '2026-02-03T10:00:00Z', terms: ['hill'] }),
  record(3, 'way', { km: 3 }, { title: 'Alpha way', published: '2026-01-31T23:30:00Z' }),
  record(4, 'way', { km: 9 }, { title: 'beta way', published: '2026-02-20T10:00:00Z', terms: ['south', 'hill'] }),
  record(5, 'person', {}, { title: 'Guide' }),
  record(6, 'house', {}, { title: 'Other' }),
];
const text = (from: string, steps: string[], more = {}): Nested => ({
  kind: 'text',
  slots: { text: boundTo(from, steps, more) },
});
const loop = (
  id: string,
  source: unknown,
  children: Nested[],
  props: object = {},
  more: Partial<Nested> = {},
): Nested => ({
  kind: 'loop',
  id,
  props: { source, arrange: 'list', ...props },
  children,
  ...more,
});
const values = (from: string, ...steps: string[]) => ({ from: 'values', path: { from, steps } });
const draw = (nested: Nested, more: object = {}) => {
  const made = compileTree(treeFrom(nested), houseScopes, index);
  const env = { ...envOf(records, [picture(7), picture(8)], {}, true), ...more };
  return { html: made.draw(env), ends: made.looseEnds, env };
};
const words = (html: string) =>
  html
    .replace(/<\/?(b|strong)>/g, '')
    .replace(/<[^>]*>/g, '|')
    .replace(/\|+/g, '|');

describe('what a loop goes over', () => {
  it('is rows, and rows within rows, each reachable by name, with what stands around', () => {
    const inner = loop('beds', values('loop:seasons', 'beds'), [
      text('loop:beds', ['bed'], { after: ':' }),
      text('loop:beds', ['count']),
      text('loop:seasons', ['season'], { before: 'in ' }),
      text(R, ['@title'], { before: 'of ' }),
    ]);
    const { html, ends } = draw(
      loop('seasons', values(R, 'seasons'), [
        text('loop:seasons', ['@position'], { after: '.' }),
        text('loop:seasons', ['guide', '@title']),
        inner,
        text('loop:seasons', ['season'], { before: 'after ' }),
      ]),
    );
    expect(ends).toEqual([]);
    expect(words(html)).toBe(
      '|1.|Guide|Bunk:|4|in Winter|of Home|Bed:|2|in Winter|of Home|after Winter|2.|Mat:|8|in Summer|of Home|after Summer|3.|after Autumn|',
    );
  });

  it('is filtered and ordered like records, empties last, ties as they stand', () => {
    const rows = (props: object) =>
      words(draw(loop('s', values(R, 'seasons'), [text('loop:s', ['season'])], props)).html);
    const key = (step: string, down = false) => ({ steps: [step], down });
    expect(rows({ order: [key('price')] })).toBe('|Summer|Winter|Autumn|');
    expect(rows({ order: [key('price', true)] })).toBe('|Winter|Summer|Autumn|');
    expect(rows({ skip: 1, limit: 1 })).toBe('|Summer|');
    const filter = {
      group: 'all',
      rules: [{ test: 'order.ge', path: { from: 'loop:s', steps: ['price'] }, operand: 10 }],
    };
    expect(rows({ filter })).toBe('|Winter|');
    // Ordered by a count of rows within: 2, 1, 0.
    expect(rows({ order: [{ steps: ['beds'], take: 'count', down: false }] })).toBe('|Autumn|Summer|Winter|');
  });

  it('is pictures, choices and terms', () => {
    const { html } = draw({
      kind: 'box',
      children: [
        // Picture 9 is gone.
        loop('p', values(R, 'gallery'), [text('loop:p', ['alt'])]),
        loop('c', values(R, 'uses'), [text('loop:c', ['value'])]),
        loop('t', values(R, '@terms:area'), [text('loop:t', ['name'])]),
        loop('top', { from: 'terms', taxonomyId: 'area', which: 'top' }, [
          text('loop:top', ['name'], { before: 'top ' }),
        ]),
        loop('sub', { from: 'terms', taxonomyId: 'area', which: 'below', path: { from: R, steps: ['@terms:area'] } }, [
          text('loop:sub', ['name'], { before: 'below ' }),
        ]),
        loop('all', { from: 'terms', taxonomyId: 'area', which: 'all' }, [text('loop:all', ['@results'])]),
      ],
    });
    expect(words(html)).toBe('|Picture 8|Picture 7|SKI|WALK|Hill|South|top North|top South|below Peak|4|4|4|4|');
  });

  it('is compared by its terms with those of other loops', () => {
    const filter = {
      group: 'all',
      rules: [
        {
          test: 'terms.below',
          path: { from: 'loop:w', steps: ['@terms:area'] },
          other: { from: 'loop:t', steps: ['term'] },
        },
      ],
    };
    const ways = loop('w', { from: 'query', typeIds: ['way'] }, [text('loop:w', ['@title'])], { filter });
    const { html, ends } = draw(
      loop('t', { from: 'terms', taxonomyId: 'area', which: 'top' }, [text('loop:t', ['name']), ways]),
    );
    expect(ends).toEqual([]);
    expect(words(html)).toBe('|North|Éclat way|beta way|South|beta way|');
  });

  it('is chosen records in the order chosen, and what is gone is left out', () => {
    const { html } = draw(
      loop('x', { from: 'chosen', ids: [4, 99, 2, 4], typeIds: ['way'] }, [text('loop:x', ['@title'])]),
    );
    expect(words(html)).toBe('|beta way|Éclat way|');
  });

  it('is what others have not shown above, without the page’s own record', () => {
    const ways = (id: string, more: object) =>
      loop(id, { from: 'query', typeIds: ['way', 'house'] }, [text(`loop:${id}`, ['@title'])], more);
    const { html } = draw({
      kind: 'box',
      children: [
        ways('a', { limit: 2, leaveOut: { current: true } }),
        ways('b', { leaveOut: { current: true, above: true } }),
        ways('c', { leaveOut: { above: true } }),
      ],
    });
    expect(words(html)).toBe('|Éclat way|Alpha way|beta way|Other|Home|');
  });

  it('is told where it is wrong', () => {
    const why = (source: unknown, props: object = {}) =>
      draw(loop('x', source, [text(R, ['@title'])], props)).ends.map((end) => end.what);
    expect(why(values(R, 'gone'))).toEqual(['The field this was bound to has been deleted.']);
    expect(why(values(R, 'height'))).toEqual(['Height holds nothing to repeat over.']);
    expect(why({ from: 'terms', taxonomyId: 'gone', which: 'top' })).toEqual([
      'The taxonomy this goes over has been deleted.',
    ]);
    expect(why({ from: 'terms', taxonomyId: 'area', which: 'below' })).toEqual(['Below which terms is not said.']);
    expect(why(values(R, 'seasons'), { order: [{ steps: ['beds'], down: false }] })).toEqual(['Beds has no order.']);
    const nested = loop('o', values(R, 'seasons'), [loop('i', values('loop:o', 'beds'), [], { perPage: 2 })]);
    expect(draw(nested).ends.map((end) => end.what)).toEqual(['A loop within a loop has no pages.']);
  });
});

describe('special turns', () => {
  const special = (as: string, mark: string, more: object = {}, rest: Partial<Nested> = {}): Nested => ({
    kind: 'turn',
    props: { as, ...more },
    children: [text('loop:w', ['@title'], { before: `${mark} ` })],
    ...rest,
  });
  const ways = (children: Nested[], props: object = {}, more: Partial<Nested> = {}) =>
    words(
      draw(
        loop(
          'w',
          { from: 'query', typeIds: ['way'] },
          [text('loop:w', ['@title']), ...children],
          {
            order: [{ steps: ['km'], down: false }],
            ...props,
          },
          more,
        ),
      ).html,
    );

  it('stand for the first, the last, every n-th, or by rule; the first that fits does', () => {
    expect(ways([special('first', '1st'), special('last', 'last')])).toBe('|1st Alpha way|Éclat way|last beta way|');
    expect(ways([special('nth', 'odd', { every: 2, from: 1 })])).toBe('|odd Alpha way|Éclat way|odd beta way|');
    const rule = {
      group: 'all' as const,
      rules: [{ test: 'order.gt', path: { from: 'loop:w', steps: ['km'] }, operand: 4 }],
    };
    expect(ways([special('rule', 'long', {}, { rule })])).toBe('|Alpha way|long Éclat way|long beta way|');
    expect(ways([special('first', '1st'), special('nth', 'odd', { every: 2 })])).toBe(
      '|1st Alpha way|Éclat way|odd beta way|',
    );
  });

  it('stand between items, and instead of nothing', () => {
    const between: Nested = {
      kind: 'turn',
      props: { as: 'between' },
      children: [{ kind: 'text', slots: { text: { fixed: '*' } } }],
    };
    expect(ways([between])).toBe('|Alpha way|*|Éclat way|*|beta way|');
    expect(ways([], {}, { slots: { between: { fixed: '·' } } })).toBe('|Alpha way|·|Éclat way|·|beta way|');
    const nothing: Nested = {
      kind: 'turn',
      props: { as: 'nothing' },
      children: [text(R, ['@title'], { before: 'No ways at ' })],
    };
    const none = { group: 'all', rules: [{ test: 'order.gt', path: { from: 'loop:w', steps: ['km'] }, operand: 99 }] };
    expect(ways([nothing], { filter: none })).toBe('|No ways at Home|');
  });
});

describe('groups', () => {
  const head: Nested = {
    kind: 'turn',
    props: { as: 'group' },
    children: [
      {
        kind: 'heading',
        slots: {
          text: {
            words: [
              [
                { bound: (boundTo('loop:w', ['@group']) as { bound: never }).bound },
                { text: ' (' },
                { bound: (boundTo('loop:w', ['@group_size']) as { bound: never }).bound },
                { text: ')' },
              ],
            ],
          },
        },
      },
    ],
  };
  const grouped = (group: object, more: object = {}) =>
    words(
      draw(
        loop('w', { from: 'query', typeIds: ['way'] }, [head, text('loop:w', ['@title'])], {
          order: [{ steps: ['@title'], down: false }],
          group,
          ...more,
        }),
      ).html,
    );

  it('are by term, with an item in each of its groups and those without one last', () => {
    expect(grouped({ steps: ['@terms:area'] })).toBe('|Hill (2)|beta way|Éclat way|South (1)|beta way| (1)|Alpha way|');
    expect(grouped({ steps: ['@terms:area'], down: true })).toBe(
      '|South (1)|beta way|Hill (2)|beta way|Éclat way| (1)|Alpha way|',
    );
  });

  it('are by first letter, whatever its case and accents, and by month and year in the time zone of the site', () => {
    expect(grouped({ steps: ['@title'], by: 'letter' })).toBe('|A (1)|Alpha way|B (1)|beta way|E (1)|Éclat way|');
    expect(grouped({ steps: ['@published'], by: 'month' })).toBe(
      '|January 2026 (1)|Alpha way|February 2026 (2)|beta way|Éclat way|',
    );
    expect(grouped({ steps: ['@published'], by: 'year' })).toBe('|2026 (3)|Alpha way|beta way|Éclat way|');
    expect(grouped({ steps: ['km'], down: true })).toBe(
      '|9 km (1)|beta way|5 km (1)|Éclat way|3 km (1)|Alpha way|'.replace(
        / km/g,
        index.field('km')?.field.settings.unit ? '\u00a0km' : '',
      ),
    );
  });

  it('change the drawing and not the list: positions go on through them', () => {
    const { html } = draw(
      loop('w', { from: 'query', typeIds: ['way'] }, [text('loop:w', ['@position'])], {
        order: [{ steps: ['@title'], down: false }],
        group: { steps: ['@title'], by: 'letter' },
      }),
    );
    expect(words(html)).toBe('|1|2|3|');
    expect(html.match(/<(?:section|div) class="group">/g)).toHaveLength(3);
  });
});

describe('pages of loops', () => {
  const paged = (id: string, name: string): Nested =>
    loop(
      id,
      { from: 'query', typeIds: ['way'] },
      [text(`loop:${id}`, ['@title'])],
      { order: [{ steps: ['@title'], down: false }], perPage: 1 },
      { name },
    );

  it('are asked for by name, and do not clash with those of another', () => {
    const both: Nested = { kind: 'box', children: [paged('a', 'Short ways'), paged('b', 'Long ways')] };
    const { html, env } = draw(both, { asked: { 'long-ways-page': ['2'], sort: ['x'] } });
    expect(words(html)).toContain('Alpha way');
    expect(words(html)).toContain('beta way');
    expect(html).toContain('aria-label="Pages of Long ways"');
    expect(html).toContain('href="?long-ways-page=3&amp;sort=x" rel="next"');
    // The other one keeps what was asked of this.
    expect(html).toContain('href="?long-ways-page=2&amp;sort=x&amp;short-ways-page=2" rel="next"');
    expect(html).toContain('href="?sort=x"');
    expect(env.pastEnd).toBeUndefined();
  });

  it.each(['0', '-1', '1e9', '4', '999999999', 'x', ''])('past the end or of no number, %j, are none', (page) => {
    const { env } = draw(paged('a', 'Ways'), { asked: { 'ways-page': [page] } });
    expect(env.pastEnd).toBe(true);
  });
});
