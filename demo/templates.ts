import { boundTo, treeFrom, type Nested } from '../src/lib/core/templates/build';
import type { Tree } from '../src/lib/core/templates/template';

const R = 'record';
const field = (id: string, more?: Parameters<typeof boundTo>[2]) => boundTo(R, [id], more);
const test = (test: string, from: string, steps: string[], operand?: unknown) => ({
  test,
  path: { from, steps },
  ...(operand === undefined ? {} : { operand }),
});
const all = (...rules: ReturnType<typeof test>[]) => ({ group: 'all' as const, rules });
const any = (...rules: ReturnType<typeof test>[]) => ({ group: 'any' as const, rules });

export const hutPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      {
        kind: 'box',
        name: 'Title and state',
        props: { gap: 's' },
        children: [
          { kind: 'heading', props: { level: 1 }, slots: { text: field('@title') } },
          {
            kind: 'box',
            name: 'Facts',
            props: { flow: 'row', gap: 'm' },
            children: [
              { kind: 'text', props: { tone: 'badge' }, slots: { text: field('hut_state') } },
              { kind: 'text', props: { tone: 'quiet' }, slots: { text: field('@terms:region') } },
              {
                kind: 'text',
                props: { tone: 'quiet' },
                slots: { text: field('hut_altitude', { after: ' above the sea loch' }) },
              },
              { kind: 'text', props: { tone: 'quiet' }, slots: { text: field('hut_bunks', { after: ' bunks' }) } },
            ],
          },
        ],
      },
      {
        kind: 'box',
        name: 'Warning',
        props: { as: 'aside', ground: 'notice', pad: 'm', gap: 's' },
        rule: any(test('filled', R, ['hut_warning']), test('choice.is', R, ['hut_state'], 'closed')),
        children: [
          { kind: 'heading', props: { level: 2, size: 's' }, slots: { text: { fixed: 'Before you set out' } } },
          { kind: 'text', slots: { text: field('hut_warning', { fallbacks: [{ text: 'This hut is closed.' }] }) } },
        ],
      },
      {
        kind: 'picture',
        name: 'Wide picture',
        props: { shape: 'wide' },
        slots: { source: field('hut_picture') },
        rule: all(test('choice.is', R, ['hut_layout'], 'wide_picture')),
      },
      {
        kind: 'columns',
        name: 'Story and particulars',
        props: { share: 'wide-first' },
        children: [
          {
            kind: 'box',
            name: 'Story',
            props: { gap: 'm' },
            children: [
              {
                kind: 'picture',
                props: { shape: 'landscape' },
                slots: { source: field('hut_picture') },
                rule: all(test('choice.is', R, ['hut_layout'], 'side_by_side')),
              },
              { kind: 'text', slots: { text: field('hut_description') } },
              {
                kind: 'heading',
                props: { level: 2 },
                slots: { text: { fixed: 'Getting there' } },
                rule: all(test('filled', R, ['hut_access'])),
              },
              { kind: 'text', slots: { text: field('hut_access') } },
            ],
          },
          {
            kind: 'box',
            name: 'Particulars',
            props: { gap: 'm', ground: 'tint', pad: 'm' },
            children: [
              {
                kind: 'picture',
                name: 'Warden’s portrait',
                props: { shape: 'round', width: 'icon' },
                slots: { source: boundTo(R, ['hut_warden', 'warden_portrait']) },
              },
              { kind: 'text', slots: { text: boundTo(R, ['hut_warden', '@title'], { before: 'Kept by ' }) } },
              {
                kind: 'text',
                slots: {
                  text: field('hut_opened', {
                    before: 'Open since ',
                    formats: [{ format: 'date', options: { style: 'pattern', pattern: 'MMMM y' } }],
                  }),
                },
              },
              { kind: 'text', slots: { text: field('hut_winter') }, rule: all(test('yesno.yes', R, ['hut_winter'])) },
              {
                kind: 'link',
                slots: { label: { fixed: 'Book a bunk' }, link: field('hut_booking') },
                rule: all(test('choice.isnt', R, ['hut_state'], 'closed')),
              },
            ],
          },
        ],
      },
      {
        kind: 'box',
        name: 'Trails from here',
        props: { as: 'section', gap: 'm' },
        rule: all(test('filled', R, ['hut_trails'])),
        children: [
          { kind: 'heading', props: { level: 2 }, slots: { text: { fixed: 'Trails from here' } } },
          {
            kind: 'loop',
            id: 'hut-trails',
            name: 'Trail',
            props: { source: { from: 'relation', path: { from: R, steps: ['hut_trails'] } }, columns: 3, gap: 'l' },
            children: trailCard('hut-trails', 3),
          },
        ],
      },
    ],
  });

