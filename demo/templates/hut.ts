import { boundTo, treeFrom, type Nested } from '../../src/lib/core/templates/build';
import type { Tree } from '../../src/lib/core/schema/element';
import { archiveTitle, all, bound, chapter, date, field, filled, heading, kept, none, test, text } from './short';

const R = 'record';
const layout = (is: string) => test('choice.is', R, ['hut_layout'], is);

/** The lead picture with what must not be missed lying over it. */
const lead: Nested = {
  kind: 'box',
  name: 'Lead picture, with its state',
  props: { flow: 'overlay' },
  rule: all(layout('wide_picture'), filled('hut_picture')),
  children: [
    {
      kind: 'picture',
      name: 'Wide picture',
      props: { shape: 'wide' },
      slots: { source: field('hut_picture') },
      style: { wide: { radius: 'm' } },
    },
    text(
      field('hut_state'),
      { tone: 'badge' },
      {
        style: {
          wide: { place: 'top-end', shiftX: '-1.25rem', shiftY: '1.25rem', shadow: 'm', layer: 2 },
          narrow: { shiftX: '-0.5rem', shiftY: '0.5rem' },
        },
      },
    ),
    text(
      field('hut_altitude', { after: ' above the sea loch' }),
      {},
      {
        style: {
          wide: {
            place: 'bottom-start',
            shiftX: '1.25rem',
            shiftY: '-1.25rem',
            ground: 'ground',
            padding: '0.4rem',
            radius: 's',
            shadow: 's',
          },
          narrow: { shiftX: '0.5rem', shiftY: '-0.5rem', size: 's' },
        },
      },
    ),
  ],
};

/** There as soon as one berth of one room has no bedding. */
const bringBedding: Nested = text(
  { fixed: 'Some of the berths have no bedding: bring a sleeping bag, or ask for one.' },
  { tone: 'quiet' },
  {
    name: 'Bring your own bedding',
    rule: {
      group: 'all',
      rules: [
        {
          rows: 'some',
          path: { from: R, steps: ['hut_rooms'] },
          as: 'room',
          where: {
            group: 'all',
            rules: [
              {
                rows: 'some',
                path: { from: 'loop:room', steps: ['room_berths'] },
                as: 'berth',
                where: all(test('yesno.no', 'loop:berth', ['berth_bedding'])),
              },
            ],
          },
        },
      ],
    },
  },
);

