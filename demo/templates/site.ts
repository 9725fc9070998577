import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/schema/element';
import { archiveTitle, all, cut, date, field, heading, test, text } from './short';

const site = (step: string) => boundTo('site', [step]);

const head: Nested = {
  kind: 'section',
  name: 'Head of the page',
  props: { pad: 's', gap: 's' },
  css: '& {\n  border-bottom: 1px solid var(--colour-line);\n}',
  children: [
    {
      kind: 'box',
      name: 'Name, menu and search',
      props: { as: 'header', flow: 'row', gap: 'l' },
      style: { wide: { items: 'center', spread: 'space-between' } },
      children: [
        {
          kind: 'link',
          name: 'Site name',
          props: { look: 'quiet' },
          slots: { label: site('@name'), link: site('@home') },
          style: { wide: { font: 'display', size: 'l' } },
        },
        { kind: 'menu', name: 'Main menu', props: { menu: 'main', label: 'Site', below: false } },
        { kind: 'search', props: { label: 'Search the site', button: 'Search' } },
      ],
    },
  ],
};

const foot: Nested = {
  kind: 'section',
  name: 'Foot of the page',
  props: { pad: 'l', ground: 'deep', gap: 'm' },
  children: [
    {
      kind: 'box',
      name: 'Society and small menu',
      props: { as: 'footer', flow: 'row', gap: 'l' },
      style: { wide: { spread: 'space-between' } },
      children: [
        text(site('@tagline'), { size: 's' }),
        { kind: 'menu', name: 'Small menu', props: { menu: 'foot', label: 'About the society' } },
      ],
    },
  ],
};

/** What stands around every page: the name, the menu and a search on top, the society at the foot. */
export const siteFrame = (): Tree =>
  treeFrom({ kind: 'box', name: 'Frame', props: { gap: 'none' }, children: [head, { kind: 'slot' }, foot] });

/** Around the journal: the same with its topics and the newest stories beside each page. */
export const journalFrame = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Frame',
    props: { gap: 'none' },
    children: [
      head,
      {
        kind: 'section',
        name: 'Page with what stands beside it',
        // The page keeps to the column it stands in.
        css: '& main {\n  padding-inline: 0;\n  margin-inline: 0;\n}',
        props: { pad: 'none', inner: 'page', gap: 'none' },
        children: [
          {
            kind: 'columns',
            name: 'Page and sidebar',
            props: { share: 'wide-first', gap: 'l' },
            children: [
              { kind: 'slot' },
              {
                kind: 'box',
                name: 'Sidebar',
                props: { as: 'aside', gap: 'l', pad: 'm' },
                children: [
                  {
                    kind: 'box',
                    name: 'Topics',
                    props: { gap: 's' },
                    children: [
                      heading(2, 'Topics', { props: { size: 's' } }),
                      {
                        kind: 'loop',
                        id: 'topics',
                        name: 'Topic',
                        props: {
                          source: { from: 'terms', taxonomyId: 'topic', which: 'all' },
                          arrange: 'list',
                          gap: 's',
                        },
                        children: [
                          {
                            kind: 'link',
                            slots: {
                              label: boundTo('loop:topics', ['name']),
                              link: boundTo('loop:topics', ['address']),
                            },
                          },
                        ],
                      },
                    ],
                  },
                  {
                    kind: 'box',
                    name: 'Newest',
                    props: { gap: 's' },
                    children: [
                      heading(2, 'Newest stories', { props: { size: 's' } }),
                      {
                        kind: 'loop',
                        id: 'newest',
                        name: 'Story',
                        props: {
                          source: { from: 'query', typeIds: ['entry'] },
                          order: [{ steps: ['@published'], down: true }],
                          limit: 5,
                          arrange: 'list',
                          gap: 's',
                        },
                        children: [
                          {
                            kind: 'link',
                            slots: {
                              label: boundTo('loop:newest', ['@title']),
                              link: boundTo('loop:newest', ['@address']),
                            },
                          },
                        ],
                      },
                    ],
                  },
                ],
              },
            ],
          },
        ],
      },
      foot,
    ],
  });

const card = (loop: string, picture: string, more: Nested[] = []): Nested[] => [
  {
    kind: 'picture',
    props: { shape: 'landscape', width: 'half' },
    slots: { source: boundTo(loop, [picture]), link: boundTo(loop, ['@address']) },
    style: { wide: { radius: 'm' } },
  },
  heading(3, boundTo(loop, ['@title']), { props: { size: 's' }, slots: { link: boundTo(loop, ['@address']) } }),
  ...more,
];

