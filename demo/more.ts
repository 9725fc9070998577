/** The rest of the demo world: journal, work weekends, pages, facilities, topics, authors. All of it is made up. */

export const facilities = [
  'Kitchen to share',
  'Drying room',
  'Hot shower',
  'Dogs welcome',
  'Library',
  'Wheelchair ramp',
  'Stove and wood',
  'Telephone',
];

export const topics: [string, string][] = [
  ['Weather', 'What the sky did, and what we made of it.'],
  ['Building', 'Roofs, doors, bunks, and who carries the timber.'],
  ['Kitchen', 'Soup, bread, and the great porridge question.'],
  ['Trails', 'Signs, steps, washed-out fords and new boards.'],
  ['Wildlife', 'Larks first. Then everybody else.'],
  ['Society', ''],
];

/** Name, about, and whether a portrait is drawn. */
export const authors: [string, string, boolean][] = [
  [
    'Hester Quillfeather',
    '<p>Hester keeps the society’s journal and its <strong>two typewriters</strong>. She has slept in every hut but one.</p>',
    true,
  ],
  ['Bram Ottersley', '<p>Bram reads the weather instruments at Grey Crag and writes when they freeze.</p>', true],
  ['Nell Farthingale', '', false],
];

export const LANGUAGES = ['English', 'French', 'German', 'Greek', 'Italian', 'Japanese', 'Gaelic'];
/** Languages of each warden, by place in the list. */
export const speaks: number[][] = [[0, 1], [0, 4], [0, 2, 6], [0], [3, 0], [0, 6], [1, 0, 2, 4], [0], [0, 5]];

export const MONTHS = [
  'January',
  'February',
  'March',
  'April',
  'May',
  'June',
  'July',
  'August',
  'September',
  'October',
  'November',
  'December',
];

export interface JournalData {
  title: string;
  topic: number;
  minutes: number;
  film?: string;
  huts?: number[];
  author?: number;
  text: string;
  picture?: false;
  draft?: true;
}

export const journal: JournalData[] = [
  {
    title: 'The night the vane stood still',
    topic: 0,
    minutes: 4,
    huts: [0],
    author: 1,
    text: 'For eleven hours no wind came over the crag. We sat on the terrace in our coats and listened to the glacier settle, which it does with a sound like a door in another house.',
  },
  {
    title: 'Forty shingles a day',
    topic: 1,
    minutes: 6,
    film: 'forty-shingles',
    huts: [5],
    author: 0,
    text: 'The new roof at Screeside goes on by hand, because nothing with an engine may come near the slope. Forty a day is good going. On the third day we learned to count the cracked ones too.',
  },
  {
    title: 'Against porridge',
    topic: 2,
    minutes: 3,
    author: 2,
    text: 'It is filling, it is cheap, and it keeps. So does sawdust. A plea for barley, with a recipe that has been tried on nine wardens.',
  },
  {
    title: 'For porridge',
    topic: 2,
    minutes: 2,
    author: 0,
    huts: [4],
    text: 'A short reply. It rests on salt, patience and a spoon carved from larch.',
  },
  {
    title: 'New boards over the bog',
    topic: 3,
    minutes: 5,
    huts: [8, 9],
    text: 'Two hundred and sixty boards were laid between the posts in May. The sundew was moved by teaspoon.',
  },
  {
    title: 'Larks, counted',
    topic: 4,
    minutes: 3,
    film: 'larks-counted',
    author: 1,
    text: 'Between the third and the ninth of June we heard one hundred and fourteen, and saw six.',
  },
  {
    title: 'What the society is for',
    topic: 5,
    minutes: 8,
    author: 0,
    text: 'It began with a leaking barn and two people who did not want to walk home in the rain. Everything since has been an enlargement of that barn.',
  },
  {
    title: 'The ford below the pass',
    topic: 3,
    minutes: 4,
    huts: [1],
    author: 1,
    text: 'The bridge went in the flood of the twelfth. Until it is made again there is the upper ford, and good sense.',
  },
  {
    title: 'A stove is carried up',
    topic: 1,
    minutes: 7,
    film: 'the-stove',
    huts: [1],
    text: 'It weighs as much as a pony and is less willing. Four loads, eleven people, and one door that had to come off its hinges.',
  },
  {
    title: 'Fog rules',
    topic: 0,
    minutes: 2,
    huts: [8],
    author: 2,
    text: 'Stay by the white posts. Count them aloud. If you have counted one twice, sit down.',
  },
  {
    title: 'Bread at Larchwell',
    topic: 2,
    minutes: 5,
    huts: [2],
    author: 0,
    text: 'The starter is older than the cottage. It lives in a blue jar, has a name, and is not to be fed by guests.',
  },
  {
    title: 'The warden’s dog has opinions',
    topic: 4,
    minutes: 3,
    huts: [7],
    text: 'Comma does not care for hats, and has said so. Visitors are asked to take the matter up with her directly.',
  },
  {
    title: 'Minutes of the long meeting',
    topic: 5,
    minutes: 12,
    author: 2,
    text: 'Present: thirty-one, and a kettle. The matter of the second kettle was deferred to the autumn.',
  },
  {
    title: 'Snow in July, as usual',
    topic: 0,
    minutes: 3,
    huts: [1, 3],
    author: 1,
    text: 'The north side of the pass kept its drift until the nineteenth. Boots, not shoes, whatever the valley looks like.',
  },
  {
    title: 'How a bunk is made',
    topic: 1,
    minutes: 6,
    film: 'how-a-bunk-is-made',
    huts: [0],
    text: 'Ash for the frame, larch for the boards, no screws where a head might find them.',
  },
  {
    title: 'A soup for forty',
    topic: 2,
    minutes: 4,
    huts: [4],
    author: 0,
    text: 'Halve it for twenty. Do not halve the pepper.',
  },
  {
    title: 'Two thousand and four steps',
    topic: 3,
    minutes: 5,
    huts: [0, 10],
    author: 1,
    text: 'We counted the Crag Stairs again, up and down, and got the same number both ways for the first time in the history of the society.',
  },
  {
    title: 'The pine marten in the lamp store',
    topic: 4,
    minutes: 2,
    film: 'the-marten',
    huts: [6],
    text: 'It has learned to open the biscuit tin. It has not learned to close it.',
  },
  {
    title: 'Accounts of the year',
    topic: 5,
    minutes: 9,
    author: 2,
    picture: false,
    text: 'Income: nights, soup, and a bequest of nine hundred books about weather. Outgo: shingles, and the pepper.',
  },
  {
    title: '霧の朝',
    topic: 0,
    minutes: 3,
    huts: [8],
    text: '朝、白い柱が一本ずつ霧の中から現れる。In the morning the white posts come out of the mist one by one. By the ninth you can see the door.',
  },
  {
    title: 'Το σχολείο χωρίς τοίχους',
    topic: 5,
    minutes: 4,
    huts: [7],
    text: 'Κάθε Πέμπτη διαβάζουμε μαζί. Every Thursday we read together, and whoever comes late reads first.',
  },
  {
    title:
      'Why there is no bath at Tarn End, and why, after thirty-seven letters on the subject, there will not be one',
    topic: 1,
    minutes: 2,
    huts: [3],
    author: 0,
    text: 'It is six boards and a roof.',
  },
  {
    title: 'The ptarmigan census',
    topic: 4,
    minutes: 6,
    film: 'ptarmigan',
    huts: [3, 0],
    author: 1,
    picture: false,
    text: 'Nobody saw one, which is what ptarmigan are for. The count stands at eleven, by droppings.',
  },
  {
    title: 'Next summer at Whinstone',
    topic: 5,
    minutes: 3,
    huts: [13],
    draft: true,
    text: 'Not to be printed before the road is made.',
  },
];

