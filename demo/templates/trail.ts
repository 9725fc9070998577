import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/templates/template';
import { all, heading, test, text } from './short';

export const trailArchive = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      heading(1, boundTo('archive', ['@title'])),
      {
        kind: 'box',
        name: 'Short walks',
        props: { as: 'section', ground: 'tint', pad: 'm', gap: 'm' },
        style: { wide: { radius: 'm' } },
        children: [
          heading(2, 'Three short ones'),
          {
            kind: 'loop',
            id: 'short',
            name: 'Short walk',
            props: {
              source: { from: 'query', typeIds: ['trail'] },
              filter: all(test('order.le', 'loop:short', ['trail_hours'], 3)),
              order: [{ steps: ['trail_hours'], down: false }],
              limit: 3,
              columns: 3,
            },
            children: [
              heading(3, boundTo('loop:short', ['@title']), {
                props: { size: 's' },
                slots: { link: boundTo('loop:short', ['@address']) },
              }),
              text(boundTo('loop:short', ['trail_hours']), { size: 's', tone: 'quiet' }),
            ],
          },
        ],
      },
      {
        kind: 'loop',
        id: 'trails',
        name: 'Trail',
        props: {
          source: { from: 'archive' },
          order: [
            { steps: ['trail_grade'], down: false },
            { steps: ['@title'], down: false },
          ],
          perPage: 9,
          columns: 3,
          gap: 'l',
        },
        children: [{ kind: 'part', name: 'Trail card', props: { part: 'trail-card' } }],
      },
    ],
  });