const particulars: Nested = {
  kind: 'box',
  name: 'Particulars',
  props: { gap: 'm', ground: 'tint', pad: 'm' },
  style: { wide: { radius: 'm', across: 'start' }, medium: { across: 'stretch' } },
  children: [
    { kind: 'part', name: 'Warden', props: { part: 'warden-line', about: { from: R, steps: ['hut_warden'] } } },
    {
      kind: 'columns',
      name: 'Facts in two columns',
      props: { share: 'facts', gap: 's' },
      children: [
        text(field('hut_altitude', { before: 'Altitude ' }), { size: 's' }),
        text(field('hut_bunks', { before: 'Bunks ' }), { size: 's' }),
        text(field('hut_opened', { before: 'Since ', formats: date('MMMM y') }), { size: 's' }),
        text(field('hut_winter'), { size: 's' }),
        {
          kind: 'link',
          name: 'Telephone',
          props: { look: 'quiet' },
          slots: { label: field('hut_phone'), link: field('hut_phone') },
          style: { wide: { size: 's' } },
        },
      ],
    },
    {
      kind: 'rating',
      name: 'Comfort',
      props: { of: 5, sign: 'peak' },
      slots: { value: field('hut_comfort'), label: { fixed: 'Comfort' } },
    },
    {
      kind: 'button',
      name: 'Book a bunk',
      slots: { label: { fixed: 'Book a bunk' }, link: field('hut_booking'), icon: { fixed: 'bed-double' } },
      rule: none(test('choice.is', R, ['hut_state'], 'closed')),
    },
  ],
};

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
          { kind: 'breadcrumbs' },
          heading(1, field('@title')),
          {
            kind: 'box',
            name: 'Facts',
            props: { flow: 'row', gap: 'm' },
            style: { wide: { items: 'center' } },
            children: [
              text(
                field('hut_state'),
                { tone: 'badge' },
                { name: 'State, where no wide picture bears it', rule: none(layout('wide_picture')) },
              ),
              text(field('@terms:region'), { tone: 'quiet' }),
              text(
                field('hut_altitude', { after: ' above the sea loch' }),
                { tone: 'quiet' },
                { rule: none(layout('wide_picture')) },
              ),
              text(field('hut_bunks', { after: ' bunks' }), { tone: 'quiet' }),
            ],
          },
        ],
      },
      {
        kind: 'box',
        name: 'Warning',
        props: { as: 'aside', ground: 'notice', pad: 'm', gap: 's' },
        rule: kept('Not to be missed'),
        children: [
          heading(2, 'Before you set out', { props: { size: 's' } }),
          text(field('hut_warning', { fallbacks: [{ text: 'This hut is closed.' }] })),
        ],
      },
      lead,
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
                rule: all(layout('side_by_side')),
                style: { wide: { radius: 'm' } },
              },
              text(field('hut_description'), { size: 'l' }),
              { ...heading(2, 'Getting there'), rule: all(filled('hut_access')) },
              text(field('hut_access')),
              { kind: 'terms', slots: { terms: field('@terms:facility'), label: { fixed: 'There is' } } },
            ],
          },
          particulars,
        ],
      },
      {
        ...chapter(
          'When it is open',
          'hut_seasons',
          { kind: 'table', name: 'Seasons', slots: { rows: field('hut_seasons') } },
          {
            kind: 'text',
            props: { size: 's', tone: 'quiet' },
            slots: {
              text: {
                words: [
                  [
                    { text: 'A night costs up to ' },
                    {
                      bound: {
                        path: { from: R, steps: ['hut_seasons', 'season_price'] },
                        take: 'largest',
                        fallbacks: [],
                        formats: [{ format: 'number', options: { style: 'currency', currency: 'EUR', decimals: 2 } }],
                        before: '',
                        after: '',
                      },
                    },
                    { text: '; members pay half.' },
                  ],
                ],
              },
            },
          },
        ),
      },
      chapter('Rooms', 'hut_rooms', bringBedding, {
        kind: 'loop',
        id: 'rooms',
        name: 'Room',
        props: {
          source: { from: 'values', path: { from: R, steps: ['hut_rooms'] } },
          order: [{ steps: ['room_floor'], down: false }],
          least: '17rem',
          gap: 'm',
          even: true,
        },
        children: [
          {
            kind: 'box',
            name: 'Room',
            props: { ground: 'lined', pad: 'm', gap: 's' },
            style: { wide: { radius: 'm' } },
            children: [
              heading(3, boundTo('loop:rooms', ['room_name']), { props: { size: 's' } }),
              text(boundTo('loop:rooms', ['room_floor'], { before: 'Floor ' }), { size: 's', tone: 'quiet' }),
              {
                kind: 'loop',
                id: 'berths',
                name: 'Berth',
                props: {
                  source: { from: 'values', path: { from: 'loop:rooms', steps: ['room_berths'] } },
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
                            { bound: bound(boundTo('loop:berths', ['berth_number'])), strong: true },
                            { text: ' × ' },
                            { bound: bound(boundTo('loop:berths', ['berth_kind'])) },
                            { text: ', ' },
                            {
                              bound: bound(
                                boundTo('loop:berths', ['berth_price'], {
                                  formats: [
                                    { format: 'number', options: { style: 'currency', currency: 'EUR', decimals: 2 } },
                                  ],
                                }),
                              ),
                            },
                            { text: ', ' },
                            { bound: bound(boundTo('loop:berths', ['berth_bedding'])) },
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
      }),
      {
        kind: 'box',
        name: 'Others nearby',
        props: { as: 'section', gap: 'm' },
        children: [
          heading(2, 'Others nearby'),
          {
            kind: 'loop',
            id: 'near',
            name: 'Hut nearby',
            props: {
              source: { from: 'query', typeIds: ['hut'] },
              filter: all({
                test: 'terms.below',
                path: { from: 'loop:near', steps: ['@terms:region'] },
                other: { from: R, steps: ['@terms:region'] },
              } as never),
              order: [{ steps: ['hut_altitude'], down: true }],
              leaveOut: { current: true },
              arrange: 'sideways',
              least: '15rem',
              gap: 'm',
            },
            slots: { nothing: { fixed: 'No other hut stands nearby.' } },
            children: [{ kind: 'part', name: 'Hut card', props: { part: 'hut-card' } }],
          },
        ],
      },
      chapter('Seen from the door', 'hut_gallery', {
        kind: 'pictures',
        name: 'Gallery',
        props: { columns: 3, shape: 'landscape' },
        slots: { source: field('hut_gallery') },
      }),
      chapter('A day there, as a film', 'hut_film', {
        kind: 'embed',
        name: 'Film',
        slots: { source: field('hut_film'), title: field('@title', { before: 'Film: ' }) },
        style: { wide: { maxWidth: '50rem' } },
      }),
      chapter('Where it lies', 'hut_place', {
        kind: 'map',
        name: 'Map',
        props: { shape: 'wide', span: 6 },
        slots: { place: field('hut_place'), caption: field('hut_place') },
      }),
      {
        kind: 'box',
        name: 'Trails from here',
        props: { as: 'section', gap: 'm' },
        rule: all(filled('hut_trails')),
        children: [
          heading(2, 'Trails from here'),
          {
            kind: 'loop',
            id: 'hut-trails',
            name: 'Trail',
            props: { source: { from: 'relation', path: { from: R, steps: ['hut_trails'] } }, columns: 3, gap: 'l' },
            children: [{ kind: 'part', name: 'Trail card', props: { part: 'trail-card' } }],
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
      heading(1, field('@title')),
      { kind: 'picture', slots: { source: field('hut_picture') } },
      text(field('hut_price', { before: 'From ' }), {}, { name: 'Price a night' }),
      text(field('hut_description')),
    ],
  });

export const hutArchive = (): Tree =>
  treeFrom({
    kind: 'box',
    name: 'Page',
    props: { gap: 'l' },
    children: [
      archiveTitle(),
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
            style: { wide: { radius: 'm' } },
          },
          heading(2, boundTo('loop:huts', ['@title']), {
            props: { size: 'm' },
            slots: { link: boundTo('loop:huts', ['@address']) },
          }),
          text(boundTo('loop:huts', ['hut_state']), { tone: 'badge' }, { rule: kept('Not simply open') }),
          text(
            boundTo('loop:huts', ['hut_description'], {
              formats: [{ format: 'cut', options: { count: 22, by: 'words' } }],
            }),
            { size: 's' },
          ),
          {
            kind: 'box',
            props: { flow: 'row', gap: 'm' },
            children: [
              text(boundTo('loop:huts', ['hut_altitude']), { size: 's', tone: 'quiet' }),
              text(boundTo('loop:huts', ['hut_bunks'], { after: ' bunks' }), { size: 's', tone: 'quiet' }),
              text(boundTo('loop:huts', ['@terms:region']), { size: 's', tone: 'quiet' }),
            ],
          },
        ],
      },
      {
        kind: 'box',
        name: 'By valley',
        props: { as: 'section', gap: 'm' },
        children: [
          heading(2, 'By valley'),
          {
            kind: 'loop',
            id: 'valleys',
            name: 'Valley',
            props: { source: { from: 'terms', taxonomyId: 'region', which: 'top' }, arrange: 'list', gap: 'l' },
            children: [
              heading(3, boundTo('loop:valleys', ['name'])),
              {
                kind: 'loop',
                id: 'valley-huts',
                name: 'Hut of the valley',
                props: {
                  source: { from: 'query', typeIds: ['hut'] },
                  filter: all({
                    test: 'terms.below',
                    path: { from: 'loop:valley-huts', steps: ['@terms:region'] },
                    other: { from: 'loop:valleys', steps: ['term'] },
                  } as never),
                  order: [{ steps: ['hut_altitude'], down: true }],
                  arrange: 'table',
                },
                children: [
                  {
                    kind: 'link',
                    name: 'Hut',
                    slots: {
                      label: boundTo('loop:valley-huts', ['@title']),
                      link: boundTo('loop:valley-huts', ['@address']),
                    },
                  },
                  text(boundTo('loop:valley-huts', ['hut_altitude']), {}, { name: 'Altitude' }),
                  text(boundTo('loop:valley-huts', ['hut_bunks']), {}, { name: 'Bunks' }),
                  text(boundTo('loop:valley-huts', ['hut_state']), {}, { name: 'State' }),
                  text(boundTo('loop:valley-huts', ['hut_warden', '@title']), {}, { name: 'Warden' }),
                ],
              },
            ],
          },
        ],
      },
    ],
  });