/** The front page: what the society is, the highest huts, the newest stories, what is planned. */
export const frontPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      {
        kind: 'box',
        name: 'Welcome',
        props: { as: 'header', gap: 's' },
        children: [
          heading(1, site('@name')),
          text(site('@tagline'), { size: 'l' }),
          {
            kind: 'box',
            name: 'Where to begin',
            props: { flow: 'row', gap: 'm' },
            children: [
              { kind: 'button', slots: { label: { fixed: 'Find a hut' }, link: { fixed: '/huts/' } } },
              {
                kind: 'button',
                props: { look: 'outline' },
                slots: { label: { fixed: 'Find a way' }, link: { fixed: '/trails/' } },
              },
            ],
          },
        ],
      },
      {
        kind: 'box',
        name: 'Huts up high',
        props: { as: 'section', gap: 'm' },
        children: [
          heading(2, 'Up high'),
          {
            kind: 'loop',
            id: 'high',
            name: 'Hut',
            props: {
              source: { from: 'query', typeIds: ['hut'] },
              filter: all(test('filled', 'loop:high', ['hut_picture'])),
              order: [{ steps: ['hut_altitude'], down: true }],
              limit: 3,
              columns: 3,
              gap: 'l',
            },
            children: card('loop:high', 'hut_picture', [
              text(boundTo('loop:high', ['hut_altitude']), { size: 's', tone: 'quiet' }),
            ]),
          },
        ],
      },
      {
        kind: 'box',
        name: 'From the journal',
        props: { as: 'section', gap: 'm' },
        children: [
          heading(2, 'From the journal'),
          {
            kind: 'loop',
            id: 'stories',
            name: 'Story',
            // Common practice: a front-page block that shows six of what there is.
            props: {
              source: { from: 'query', typeIds: ['entry'] },
              filter: all(test('filled', 'loop:stories', ['entry_picture'])),
              order: [{ steps: ['@published'], down: true }],
              limit: 6,
              columns: 3,
              gap: 'l',
            },
            children: card('loop:stories', 'entry_picture', [
              text(boundTo('loop:stories', ['@published'], { formats: date('d MMMM y') }), {
                size: 's',
                tone: 'quiet',
              }),
              text(boundTo('loop:stories', ['@excerpt'], { formats: cut(20) }), { size: 's' }),
            ]),
          },
        ],
      },
      {
        kind: 'box',
        name: 'Hands wanted',
        props: { as: 'section', gap: 'm', ground: 'tint', pad: 'l' },
        children: [
          heading(2, 'Hands wanted'),
          {
            kind: 'loop',
            id: 'hands',
            name: 'Weekend',
            props: {
              source: { from: 'query', typeIds: ['weekend'] },
              filter: all(test('day.future', 'loop:hands', ['weekend_starts'])),
              order: [{ steps: ['weekend_starts'], down: false }],
              limit: 3,
              arrange: 'list',
              gap: 's',
            },
            slots: { nothing: { fixed: 'No work weekend is planned at the moment.' } },
            children: [
              {
                kind: 'link',
                slots: { label: boundTo('loop:hands', ['@title']), link: boundTo('loop:hands', ['@address']) },
              },
              text(boundTo('loop:hands', ['weekend_starts'], { formats: date('d MMMM y') }), {
                size: 's',
                tone: 'quiet',
              }),
            ],
          },
        ],
      },
    ],
  });

/** Where there is no page: a way on, and the newest stories. */
export const missingPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'm' },
    children: [
      heading(1, 'There is no page here'),
      text({ fixed: 'Fog, perhaps. The address may be mistyped, or the page may have gone.' }, { size: 'l' }),
      { kind: 'search', props: { label: 'Look for it', shown: true } },
      {
        kind: 'link',
        props: { look: 'outline' },
        slots: { label: { fixed: 'To the front page' }, link: site('@home') },
      },
    ],
  });

/** A plain page of the society, in the colour that it was given. */
export const plainPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      {
        kind: 'section',
        name: 'Band in the page’s colour',
        props: { pad: 'm', inner: 'page', gap: 's' },
        slots: { colour: field('page_colour') },
        children: [heading(1, field('@title'))],
      },
      text(field('page_body'), { size: 'l' }),
    ],
  });

