import { treeFrom, type Nested } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/schema/element';
import { all, bound, cut, date, field, heading, kept, test, text } from './short';

/** What every card begins with: the picture and the title, both leading to the page. */
const cardTop = (picture: string): Nested[] => [
  {
    kind: 'picture',
    props: { shape: 'landscape', width: 'full' },
    slots: { source: field(picture), link: field('@address') },
    style: { wide: { radius: 'm' } },
  },
  heading(3, field('@title'), { props: { size: 's' }, slots: { link: field('@address') } }),
];
const facts = (...ids: [string, string?][]): Nested => ({
  kind: 'box',
  name: 'Facts',
  props: { flow: 'row', gap: 'm' },
  children: ids.map(([id, after]) => text(field(id, after ? { after } : {}), { size: 's', tone: 'quiet' })),
});

export const trailCard = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Card',
    props: { as: 'article', gap: 's' },
    children: [
      ...cardTop('trail_picture'),
      facts(['trail_length'], ['trail_hours'], ['trail_grade']),
      text(
        field('trail_closed', { before: 'Closed until ', formats: date('d MMMM y') }),
        { size: 's', tone: 'strong' },
        { rule: all(test('day.future', 'record', ['trail_closed'])) },
      ),
    ],
  });

export const hutCard = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Card',
    props: { as: 'article', gap: 's' },
    children: [
      {
        kind: 'box',
        name: 'Picture with the state on it',
        props: { flow: 'overlay' },
        children: [
          cardTop('hut_picture')[0] as Nested,
          text(
            field('hut_state'),
            { tone: 'badge', size: 's' },
            {
              rule: kept('Not simply open'),
              style: { wide: { place: 'top-end', shiftX: '-0.75rem', shiftY: '0.75rem', shadow: 's', layer: 1 } },
            },
          ),
        ],
      },
      cardTop('hut_picture')[1] as Nested,
      text(field('hut_description', { formats: cut(22) }), { size: 's' }),
      facts(['hut_altitude'], ['hut_bunks', ' bunks'], ['@terms:region']),
    ],
  });

/** Portrait, name and one sentence, in which everything but the words around it comes from the record. */
export const wardenLine = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Warden',
    props: { flow: 'row', gap: 'm' },
    style: { wide: { items: 'center' } },
    children: [
      {
        kind: 'picture',
        name: 'Portrait',
        props: { shape: 'round', width: 'icon' },
        slots: { source: field('warden_portrait'), link: field('@address') },
        style: { wide: { width: 'quarter', maxWidth: '5.5rem' } },
      },
      text(
        {
          words: [
            [
              { text: 'Kept by ' },
              { bound: bound(field('@title')), strong: true, link: field('@address') as { bound: never } },
              { text: ' since ' },
              { bound: bound(field('warden_since', { formats: date('y') })) },
            ],
            [{ text: 'Speaks ' }, { bound: bound(field('warden_languages')) }],
          ],
        },
        { size: 's' },
        { style: { wide: { grow: '1', width: 'half' } } },
      ),
    ],
  });
