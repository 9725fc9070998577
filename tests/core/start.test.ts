import { HtmlValidate } from 'html-validate';
import { describe, expect, it } from 'vitest';
import { looseEndsOf } from '../../src/lib/core/checks/loose-ends';
import { compileTree, scopesOf } from '../../src/lib/core/render/compile';
import { archiveTree, frameTree, recordTree } from '../../src/lib/core/templates/start';
import type { Purpose } from '../../src/lib/core/schema/template';
import type { Tree } from '../../src/lib/core/schema/element';
import { walk } from '../../src/lib/core/templates/tree';
import { envOf, index, model, picture, record } from '../support/world';

const template = (tree: Tree, purpose: Purpose, typeId: string) => ({
  tree,
  purpose,
  serves: [{ on: 'type' as const, typeId }],
});
const full = record(
  1,
  'house',
  {
    story: 'A story.',
    height: 0,
    open: true,
    built: '2001-01-01',
    state: 'fair',
    web: { url: 'https://a.example' },
    photo: 8,
    keeper: [2],
    ways: [3],
    gallery: [8],
    stars: 4.5,
    film: { src: '/player/x' },
    spot: { lat: 1, lon: 2 },
    phone: '+44 20 7946 0958',
    prose: '<p>Body</p>',
    uses: ['ski'],
    seasons: [{ season: 'Winter', price: 3 }],
  },
  { terms: ['hill'] },
);
const records = [full, record(2, 'person'), record(3, 'way'), record(4, 'house')];

describe('a generated start', () => {
  it.each(model.types.map((type) => [type.name, type] as const))('for %s has no loose ends', (_name, type) => {
    for (const [tree, purpose] of [
      [recordTree(type, index), 'record'],
      [archiveTree({ on: 'type', typeIds: [type.id] }, index), 'archive'],
    ] as const)
      expect(looseEndsOf(template(tree, purpose, type.id), index)).toEqual([]);
  });

  it('shows every field by what shows it best, each heading with what is below it', async () => {
    const type = index.type('house')!;
    const tree = recordTree(type, index);
    const kinds = walk(tree).map(({ element }) => element.kind);
    for (const kind of ['rating', 'table', 'pictures', 'embed', 'map', 'button', 'terms', 'list', 'columns'])
      expect(kinds).toContain(kind);
    const bound = JSON.stringify(tree);
    // A title has its own heading, and a place in time or sign is a fact like others.
    for (const field of type.fields.filter(({ kind }) => kind !== 'file')) expect(bound).toContain(`"${field.id}"`);
    const made = compileTree(tree, scopesOf(template(tree, 'record', 'house'), index), index);
    const html = made.draw(envOf(records, [picture(8)]));
    expect(html.match(/<h1/g)).toHaveLength(1);
    expect(html).toContain('<h2>Seasons</h2>');
    expect(html).toContain('Height: 0');
    const report = await new HtmlValidate({ extends: ['html-validate:recommended'] }).validateString(
      `<!DOCTYPE html><html lang="en"><head><title>x</title></head><body><main>${html}</main></body></html>`,
    );
    expect(report.results.flatMap((r) => r.messages.map((m) => `${m.ruleId}: ${m.message}`))).toEqual([]);

    // With nothing in the record there is the title, and no label or heading without its value.
    const bare = made.draw({ ...envOf(records), record: records[3] });
    expect(bare.replace(/<[^>]*>/g, '').trim()).toBe('house 4');
  });

  it('of a frame holds the place of the page once', () => {
    const tree = frameTree();
    expect(walk(tree).filter(({ element }) => element.kind === 'slot')).toHaveLength(1);
    const made = compileTree(tree, { loops: [] }, index);
    const html = made.draw({ ...envOf(records), record: undefined, content: '<p>The page</p>' });
    expect(html).toContain('<main id="main"><p>The page</p></main>');
    expect(html).toContain('Test site');
  });
});
