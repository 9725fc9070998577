import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/schema/element';
import { cut, filled, heading, none, text } from './short';

const archive = (step: string, more?: Parameters<typeof boundTo>[2]) => boundTo('archive', [step], more);

/** Cards of one type among what is filed under the region of the page, or below it. */
const filedHere = (title: string, one: string, typeId: string, order: string): Nested => ({
  kind: 'box',
  name: title,
  props: { as: 'section', gap: 'm' },
  children: [
    heading(2, title),
    {
      kind: 'loop',
      id: `region-${typeId}`,
      name: one,
      props: {
        source: { from: 'query', typeIds: [typeId] },
        filter: {
          group: 'all',
          rules: [
            {
              test: 'terms.below',
              path: { from: `loop:region-${typeId}`, steps: ['@terms:region'] },
              other: { from: 'archive', steps: ['@term'] },
            },
          ],
        },
        order: [{ steps: [order], down: false }],
        perPage: 6,
        least: '17rem',
        gap: 'l',
        even: true,
      },
      slots: { nothing: { fixed: `No ${title.toLowerCase()} here.` } },
      children: [{ kind: 'part', name: `${one} card`, props: { part: `${typeId}-card` } }],
    },
  ],
});

/** A valley or a part of one: what it is, what lies below it, its huts and its trails. */
export const regionPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      { kind: 'breadcrumbs' },
      {
        kind: 'box',
        name: 'Title',
        props: { as: 'header', gap: 's' },
        children: [heading(1, archive('@title')), text(archive('@description'), { size: 'l' })],
      },
      {
        kind: 'loop',
        id: 'parts',
        name: 'Part of the valley',
        props: {
          source: { from: 'terms', taxonomyId: 'region', which: 'below', path: { from: 'archive', steps: ['@term'] } },
          arrange: 'row',
          gap: 's',
        },
        children: [
          {
            kind: 'link',
            props: { look: 'outline' },
            slots: { label: boundTo('loop:parts', ['name']), link: boundTo('loop:parts', ['address']) },
          },
        ],
      },
      filedHere('Huts', 'Hut', 'hut', 'hut_altitude'),
      filedHere('Trails', 'Trail', 'trail', 'trail_length'),
    ],
  });

/** What a search found, narrowed down by what kind of thing it is. */
export const searchPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      heading(1, archive('@title')),
      { kind: 'search', props: { label: 'Words in huts, trails, people and stories', shown: true } },
      {
        kind: 'columns',
        name: 'What was found',
        props: { share: 'wide-last', gap: 'l' },
        children: [
          { kind: 'filters', props: { button: 'Narrow down' } },
          {
            kind: 'loop',
            id: 'found',
            name: 'Found',
            props: {
              source: { from: 'archive' },
              perPage: 8,
              arrange: 'list',
              gap: 'm',
              visitors: {
                search: [],
                facets: [
                  { step: '@type', label: 'What it is' },
                  { step: '@terms:region', label: 'Where' },
                  { step: '@terms:topic', label: 'About' },
                ],
                sorts: [{ step: '@published', label: 'Newest first', down: true }],
              },
            },
            slots: { nothing: { fixed: 'Nothing was found. Try fewer words, or only the beginning of one.' } },
            children: [
              text(boundTo('loop:found', ['@type']), { size: 's', tone: 'quiet' }),
              heading(2, boundTo('loop:found', ['@title']), {
                props: { size: 's' },
                slots: { link: boundTo('loop:found', ['@address']) },
              }),
              text(boundTo('loop:found', ['@found']), { size: 's' }),
              text(
                boundTo('loop:found', ['@excerpt'], { formats: cut(30) }),
                { size: 's' },
                { rule: none(filled('@found', 'loop:found')) },
              ),
            ],
          },
        ],
      },
    ],
  });
