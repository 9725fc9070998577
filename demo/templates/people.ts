import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/schema/element';
import { archiveTitle, all, bound, chapter, cut, date, field, filled, heading, test, text } from './short';

export const wardenPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      {
        kind: 'box',
        name: 'Portrait and name',
        props: { flow: 'row', gap: 'l', as: 'header' },
        style: { wide: { items: 'center' } },
        children: [
          {
            kind: 'picture',
            name: 'Portrait',
            props: { shape: 'round', width: 'fifth' },
            slots: { source: field('warden_portrait') },
            // Common practice: a round portrait at about a sixth of the width, with a border of 8 px.
            style: {
              wide: { width: 'sixth', radius: 'round', border: '8px', borderColour: 'tint' },
              narrow: { width: 'third' },
            },
          },
          {
            kind: 'box',
            name: 'Name',
            props: { gap: 's' },
            children: [
              heading(1, field('@title')),
              text(field('warden_since', { before: 'Warden since ', formats: date('MMMM y') }), { tone: 'quiet' }),
            ],
          },
        ],
      },
      text(field('warden_about'), { size: 'l' }),
      {
        kind: 'box',
        name: 'Languages',
        props: { gap: 's' },
        rule: all(filled('warden_languages')),
        children: [
          heading(2, 'Speaks', { props: { size: 's' } }),
          { kind: 'list', props: { marks: 'inline' }, slots: { items: field('warden_languages') } },
        ],
      },
      chapter('Keeps', 'warden_huts', {
        kind: 'loop',
        id: 'warden-huts',
        name: 'Hut',
        props: { source: { from: 'relation', path: { from: 'record', steps: ['warden_huts'] } }, columns: 3, gap: 'l' },
        children: [{ kind: 'part', name: 'Hut card', props: { part: 'hut-card' } }],
      }),
    ],
  });

const each = (step: string, more?: Parameters<typeof boundTo>[2]) => boundTo('loop:entries', [step], more);

/** The journal, three a page (common practice), with the newest at the top of each page at full width. */
export const journal = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      // By the year or month it shows, where it shows one.
      archiveTitle(),
      { kind: 'filters', props: { flow: 'row' } },
      {
        kind: 'loop',
        id: 'entries',
        name: 'Entry',
        props: {
          source: { from: 'archive' },
          order: [{ steps: ['@published'], down: true }],
          visitors: {
            search: ['@title', 'entry_body'],
            facets: [
              { step: '@terms:topic', label: 'About' },
              { step: 'entry_has_film', label: 'Film' },
              { step: 'entry_minutes', label: 'Minutes to read' },
            ],
            sorts: [
              { step: 'entry_minutes', label: 'Shortest first', down: false },
              { step: '@published', label: 'Oldest first', down: false },
            ],
          },
          perPage: 3,
          arrange: 'list',
          gap: 'l',
        },
        children: [
          {
            kind: 'columns',
            name: 'Entry',
            props: { share: 'wide-last', gap: 'l' },
            children: [
              {
                kind: 'picture',
                props: { shape: 'landscape' },
                slots: { source: each('entry_picture'), link: each('@address') },
                style: { wide: { radius: 'm' } },
              },
              {
                kind: 'box',
                props: { gap: 's' },
                children: [
                  { kind: 'terms', props: { look: 'line' }, slots: { terms: each('@terms:topic') } },
                  heading(2, each('@title'), { slots: { link: each('@address') } }),
                  text(each('entry_body', { formats: cut(50) })),
                  text(
                    {
                      words: [
                        [
                          {
                            bound: bound(each('@published', { formats: date('d MMMM y') })),
                            link: each('@published_month') as { bound: never },
                          },
                          { bound: bound(each('entry_minutes', { before: ' · ', after: ' to read' })) },
                        ],
                      ],
                    },
                    { size: 's', tone: 'quiet' },
                  ),
                ],
              },
            ],
          },
        ],
      },
    ],
  });

/** Wardens, each with the huts they keep, and on from there the trails. */
export const wardenList = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      archiveTitle(),
      {
        kind: 'loop',
        id: 'wardens',
        name: 'Warden',
        props: {
          source: { from: 'archive' },
          order: [{ steps: ['@title'], down: false }],
          least: '20rem',
          gap: 'l',
        },
        children: [
          { kind: 'part', name: 'Warden in a line', props: { part: 'warden-line' } },
          {
            kind: 'loop',
            id: 'keeps',
            name: 'Hut kept',
            props: {
              source: { from: 'relation', path: { from: 'loop:wardens', steps: ['warden_huts'] } },
              arrange: 'list',
              gap: 's',
            },
            children: [
              {
                kind: 'link',
                slots: { label: boundTo('loop:keeps', ['@title']), link: boundTo('loop:keeps', ['@address']) },
              },
              {
                kind: 'loop',
                id: 'kept-trails',
                name: 'Trail there',
                props: {
                  source: { from: 'relation', path: { from: 'loop:keeps', steps: ['hut_trails'] } },
                  arrange: 'row',
                  gap: 's',
                },
                slots: { between: { fixed: '·' } },
                children: [text(boundTo('loop:kept-trails', ['@title']), { size: 's', tone: 'quiet' })],
              },
            ],
          },
        ],
      },
    ],
  });