/** Title, days from today to start and end, places left, hut, and what to bring. */
export const weekends: [string, number, number, number, number, [string, number][]][] = [
  [
    'Shingles at Screeside',
    -120,
    -118,
    0,
    5,
    [
      ['Work gloves', 1],
      ['Waterproof trousers', 1],
    ],
  ],
  [
    'Boards over the bog',
    -45,
    -43,
    0,
    8,
    [
      ['Rubber boots', 1],
      ['Teaspoon', 2],
    ],
  ],
  ['Paint the shutters', -9, -7, 3, 2, [['Old clothes', 1]]],
  [
    'Wood for the winter',
    0,
    2,
    4,
    0,
    [
      ['Saw', 1],
      ['Ear muffs', 1],
      ['Lunch', 3],
    ],
  ],
  [
    'Steps, counted and mended',
    12,
    14,
    9,
    10,
    [
      ['Work gloves', 1],
      ['Head torch', 1],
    ],
  ],
  [
    'The new bridge, first stones',
    33,
    36,
    14,
    1,
    [
      ['Dry suit, if you have one', 1],
      ['Rope', 1],
      ['Change of everything', 2],
    ],
  ],
  ['Open the road to Whinstone', 160, 163, 20, 13, []],
];

/** Title and text. */
export const pages: [string, string][] = [
  [
    'Welcome',
    '<p>Fourteen roofs above the tree line, kept by a society that anyone may join.</p><h2>Begin here</h2><ul><li><a href="/huts/">Find a hut</a></li><li><a href="/trails/">Find a way</a></li></ul>',
  ],
  [
    'About the society',
    '<p>Founded in a barn, housed in a barn, and run from a table that was once the door of that barn.</p><blockquote><p>Leave it as you would like to find it.</p></blockquote>',
  ],
  [
    'Visit',
    '<p>By train to Corrie Foot, by boat to the landing stage, or over the moor on foot.</p><h2>On the day</h2><ol><li>Read the weather.</li><li>Tell somebody where you are going.</li><li>Go.</li></ol>',
  ],
  [
    'Kitchen rules',
    '<p>Wash what you used. <strong>Then wash one thing more.</strong></p><p>The blue jar at Larchwell is not to be fed.</p>',
  ],
  [
    'Contact',
    '<p>Write to <a href="mailto:huts@larkfell.example">huts@larkfell.example</a>, or ring the lamp store on Tuesdays.</p>',
  ],
];

export interface Room {
  name: string;
  floor: number;
  berths: [string, number, number, boolean][];
}

/** Rooms of a hut with so many bunks, made by a simple rule; berths are kind, number, price a night, bedding included. */
export function roomsFor(bunks: number): Room[] {
  if (bunks <= 6) return [{ name: 'The one room', floor: 0, berths: [['boards', bunks, 0, false]] }];
  const rooms: Room[] = [{ name: 'Stone room', floor: 0, berths: [['bunk', Math.floor(bunks / 3), 24, false]] }];
  rooms.push({
    name: 'Larch room',
    floor: 1,
    berths: [
      ['bunk', Math.floor(bunks / 4), 26, true],
      ['double', 1, 70, true],
    ],
  });
  const left =
    bunks -
    rooms.flatMap((room) => room.berths).reduce((n, [kind, count]) => n + count * (kind === 'double' ? 2 : 1), 0);
  rooms.push({ name: 'Under the roof', floor: 2, berths: [['mattress', Math.max(1, left), 18, false]] });
  return rooms;
}
