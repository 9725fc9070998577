import { LANGUAGES, MONTHS } from './more';

/** Larkfell Huts: an invented society, its huts, trails and wardens. Every name and text here is made up. */

export const site = {
  name: 'Larkfell Huts',
  tagline: 'Fourteen roofs above the tree line',
  locale: 'en-GB',
  timeZone: 'Europe/London',
};

const field = (id: string, key: string, label: string, kind: string, settings: object = {}, more: object = {}) => ({
  id,
  key,
  label,
  kind,
  settings,
  ...more,
});
const options = (...pairs: string[]) => ({
  options: pairs.map((label) => ({ key: label.toLowerCase().replace(/\W+/g, '_'), label })),
});

export const taxonomies = [
  { id: 'region', key: 'region', name: 'Region', tree: true },
  { id: 'facility', key: 'facility', name: 'Facility', tree: false },
  { id: 'topic', key: 'topic', name: 'Topic', tree: false },
];

/** A sub-field of rows. */
const sub = (id: string, label: string, kind: string, settings: object = {}, more: object = {}) =>
  field(id, id.replace(/^[a-z]+_/, ''), label, kind, settings, more);
const on = (tab: string) => ({ tab });
/** Where films of the site come from, and what they are given. */
const FILMS = {
  hosts: [{ host: 'films.larkfell.example', allow: ['fullscreen', 'picture-in-picture'], referrer: 'strict-origin' }],
};

/** What is said of each region. */
export const regionWords: Record<string, string> = {
  'upper-vale': 'The high bowl where both rivers begin. Snow lies on the north side into June.',
  'corrie-head': 'A ring of crags with one way in and two ways over.',
  'larch-slopes': 'Planted by the society in its first ten years, and gold for a fortnight each October.',
  'high-tarns': 'Five tarns on one shelf, each a little colder than the last.',
  'sallow-valley': 'From the gorge to the screes: the green side of the range, and the gentlest way in.',
  'sallow-gorge': 'The river has cut down to the sea here, and the path goes with it.',
  'white-screes': 'Loose above, firm below. Listen before you cross.',
  'long-moor': 'Two days of sky. Keep the cairns on your left hand.',
  'moor-edge': 'Where the road ends and the heather begins.',
  'the-bents': 'Long grass, longer views.',
  'north-cairns': 'Forty-one cairns, of which forty can be found.',
};

/** Slug, name, and what lies below. */
export const regions: [string, string, [string, string][]][] = [
  [
    'upper-vale',
    'Upper Vale',
    [
      ['corrie-head', 'Corrie Head'],
      ['larch-slopes', 'Larch Slopes'],
      ['high-tarns', 'High Tarns'],
    ],
  ],
  [
    'sallow-valley',
    'Sallow Valley',
    [
      ['sallow-gorge', 'Sallow Gorge'],
      ['white-screes', 'White Screes'],
    ],
  ],
  [
    'long-moor',
    'Long Moor',
    [
      ['moor-edge', 'Moor Edge'],
      ['the-bents', 'The Bents'],
      ['north-cairns', 'North Cairns'],
    ],
  ],
];

