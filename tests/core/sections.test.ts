import { describe, expect, it } from 'vitest';
import { compileTree } from '../../src/lib/core/render/compile';
import { drawPage } from '../../src/lib/core/render/page';
import { treeFrom, type Nested } from '../../src/lib/core/templates/build';
import { outlineFaults } from '../support/outline';
import { envOf, houseScopes, index, model, picture, record } from '../support/world';

const heading: Nested = { kind: 'heading', slots: { text: { fixed: 'Here' } } };
const words: Nested = { kind: 'text', slots: { text: { fixed: 'Some words' } } };
const draw = (nested: Nested, content?: string) =>
  compileTree(treeFrom(nested), content === undefined ? houseScopes : { loops: [] }, index).draw({
    ...envOf([record(1, 'house')], [picture(8)]),
    content,
  });
/** What frames and templates can be made of, each within each. */
const HOLDERS: [string, Record<string, unknown>][] = [
  ['section', {}],
  ...['div', 'section', 'article', 'aside', 'header', 'footer', 'nav'].map((as): [string, Record<string, unknown>] => [
    'box',
    { as },
  ]),
  ['columns', {}],
];
const within = ([kind, props]: (typeof HOLDERS)[number], ...children: Nested[]): Nested => ({ kind, props, children });

describe('sections', () => {
  it('are elements of their own only where they have a heading of their own', () => {
    for (const outer of HOLDERS)
      for (const inner of HOLDERS)
        for (const held of [[words], [heading], [heading, words]])
          for (const beside of [[], [heading], [words]]) {
            const main = draw(within(outer, within(inner, ...held), ...beside));
            const page = drawPage(model.site, { title: 'A', styles: [], main, navigation: [] });
            expect([outer, inner, outlineFaults(page)]).toEqual([outer, inner, []]);
          }
  });

  it('never hold the page, its banner or its footer', () => {
    const page: Nested = { kind: 'slot' };
    for (const outer of HOLDERS)
      for (const inner of HOLDERS) {
        // Whoever puts the page into a banner, a footer, an aside or navigation gets what they ask for but for its name.
        const frame = draw(within(outer, heading, within(inner, page, heading)), '<p>The page</p>');
        const html = drawPage(model.site, { title: 'A', styles: [], main: '', frame, navigation: [] });
        expect([outer, inner, outlineFaults(html)]).toEqual([outer, inner, []]);
      }
  });
});