/** A work weekend: when, where, what to bring. */
export const weekendPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      { kind: 'breadcrumbs' },
      heading(1, field('@title')),
      {
        kind: 'columns',
        name: 'Facts',
        props: { share: 'facts', gap: 's' },
        children: [
          text(field('weekend_starts', { before: 'From ', formats: date('EEEE, d MMMM y') })),
          text(field('weekend_ends', { before: 'To ', formats: date('EEEE, d MMMM y') })),
          text(boundTo('record', ['weekend_hut', '@title'], { before: 'At ' })),
          text(field('weekend_meet', { before: 'Meet at ' })),
          text(field('weekend_places', { after: ' places left' })),
        ],
      },
      {
        kind: 'box',
        name: 'Over already',
        props: { ground: 'notice', pad: 'm' },
        rule: all(test('day.past', 'record', ['weekend_ends'])),
        children: [text({ fixed: 'This one is done. Thank you, everybody.' })],
      },
      heading(2, 'What to bring'),
      { kind: 'table', slots: { rows: field('weekend_bring') } },
      {
        kind: 'button',
        rule: all(test('day.future', 'record', ['weekend_starts'])),
        slots: { label: { fixed: 'Write to us' }, link: field('weekend_mail') },
      },
    ],
  });

/** What is filed under a facility or topic: a line for each, of whatever type. */
export const filedPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      archiveTitle(),
      {
        kind: 'loop',
        id: 'filed',
        name: 'Entry',
        props: {
          source: { from: 'archive' },
          order: [{ steps: ['@title'], down: false }],
          perPage: 12,
          arrange: 'list',
          gap: 'm',
        },
        slots: { nothing: { fixed: 'Nothing is filed here yet.' } },
        children: [
          heading(2, boundTo('loop:filed', ['@title']), {
            props: { size: 's' },
            slots: { link: boundTo('loop:filed', ['@address']) },
          }),
          text(boundTo('loop:filed', ['@excerpt'], { formats: cut(30) }), { size: 's' }),
        ],
      },
    ],
  });

/** An author with what they wrote. */
export const authorPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      {
        kind: 'box',
        name: 'Portrait and name',
        props: { as: 'header', flow: 'row', gap: 'l' },
        style: { wide: { items: 'center' } },
        children: [
          {
            kind: 'picture',
            props: { shape: 'round', width: 'fifth' },
            slots: { source: boundTo('archive', ['@picture']) },
            style: { wide: { width: 'sixth' }, narrow: { width: 'third' } },
          },
          {
            kind: 'box',
            name: 'Name',
            props: { gap: 's' },
            children: [heading(1, boundTo('archive', ['@title'])), text(boundTo('archive', ['@description']))],
          },
        ],
      },
      {
        kind: 'loop',
        id: 'written',
        name: 'Entry',
        props: {
          source: { from: 'archive' },
          order: [{ steps: ['@published'], down: true }],
          perPage: 10,
          arrange: 'list',
          gap: 'm',
        },
        children: [
          heading(2, boundTo('loop:written', ['@title']), {
            props: { size: 's' },
            slots: { link: boundTo('loop:written', ['@address']) },
          }),
          text(boundTo('loop:written', ['@published'], { formats: date('d MMMM y') }), { size: 's', tone: 'quiet' }),
        ],
      },
    ],
  });

/** A hut that is closed: no more than where it is, why, and what is open nearby. */
export const closedHutPage = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { as: 'article', gap: 'l' },
    children: [
      { kind: 'breadcrumbs' },
      heading(1, field('@title')),
      {
        kind: 'box',
        name: 'Closed',
        props: { ground: 'notice', pad: 'm', gap: 's' },
        children: [
          heading(2, 'This hut is closed', { props: { size: 's' } }),
          text(field('hut_warning')),
          text({ fixed: 'It opens again when the work is done.' }, { tone: 'quiet' }),
        ],
      },
      { kind: 'picture', props: { shape: 'wide' }, slots: { source: field('hut_picture') } },
      text(field('hut_description'), { size: 'l' }),
      {
        kind: 'box',
        name: 'Open instead',
        props: { as: 'section', gap: 'm' },
        children: [
          heading(2, 'Open instead'),
          {
            kind: 'loop',
            id: 'instead',
            name: 'Hut',
            props: {
              source: { from: 'query', typeIds: ['hut'] },
              filter: all(test('choice.is', 'loop:instead', ['hut_state'], 'open')),
              order: [{ steps: ['hut_altitude'], down: true }],
              limit: 3,
              columns: 3,
              gap: 'l',
            },
            children: [{ kind: 'part', name: 'Hut card', props: { part: 'hut-card' } }],
          },
        ],
      },
    ],
  });