export const types = [
  {
    id: 'hut',
    key: 'hut',
    name: 'Hut',
    plural: 'Huts',
    description:
      'Fourteen roofs between the sea loch and the last ridge, from six boards and a stove to a house with a library.',
    base: 'huts',
    taxonomyIds: ['region', 'facility'],
    fields: [
      field('hut_picture', 'lead_picture', 'Lead picture', 'picture'),
      field('hut_altitude', 'altitude', 'Altitude', 'number', { unit: 'm', decimals: 0, min: -100, max: 6000 }),
      field('hut_bunks', 'bunks', 'Bunks', 'number', { decimals: 0, min: 0 }),
      field('hut_winter', 'winter_room', 'Winter room', 'yesno', { yes: 'Winter room open', no: 'No winter room' }),
      field('hut_state', 'state', 'State', 'choice', options('Open', 'Closing soon', 'Closed'), { required: true }),
      field('hut_comfort', 'comfort', 'Comfort', 'number', { decimals: 1, min: 0, max: 5 }),
      field('hut_booking', 'booking', 'Booking link', 'link'),
      field('hut_description', 'description', 'Description', 'richtext'),
      field('hut_access', 'getting_there', 'Getting there', 'longtext'),
      field(
        'hut_warning',
        'warning',
        'Warning',
        'text',
        { maxLength: 300 },
        { help: 'Shown in a notice on top of the page. Leave it empty when all is well.' },
      ),
      field('hut_opened', 'opened', 'First opened', 'date'),
      field('hut_layout', 'page_layout', 'Page layout', 'choice', options('Wide picture', 'Side by side', 'Plain'), {
        initial: 'wide_picture',
      }),
      field('hut_phone', 'phone', 'Telephone', 'phone', {}, on('Staying')),
      field(
        'hut_seasons',
        'seasons',
        'Opening seasons',
        'rows',
        {
          fields: [
            sub('season_name', 'Season', 'text', {}, { required: true }),
            sub('season_from', 'From', 'date'),
            sub('season_to', 'To', 'date'),
            sub('season_staffed', 'Staffed', 'yesno'),
            sub('season_price', 'Price a night', 'number', { decimals: 2, min: 0, unit: '€' }),
          ],
        },
        on('Staying'),
      ),
      field(
        'hut_rooms',
        'rooms',
        'Rooms',
        'rows',
        {
          fields: [
            sub('room_name', 'Room', 'text', {}, { required: true }),
            sub('room_floor', 'Floor', 'number', { decimals: 0, min: -1, max: 9 }),
            sub('room_berths', 'Berths', 'rows', {
              fields: [
                sub('berth_kind', 'Kind', 'choice', options('Bunk', 'Double', 'Mattress', 'Boards')),
                sub('berth_number', 'Number', 'number', { decimals: 0, min: 1 }),
                sub('berth_price', 'Price', 'number', { decimals: 2, min: 0, unit: '€' }),
                sub('berth_bedding', 'Bedding included', 'yesno', { yes: 'bedding included', no: 'no bedding' }),
              ],
            }),
          ],
        },
        on('Staying'),
      ),
      field('hut_gallery', 'gallery', 'Gallery', 'pictures', { most: 20 }, on('Pictures')),
      field('hut_film', 'film', 'Film', 'embed', FILMS, on('Pictures')),
      field('hut_icon', 'icon', 'Icon', 'icon', {}, on('Pictures')),
      field('hut_place', 'place', 'Place', 'place', {}, on('Finding it')),
      field('hut_warden', 'warden', 'Warden', 'relation', {
        relationId: 'warden_huts',
        side: 'a',
        many: false,
        typeIds: ['warden'],
      }),
      field('hut_trails', 'trails', 'Trails', 'relation', {
        relationId: 'hut_trails',
        side: 'a',
        many: true,
        typeIds: ['trail'],
      }),
    ],
  },
  {
    id: 'trail',
    key: 'trail',
    name: 'Trail',
    plural: 'Trails',
    description: 'Ways from door to door, for an afternoon or for a week. Grades are those of a dry summer day.',
    base: 'trails',
    taxonomyIds: ['region'],
    fields: [
      field('trail_picture', 'route_picture', 'Route picture', 'picture'),
      field('trail_length', 'length', 'Length', 'number', { unit: 'km', decimals: 1, min: 0 }),
      field('trail_ascent', 'ascent', 'Ascent', 'number', { unit: 'm', decimals: 0, min: 0 }),
      field('trail_hours', 'hours', 'Hours', 'number', { unit: 'h', decimals: 1, min: 0 }),
      field('trail_grade', 'grade', 'Grade', 'choice', options('Easy', 'Moderate', 'Hard', 'Alpine')),
      field('trail_about', 'about', 'About the way', 'longtext'),
      field('trail_closed', 'closed_until', 'Closed until', 'date'),
      field('trail_months', 'best_months', 'Best months', 'choices', options(...MONTHS)),
      field(
        'trail_stages',
        'stages',
        'Stages',
        'rows',
        {
          fields: [
            sub('stage_day', 'Day', 'number', { decimals: 0, min: 1 }),
            sub('stage_from', 'From hut', 'relation', {
              relationId: 'stage_from',
              side: 'a',
              many: false,
              typeIds: ['hut'],
            }),
            sub('stage_to', 'To hut', 'relation', { relationId: 'stage_to', side: 'a', many: false, typeIds: ['hut'] }),
            sub('stage_km', 'Length', 'number', { decimals: 1, min: 0, unit: 'km' }),
            sub('stage_ascent', 'Ascent', 'number', { decimals: 0, min: 0, unit: 'm' }),
            sub('stage_waypoints', 'Waypoints', 'rows', {
              fields: [
                sub('waypoint_name', 'Waypoint', 'text', {}, { required: true }),
                sub('waypoint_what', 'What is there', 'text'),
                sub('waypoint_km', 'Kilometre', 'number', { decimals: 1, min: 0 }),
              ],
            }),
          ],
        },
        on('Stages'),
      ),
      field('trail_huts', 'huts', 'Huts', 'relation', {
        relationId: 'hut_trails',
        side: 'b',
        many: true,
        typeIds: ['hut'],
      }),
    ],
  },
  {
    id: 'warden',
    key: 'warden',
    name: 'Warden',
    plural: 'Wardens',
    description: 'Who keeps the stoves lit and the books true.',
    base: 'wardens',
    taxonomyIds: [],
    fields: [
      field('warden_portrait', 'portrait', 'Portrait', 'picture'),
      field('warden_since', 'since', 'Since', 'date'),
      field('warden_languages', 'languages', 'Languages', 'choices', options(...LANGUAGES)),
      field('warden_about', 'about', 'About', 'richtext'),
      field('warden_huts', 'huts', 'Huts', 'relation', {
        relationId: 'warden_huts',
        side: 'b',
        many: true,
        typeIds: ['hut'],
      }),
    ],
  },
  {
    id: 'entry',
    key: 'entry',
    name: 'Journal entry',
    plural: 'Journal entries',
    description: 'What happened on the fell, told by those who were there.',
    base: 'journal',
    taxonomyIds: ['topic'],
    fields: [
      field('entry_picture', 'lead_picture', 'Lead picture', 'picture'),
      field('entry_body', 'body', 'Body', 'richtext', FILMS),
      field('entry_minutes', 'minutes', 'Minutes to read', 'number', { decimals: 0, min: 1, unit: 'min' }),
      field('entry_has_film', 'has_film', 'Has a film', 'yesno', { yes: 'With a film', no: 'Without a film' }),
      field('entry_film', 'film', 'Film', 'embed', FILMS),
      field('entry_huts', 'huts', 'Related huts', 'relation', {
        relationId: 'entry_huts',
        side: 'a',
        many: true,
        typeIds: ['hut'],
      }),
    ],
  },
  {
    id: 'weekend',
    key: 'weekend',
    name: 'Work weekend',
    plural: 'Work weekends',
    description: 'Two days of paint, stone and soup. No skill is needed that cannot be shown.',
    base: 'work-weekends',
    taxonomyIds: [],
    fields: [
      field('weekend_starts', 'starts', 'Starts', 'date', {}, { required: true }),
      field('weekend_ends', 'ends', 'Ends', 'date'),
      field('weekend_meet', 'meet', 'Meet at', 'time'),
      field('weekend_places', 'places_left', 'Places left', 'number', { decimals: 0, min: 0 }),
      field('weekend_hut', 'hut', 'Hut', 'relation', {
        relationId: 'weekend_hut',
        side: 'a',
        many: false,
        typeIds: ['hut'],
      }),
      field('weekend_bring', 'bring', 'What to bring', 'rows', {
        fields: [
          sub('bring_what', 'What', 'text', {}, { required: true }),
          sub('bring_number', 'How many', 'number', { decimals: 0, min: 1 }),
        ],
      }),
      field('weekend_mail', 'mail', 'Write to', 'email'),
      field('weekend_list', 'list', 'List to print', 'file'),
    ],
  },
  {
    id: 'page',
    key: 'page',
    name: 'Page',
    plural: 'Pages',
    base: 'pages',
    taxonomyIds: [],
    fields: [field('page_body', 'body', 'Body', 'richtext'), field('page_colour', 'colour', 'Colour', 'colour')],
  },
];