const weekend = (loop: string): Nested[] => [
  heading(3, boundTo(`loop:${loop}`, ['@title']), {
    props: { size: 's' },
    slots: { link: boundTo(`loop:${loop}`, ['@address']) },
  }),
  text(
    boundTo(`loop:${loop}`, ['weekend_starts'], {
      formats: [
        {
          format: 'date',
          options: { style: 'range', until: { from: `loop:${loop}`, steps: ['weekend_ends'] } },
        },
      ],
    }),
    { size: 's' },
  ),
  text(boundTo(`loop:${loop}`, ['weekend_hut', '@title'], { before: 'At ' }), { size: 's', tone: 'quiet' }),
];

export const weekendList = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      archiveTitle(),
      heading(2, 'To come'),
      {
        kind: 'loop',
        id: 'coming',
        name: 'Weekend to come',
        props: {
          source: { from: 'archive' },
          filter: all(test('day.future', 'loop:coming', ['weekend_starts'])),
          order: [{ steps: ['weekend_starts'], down: false }],
          arrange: 'grid',
          columns: 3,
          gap: 'l',
        },
        children: [
          ...weekend('coming'),
          text(boundTo('loop:coming', ['weekend_places'], { after: ' places left' }), { size: 's', tone: 'strong' }),
          { kind: 'turn', name: 'None', props: { as: 'nothing' }, children: [text({ fixed: 'None is planned yet.' })] },
        ],
      },
      heading(2, 'Done'),
      {
        kind: 'loop',
        id: 'done',
        name: 'Weekend done',
        props: {
          source: { from: 'query', typeIds: ['weekend'] },
          order: [{ steps: ['weekend_starts'], down: true }],
          leaveOut: { above: true },
          arrange: 'grid',
          columns: 3,
          gap: 'l',
        },
        children: weekend('done'),
      },
    ],
  });

/** A story: its picture is the ground of the band that bears the title, dark enough to read on. */
export const entryPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      {
        kind: 'section',
        name: 'Band with the title',
        props: { pad: 'l', inner: 'page', ground: 'deep', tint: 'dark', gap: 'm' },
        slots: { background: field('entry_picture') },
        style: { wide: { minHeight: '24rem' }, narrow: { minHeight: '16rem' } },
        css: '& > .stack {\n  min-height: 18rem;\n  justify-content: end;\n}',
        children: [
          text(field('@terms:topic'), { size: 's', tone: 'strong' }),
          heading(1, field('@title')),
          text(field('entry_minutes', { after: ' to read' }), { size: 's' }),
        ],
      },
      {
        kind: 'author',
        slots: {
          name: field('@author'),
          picture: field('@author_picture'),
          date: field('@published', { formats: date('d MMMM y') }),
          link: field('@author_address'),
        },
      },
      text(field('entry_body'), { size: 'l' }),
      {
        kind: 'alternatives',
        name: 'Film, or more to read',
        children: [
          {
            kind: 'box',
            name: 'The film',
            props: { as: 'section', gap: 'm' },
            rule: all(test('yesno.yes', 'record', ['entry_has_film']), filled('entry_film')),
            children: [
              heading(2, 'The film'),
              {
                kind: 'embed',
                slots: { source: field('entry_film'), title: field('@title', { before: 'Film: ' }) },
                style: { wide: { maxWidth: '50rem' } },
              },
            ],
          },
          {
            kind: 'box',
            name: 'A film is promised',
            props: { ground: 'notice', pad: 'm' },
            rule: all(test('yesno.yes', 'record', ['entry_has_film'])),
            children: [text({ fixed: 'The film of this story is still being cut.' })],
          },
          {
            kind: 'link',
            name: 'On to the journal',
            props: { look: 'outline' },
            slots: { label: { fixed: 'More stories' }, link: { fixed: '/journal/' } },
          },
        ],
      },
      chapter('Huts in this story', 'entry_huts', {
        kind: 'loop',
        id: 'entry-huts',
        name: 'Hut',
        props: { source: { from: 'relation', path: { from: 'record', steps: ['entry_huts'] } }, columns: 3, gap: 'l' },
        children: [{ kind: 'part', name: 'Hut card', props: { part: 'hut-card' } }],
      }),
    ],
  });
