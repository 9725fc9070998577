import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/schema/element';
import { archiveTitle, all, bound, chapter, field, heading, test, text } from './short';

const stage = (step: string, more?: Parameters<typeof boundTo>[2]) => boundTo('loop:stages', [step], more);

/** A way by its stages, and in each of them its waypoints. */
export const trailPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      { kind: 'breadcrumbs' },
      heading(1, field('@title')),
      {
        kind: 'text',
        name: 'At a glance',
        props: { size: 'l' },
        slots: {
          text: {
            words: [
              [
                { bound: bound(field('trail_length')), strong: true },
                { text: ', ' },
                { bound: bound(field('trail_ascent', { after: ' up' })) },
                { text: ', ' },
                { bound: bound(field('trail_hours')) },
                { text: ' · ' },
                { bound: bound(field('trail_grade')) },
              ],
            ],
          },
        },
      },
      {
        kind: 'picture',
        props: { shape: 'wide' },
        slots: { source: field('trail_picture') },
        style: { wide: { radius: 'm' } },
      },
      text(field('trail_about'), { size: 'l' }),
      {
        kind: 'list',
        name: 'Best months',
        props: { marks: 'inline' },
        slots: { items: field('trail_months') },
      },
      chapter(
        'Day by day',
        'trail_stages',
        {
          kind: 'chart',
          name: 'Ascent by day',
          rule: all(test('count.ge', 'record', ['trail_stages'], 2)),
          props: { value: 'stage_ascent', label: 'stage_day' },
          slots: { rows: field('trail_stages'), caption: { fixed: 'Metres up on each day' } },
          style: { wide: { maxWidth: '40rem' } },
        },
        {
          kind: 'loop',
          id: 'stages',
          name: 'Stage',
          props: {
            source: { from: 'values', path: { from: 'record', steps: ['trail_stages'] } },
            order: [{ steps: ['stage_day'], down: false }],
            arrange: 'list',
            gap: 'm',
          },
          children: [
            {
              kind: 'box',
              name: 'Stage',
              props: { ground: 'tint', pad: 'm', gap: 's' },
              style: { wide: { radius: 'm' } },
              children: [
                {
                  kind: 'heading',
                  props: { level: 3, size: 's' },
                  slots: {
                    text: {
                      words: [
                        [
                          { bound: bound(stage('stage_day', { before: 'Day ', after: ': ' })) },
                          { bound: bound(boundTo('loop:stages', ['stage_from', '@title'])) },
                          { text: ' to ' },
                          { bound: bound(boundTo('loop:stages', ['stage_to', '@title'])) },
                        ],
                      ],
                    },
                  },
                },
                {
                  kind: 'box',
                  name: 'Figures',
                  props: { flow: 'row', gap: 'm' },
                  children: [
                    text(stage('stage_km'), { size: 's', tone: 'quiet' }),
                    text(stage('stage_ascent', { after: ' up' }), { size: 's', tone: 'quiet' }),
                  ],
                },
                {
                  kind: 'loop',
                  id: 'waypoints',
                  name: 'Waypoint',
                  props: {
                    source: { from: 'values', path: { from: 'loop:stages', steps: ['stage_waypoints'] } },
                    order: [{ steps: ['waypoint_km'], down: false }],
                    arrange: 'list',
                    gap: 's',
                  },
                  children: [
                    {
                      kind: 'text',
                      props: { size: 's' },
                      slots: {
                        text: {
                          words: [
                            [
                              {
                                bound: bound(boundTo('loop:waypoints', ['waypoint_km'], { before: 'km ' })),
                                strong: true,
                              },
                              { text: ' ' },
                              { bound: bound(boundTo('loop:waypoints', ['waypoint_name'])) },
                              { bound: bound(boundTo('loop:waypoints', ['waypoint_what'], { before: ': ' })) },
                            ],
                          ],
                        },
                      },
                    },
                  ],
                },
              ],
            },
          ],
        },
      ),
      chapter('Huts on the way', 'trail_huts', {
        kind: 'loop',
        id: 'trail-huts',
        name: 'Hut',
        props: {
          source: { from: 'relation', path: { from: 'record', steps: ['trail_huts'] } },
          arrange: 'sideways',
          least: '16rem',
          gap: 'l',
        },
        children: [{ kind: 'part', name: 'Hut card', props: { part: 'hut-card' } }],
      }),
    ],
  });

export const trailArchive = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      archiveTitle(),
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
        kind: 'columns',
        name: 'All of them',
        props: { share: 'wide-last', gap: 'l' },
        children: [
          { kind: 'filters', props: { loop: 'trails' } },
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
              visitors: {
                search: ['@title'],
                facets: [
                  { step: '@terms:region', label: 'Where' },
                  { step: 'trail_grade', label: '' },
                  { step: 'trail_length', label: '' },
                  { step: 'trail_months', label: '' },
                ],
                sorts: [
                  { step: 'trail_length', label: 'Shortest first', down: false },
                  { step: 'trail_ascent', label: 'Most ascent first', down: true },
                ],
              },
              perPage: 8,
              least: '15rem',
              gap: 'l',
            },
            slots: { nothing: { fixed: 'No trail is like that.' } },
            children: [{ kind: 'part', name: 'Trail card', props: { part: 'trail-card' } }],
          },
        ],
      },
      {
        kind: 'box',
        name: 'From A to Z',
        props: { as: 'section', gap: 'm' },
        children: [
          heading(2, 'From A to Z'),
          {
            kind: 'loop',
            id: 'letters',
            name: 'Trail by letter',
            props: {
              source: { from: 'query', typeIds: ['trail'] },
              order: [{ steps: ['@title'], down: false }],
              group: { steps: ['@title'], by: 'letter' },
              arrange: 'list',
              gap: 's',
            },
            css: '& {\n  display: block;\n  columns: 14rem auto;\n}\n.group {\n  break-inside: avoid;\n  gap: 0.25rem;\n  margin-bottom: 1.25rem;\n}',
            children: [
              {
                kind: 'turn',
                name: 'Letter',
                props: { as: 'group' },
                children: [heading(3, boundTo('loop:letters', ['@group']))],
              },
              {
                kind: 'link',
                slots: { label: boundTo('loop:letters', ['@title']), link: boundTo('loop:letters', ['@address']) },
              },
            ],
          },
        ],
      },
    ],
  });