/** Name, since, portrait drawn, about. */
export const wardens: [string, string, boolean, string][] = [
  [
    'Maren Tolliver',
    '2009-05-01',
    true,
    'Maren came for one summer and stayed for the larches. She bakes before five and knows every spring on the north side.',
  ],
  ['Ivo Castellan', '2016-06-15', true, 'A joiner by trade. Most of the bunks at Grey Crag are his work.'],
  ['Signe Aldercott', '2021-05-20', true, 'Signe keeps the weather book and will tell you the truth about tomorrow.'],
  ['Theo Brackwater', '1998-04-12', false, 'Longest on the fell. Theo prefers not to be drawn, or to say much.'],
  [
    'Ανδρομάχη Λυκοράχη',
    '2013-07-01',
    true,
    'Andromache walked in from the south with a dog called Comma and a box of Greek coffee.',
  ],
  ['Wilf Pennistone', '2019-05-05', true, ''],
  [
    'Odile Fennimore',
    '2023-06-01',
    true,
    'Odile runs the kitchen courses at Sallow Foot and the rope school above it.',
  ],
  ['Rafe Underhay', '2004-05-18', true, 'Carried the stove up to Windle Pass in four loads.'],
  ['Juno Sparrowby', '2025-05-10', true, 'New this year, and already out at first light to sweep the steps.'],
];