/** An earlier try that was left standing: it is tied with the hut page, and one of its fields has been deleted since. */
export const oldHutPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article' },
    children: [
      { kind: 'heading', props: { level: 1 }, slots: { text: field('@title') } },
      { kind: 'picture', slots: { source: field('hut_picture') } },
      { kind: 'text', name: 'Price a night', slots: { text: field('hut_price', { before: 'From ' }) } },
      { kind: 'text', slots: { text: field('hut_description') } },
    ],
  });

function trailCard(loop: string, level: number): Nested[] {
  const at = `loop:${loop}`;
  return [
    {
      kind: 'picture',
      props: { shape: 'landscape' },
      slots: { source: boundTo(at, ['trail_picture']), link: boundTo(at, ['@address']) },
    },
    {
      kind: 'heading',
      props: { level, size: 's' },
      slots: { text: boundTo(at, ['@title']), link: boundTo(at, ['@address']) },
    },
    {
      kind: 'box',
      props: { flow: 'row', gap: 'm' },
      children: [
        { kind: 'text', props: { size: 's', tone: 'quiet' }, slots: { text: boundTo(at, ['trail_length']) } },
        { kind: 'text', props: { size: 's', tone: 'quiet' }, slots: { text: boundTo(at, ['trail_grade']) } },
      ],
    },
    {
      kind: 'text',
      props: { size: 's', tone: 'strong' },
      slots: {
        text: boundTo(at, ['trail_closed'], {
          before: 'Closed until ',
          formats: [{ format: 'date', options: { style: 'long', pattern: 'd MMMM y' } }],
        }),
      },
      rule: all(test('day.future', at, ['trail_closed'])),
    },
  ];
}

export const hutArchive = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('archive', ['@title']) } },
      {
        kind: 'loop',
        id: 'huts',
        name: 'Hut',
        props: {
          source: { from: 'archive' },
          order: [{ steps: ['@title'], down: false }],
          perPage: 6,
          columns: 3,
          gap: 'l',
        },
        slots: { nothing: { fixed: 'There are no huts yet.' } },
        children: [
          {
            kind: 'picture',
            props: { shape: 'landscape' },
            slots: { source: boundTo('loop:huts', ['hut_picture']), link: boundTo('loop:huts', ['@address']) },
          },
          {
            kind: 'heading',
            props: { level: 2, size: 'm' },
            slots: { text: boundTo('loop:huts', ['@title']), link: boundTo('loop:huts', ['@address']) },
          },
          {
            kind: 'text',
            props: { tone: 'badge' },
            slots: { text: boundTo('loop:huts', ['hut_state']) },
            rule: all(test('choice.isnt', 'loop:huts', ['hut_state'], 'open')),
          },
          {
            kind: 'text',
            props: { size: 's' },
            slots: {
              text: boundTo('loop:huts', ['hut_description'], {
                formats: [{ format: 'cut', options: { count: 22, by: 'words' } }],
              }),
            },
          },
          {
            kind: 'box',
            props: { flow: 'row', gap: 'm' },
            children: [
              {
                kind: 'text',
                props: { size: 's', tone: 'quiet' },
                slots: { text: boundTo('loop:huts', ['hut_altitude']) },
              },
              {
                kind: 'text',
                props: { size: 's', tone: 'quiet' },
                slots: { text: boundTo('loop:huts', ['hut_bunks'], { after: ' bunks' }) },
              },
              {
                kind: 'text',
                props: { size: 's', tone: 'quiet' },
                slots: { text: boundTo('loop:huts', ['@terms:region']) },
              },
            ],
          },
        ],
      },
    ],
  });

export const trailArchive = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      { kind: 'heading', props: { level: 1 }, slots: { text: boundTo('archive', ['@title']) } },
      {
        kind: 'box',
        name: 'Short walks',
        props: { as: 'section', ground: 'tint', pad: 'm', gap: 'm' },
        children: [
          { kind: 'heading', props: { level: 2 }, slots: { text: { fixed: 'Three short ones' } } },
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
              {
                kind: 'heading',
                props: { level: 3, size: 's' },
                slots: { text: boundTo('loop:short', ['@title']), link: boundTo('loop:short', ['@address']) },
              },
              {
                kind: 'text',
                props: { size: 's', tone: 'quiet' },
                slots: { text: boundTo('loop:short', ['trail_hours']) },
              },
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
        children: trailCard('trails', 2),
      },
    ],
  });