export interface HutData {
  title: string;
  region?: string;
  altitude?: number;
  bunks?: number;
  winter?: boolean;
  state: string;
  comfort?: number;
  booking?: string;
  description?: string;
  access?: string;
  warning?: string;
  opened?: string;
  layout?: string;
  warden?: number;
  picture?: false;
  draft?: true;
}

const KITCHEN =
  'There is a stove, a long table, and a kitchen to share. Bring your own bag; blankets are on the bunks.';

export const huts: HutData[] = [
  {
    title: 'Grey Crag Hut',
    region: 'corrie-head',
    altitude: 2140,
    bunks: 38,
    winter: true,
    state: 'open',
    comfort: 3.5,
    booking: 'https://booking.larkfell.example/grey-crag',
    description: `The oldest of our huts, built of the same stone as the crag behind it. The terrace has the evening sun until the end of September.\n\n${KITCHEN}`,
    access: 'From the car park at Corrie Foot by the marked way in three hours. The last spring is at the larches.',
    opened: '1911-08-06',
    layout: 'wide_picture',
    warden: 1,
  },
  {
    title: 'Windle Pass Hut',
    region: 'high-tarns',
    altitude: 2388,
    bunks: 24,
    winter: true,
    state: 'closing_soon',
    comfort: 2.5,
    booking: 'https://booking.larkfell.example/windle-pass',
    description: `On the saddle itself, with a door to each side. In a north wind use the south one.\n\n${KITCHEN}`,
    access: 'Four hours from either valley. Snow lies on the north side into July.',
    warning:
      'The bridge below the pass was taken by the May flood. Use the upper ford, and turn back if the water is over the marked stone: two parties had to be fetched in June, and the ford is not to be tried alone or after rain.',
    opened: '1934-07-01',
    layout: 'side_by_side',
    warden: 7,
  },
  {
    title: 'Larchwell Cottage',
    region: 'larch-slopes',
    altitude: 1460,
    bunks: 12,
    winter: false,
    state: 'open',
    comfort: 4.5,
    booking: 'https://booking.larkfell.example/larchwell',
    description:
      'A forester’s cottage among old larches, with a garden, a proper bath and the best soup below the ridge. Families with small children have the two rooms under the roof.',
    access: 'An hour on a good path, also with a sturdy pram.',
    opened: '1972-05-20',
    layout: 'wide_picture',
    warden: 0,
  },
  {
    title: 'Tarn End Bivouac',
    region: 'high-tarns',
    altitude: 2710,
    bunks: 6,
    winter: true,
    state: 'open',
    comfort: 0,
    description: 'Six boards and a roof. No warden, no water, no booking. Leave it as you would like to find it.',
    access: 'Over the north ridge, only in settled weather.',
    opened: '1988-09-10',
    layout: 'plain',
  },
  {
    title: 'Sallow Foot House',
    region: 'sallow-gorge',
    altitude: 0,
    bunks: 54,
    winter: true,
    state: 'open',
    comfort: 5,
    booking: 'https://booking.larkfell.example/sallow-foot',
    description: `Where the gorge meets the sea loch: the threshold stone is the zero of all our heights. A large house with seminar rooms and a kitchen school.\n\n${KITCHEN}`,
    access: 'From the landing stage, five minutes.',
    opened: '2003-05-03',
    layout: 'side_by_side',
    warden: 6,
  },
  {
    title: 'Screeside Shelter',
    region: 'white-screes',
    altitude: 1985,
    bunks: 10,
    winter: true,
    state: 'closed',
    comfort: 1,
    description: 'Closed while the roof is renewed. The winter room stays open in an emergency.',
    access: 'Closed to walkers until the slope above has settled.',
    warning: 'Falling stones.',
    opened: '1956-10-02',
    warden: 3,
  },
  {
    title: 'The Society’s Jubilee House at the Head of the Long Moor, with the Reading Room and Lamp Store',
    region: 'moor-edge',
    altitude: 890,
    bunks: 46,
    winter: false,
    state: 'open',
    comfort: 4,
    booking: 'https://booking.larkfell.example/jubilee',
    description: 'Built for the society’s fiftieth year, with a reading room of nine hundred books about weather.',
    access: 'By the moor road.',
    opened: '1961-06-24',
    layout: 'plain',
    warden: 4,
  },
  {
    title: 'Λύκειον Refuge',
    region: 'north-cairns',
    altitude: 1230,
    bunks: 16,
    winter: false,
    state: 'open',
    comfort: 3,
    booking: 'https://booking.larkfell.example/lykeion',
    description: 'Named by its first warden for a school without walls. Readings on Thursdays.',
    access: 'Two hours from the northern cairn.',
    opened: '2013-07-07',
    warden: 4,
  },
  {
    title: '霧の小屋',
    region: 'the-bents',
    altitude: 1015,
    bunks: 8,
    winter: false,
    state: 'closing_soon',
    comfort: 2,
    description:
      'A gift of our sister society: a small house in the mist, with sliding doors and a hot tub fired with heather roots.',
    access: 'Follow the white posts. Do not leave them in fog.',
    opened: '1999-11-03',
    layout: 'wide_picture',
    warden: 8,
  },
  {
    title: 'Bentgrass Hut',
    region: 'the-bents',
    altitude: 960,
    bunks: 20,
    state: 'open',
    comfort: 2.5,
    booking: 'https://booking.larkfell.example/bentgrass',
    access: 'An hour and a half from the moor road.',
    opened: '1979-08-19',
    warden: 5,
  },
  {
    title: 'Corrie Lodge',
    region: 'corrie-head',
    altitude: 1720,
    bunks: 30,
    winter: true,
    state: 'open',
    comfort: 3,
    booking: 'https://booking.larkfell.example/corrie-lodge-east',
    description: `The eastern one of the two lodges of this name.\n\n${KITCHEN}`,
    access: 'Two hours from Corrie Foot.',
    opened: '1926-06-06',
    warden: 2,
  },
  {
    title: 'Corrie Lodge',
    region: 'larch-slopes',
    altitude: 1715,
    bunks: 18,
    winter: false,
    state: 'closed',
    comfort: 3,
    description: 'The western one of the two lodges of this name, across the corrie and older by a year.',
    access: 'Two and a half hours from Corrie Foot.',
    opened: '1925-06-06',
    warden: 2,
  },
  {
    title: 'Northern Cairn Box',
    altitude: 1105,
    bunks: 4,
    winter: true,
    state: 'open',
    comfort: 0.5,
    picture: false,
    description:
      'An emergency box with a stove and a book to sign. It lies in no region of ours, being on the boundary of three.',
    access: 'Beside the northern cairn.',
    opened: '2017-10-21',
  },
  {
    title: 'Whinstone Hut',
    region: 'white-screes',
    altitude: 2050,
    bunks: 28,
    winter: true,
    state: 'closed',
    comfort: 3.5,
    description: 'To open next summer in place of the shelter.',
    access: 'Not before the road is made.',
    layout: 'side_by_side',
    draft: true,
    warden: 7,
  },
];

/** Title, region, km, ascent, hours, grade, huts by place in the list above, and what is special. */
export const trails: [
  string,
  string,
  number,
  number,
  number,
  string,
  number[],
  { closed?: number; about?: string; picture?: false }?,
][] = [
  [
    'Three Tarns Round',
    'high-tarns',
    14.2,
    1120,
    6.5,
    'hard',
    [1, 3, 0],
    {
      about:
        'Past all three tarns in a day. The second is deep enough for a swim, and cold enough to make it a short one.',
    },
  ],
  [
    'Larch Walk',
    'larch-slopes',
    5.4,
    210,
    1.8,
    'easy',
    [2],
    { about: 'A level way among old trees, best in the last week of October.' },
  ],
  [
    'Crag Stairs',
    'corrie-head',
    7.1,
    980,
    4,
    'moderate',
    [0, 10],
    { about: 'Two thousand and four steps cut in the rock. Count them.' },
  ],
  [
    'Windle Traverse',
    'high-tarns',
    18.9,
    1460,
    8.5,
    'alpine',
    [1, 3],
    { closed: 40, about: 'From saddle to saddle on the crest. A rope is of use at the Needle.' },
  ],
  [
    'Sallow Gorge Path',
    'sallow-gorge',
    9.3,
    340,
    3.2,
    'moderate',
    [4],
    { about: 'On galleries above the water. Not after heavy rain.' },
  ],
  [
    'Loch to Lodge',
    'sallow-gorge',
    16,
    1720,
    7.5,
    'hard',
    [4, 10, 11],
    { about: 'The whole height of the fell, from the zero stone to the lodge.' },
  ],
  [
    'Scree Line',
    'white-screes',
    8.8,
    870,
    4.4,
    'alpine',
    [5, 13],
    { closed: 200, about: 'Closed while the slope settles.' },
  ],
  [
    'Moor Road',
    'moor-edge',
    12.5,
    90,
    3,
    'easy',
    [6, 9],
    { about: 'A gravel road across the moor, with benches at each mile.' },
  ],
  [
    'Lamp Store Loop',
    'moor-edge',
    4.2,
    60,
    1,
    'easy',
    [6],
    { about: 'An evening round with one of the society’s lamps.' },
  ],
  [
    'Bog Boards',
    'the-bents',
    6.6,
    40,
    2,
    'easy',
    [8, 9],
    { about: 'Boards laid over the bog. Please stay on them: the sundew is beside, not below.' },
  ],
  [
    'Mist Posts',
    'the-bents',
    7.9,
    130,
    2.5,
    'moderate',
    [8],
    { closed: -30, about: 'White posts at every forty metres.' },
  ],
  [
    'Cairn to Cairn',
    'north-cairns',
    10.4,
    410,
    3.8,
    'moderate',
    [7, 12],
    { about: 'Nine cairns, of which the fifth is the finest.' },
  ],
  [
    'Ridge of Larks',
    'corrie-head',
    21.7,
    1890,
    10,
    'alpine',
    [0, 1, 2, 10],
    { about: 'The long day of the fell: start in the dark.' },
  ],
  [
    'Corrie Round',
    'corrie-head',
    8,
    520,
    3.5,
    'moderate',
    [10, 11],
    { about: 'From lodge to lodge of the same name, and back by the other side.' },
  ],
  ['Garden Path', 'larch-slopes', 1.2, 15, 0.4, 'easy', [2], { about: 'To the bench and back.' }],
  [
    'Old Drove',
    'long-moor',
    24.5,
    300,
    6.5,
    'moderate',
    [6, 9, 7],
    { about: 'The cattle road of the long moor, grassed over.' },
  ],
  [
    'Lost Surveyor’s Way',
    'north-cairns',
    13.3,
    760,
    5.5,
    'hard',
    [],
    { picture: false, about: 'It passes no roof at all. Carry what you need.' },
  ],
  [
    'Whinstone Approach',
    'white-screes',
    6.2,
    690,
    3,
    'moderate',
    [13],
    { about: 'The way to the hut that is to come.' },
  ],
];
