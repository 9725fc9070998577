import fc from 'fast-check';
import { parsePhoneNumberFromString } from 'libphonenumber-js/max';
import { describe, expect, it } from 'vitest';
import { formatNamed, formats } from '../../src/lib/core/formats';
import type { Site } from '../../src/lib/core/schema/model';
import { compilePath } from '../../src/lib/core/paths/compile';
import { beyond, reachable, type Reachable } from '../../src/lib/core/paths/reach';
import { compileSlot, misfit, startingTake, type SlotShape } from '../../src/lib/core/bindings/slots';
import type { FormatUse } from '../../src/lib/core/schema/binding';
import { fittingTakes, startBinding } from '../../src/lib/core/templates/bring';
import { boundTo } from '../../src/lib/core/templates/build';
import { takeOf, takesFor, typeAfter } from '../../src/lib/core/paths/takes';
import { envOf, houseScopes, index, own, picture, record } from '../support/world';

const SHAPES: SlotShape[] = [
  ...(['inline', 'blocks', 'url', 'picture', 'pictures', 'number', 'icon', 'colour'] as const),
  ...(['embed', 'list', 'places', 'rows', 'terms'] as const),
];

/** Every value that three steps from a house lead to. */
const everything: Reachable[] = reachable(houseScopes, index).flatMap((group) =>
  group.entries.flatMap((entry) => [
    entry,
    ...beyond(entry, houseScopes, index).flatMap((next) => [next, ...beyond(next, houseScopes, index)]),
  ]),
);

const records = [
  record(
    1,
    'house',
    {
      name: 'Name',
      story: 'First line.\nSecond line.\n\nSecond paragraph.',
      height: 1234.5,
      open: false,
      built: '2020-02-29',
      seen: '2026-03-29T00:30:00Z',
      state: 'fair',
      web: { url: 'https://www.example.org/a/', label: 'The site' },
      photo: 8,
      keeper: [4],
      ways: [2, 3],
      gallery: [8, 9],
      stars: 3.5,
      film: { src: '/player/winter' },
      sign: 'house',
      tint: '#5b2b4c',
      spot: { lat: 57.1, lon: -4.7, label: 'Here' },
      opens: '07:05',
      phone: '+44 20 7946 0958',
      prose: '<p>One &amp; two</p><p>Three</p>',
      uses: ['walk', 'ski'],
      seasons: [
        { season: 'Winter', price: 12, beds: [{ bed: 'Bunk', count: 4 }] },
        { season: 'Summer', price: 9.5 },
      ],
    },
    { terms: ['hill', 'south'], authorId: 1 },
  ),
  record(2, 'way', { km: 3 }),
  record(3, 'way', { km: 5 }),
  record(4, 'person', { age: 40 }),
  record(5, 'house'),
];
const env = () => envOf(records, [picture(8), picture(9)]);
const emptyEnv = () => ({ ...env(), record: records[4] });

describe('the type of a path, known from the path alone', () => {
  it('says whether one or several values come, for any record', () => {
    expect(everything.length).toBeGreaterThan(150);
    for (const { path, type, read } of everything)
      for (const at of [env(), emptyEnv(), { ...env(), record: undefined }])
        expect([path.steps, Array.isArray(read(at))]).toEqual([path.steps, type.many]);
  });

  it('decides what fits, and nothing that fits draws nonsense', () => {
    fc.assert(
      fc.property(fc.constantFrom(...everything), fc.constantFrom(...SHAPES), ({ path, type }, shape) => {
        const fits = !misfit(type, shape, startingTake(type, shape));
        const slot = compileSlot(startBinding(path, type, shape), shape, houseScopes, index);
        expect([path.steps, shape, slot.problems.length === 0]).toEqual([path.steps, shape, fits]);
        for (const at of [env(), emptyEnv()]) {
          const drawn = shape === 'url' ? slot.url(at) : shape === 'inline' ? slot.inline(at) : slot.blocks(at);
          expect(drawn).not.toMatch(/undefined|\[object|NaN|null/);
          if (!fits) expect([drawn, slot.picture(at), slot.found(at)]).toEqual(['', undefined, undefined]);
        }
      }),
      { numRuns: 1500 },
    );
  });

  it('offers for several values only takes that make one that fits', () => {
    for (const { path, type } of everything)
      for (const shape of SHAPES)
        for (const take of fittingTakes(type, shape)) {
          expect(misfit(type, shape, take)).toBeUndefined();
          const slot = compileSlot(startBinding(path, type, shape, take), shape, houseScopes, index);
          expect(slot.problems).toEqual([]);
          // Amounts of money give one of each currency.
          const ofParts = Boolean(type.kind.family.takes?.parts) && !['first', 'last', 'count'].includes(take);
          if (take !== 'listed') expect(typeAfter(type, take).many).toBe(ofParts);
        }
  });
});

describe('takes', () => {
  const typeOf = (...steps: string[]) => {
    const made = compilePath(own(...steps), houseScopes, index);
    if (!made.ok) throw new Error(made.problems[0]?.what);
    return made.value.type;
  };
  const km = typeOf('ways', 'km');

  it('are what plain arithmetic says', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: -1e6, max: 1e6 }), { minLength: 1 }), (numbers) => {
        const sorted = numbers.toSorted((a, b) => a - b);
        expect(takeOf(numbers, 'count', km)).toBe(numbers.length);
        expect(takeOf(numbers, 'first', km)).toBe(numbers[0]);
        expect(takeOf(numbers, 'last', km)).toBe(numbers[numbers.length - 1]);
        expect(takeOf(numbers, 'smallest', km)).toBe(sorted[0]);
        expect(takeOf(numbers, 'largest', km)).toBe(sorted[sorted.length - 1]);
        let sum = 0;
        for (const n of numbers) sum += n;
        expect(takeOf(numbers, 'sum', km)).toBe(sum);
        expect(takeOf(numbers, 'average', km)).toBeCloseTo(sum / numbers.length, 6);
      }),
    );
    for (const take of ['first', 'last', 'sum', 'average', 'smallest', 'largest'] as const)
      expect(takeOf([], take, km)).toBeUndefined();
    expect(takeOf([], 'count', km)).toBe(0);
  });

  it('of dates are the earliest and the latest, and text is never added', () => {
    expect(takeOf(['2026-02-01', '2019-12-31', '2026-01-31'], 'smallest', typeOf('built'))).toBe('2019-12-31');
    // Instants go by when they are, whatever their offsets look like.
    const moments = ['2026-05-31T10:00:00+09:00', '2026-05-31T02:00:00Z', '2026-05-30T23:00:00-05:00'];
    expect(takeOf(moments, 'smallest', typeOf('seen'))).toBe(moments[0]);
    expect(takeOf(moments, 'largest', typeOf('seen'))).toBe(moments[2]);
    const made = compilePath(own('ways', '@title'), houseScopes, index);
    expect(made.ok && takesFor(made.value.type)).toEqual(['listed', 'first', 'last', 'count']);
    expect(takesFor(km)).toContain('sum');
  });
});

describe('formats', () => {
  const write = (steps: string[], ...uses: [string, Record<string, unknown>?][]) =>
    compileSlot(
      boundTo('record', steps, {
        formats: uses.map(([format, options = {}]) => ({ format, options }) as FormatUse),
      }),
      'inline',
      houseScopes,
      index,
    ).inline(env());

  it.each<[string, string[], [string, Record<string, unknown>?][]]>([
    // CLDR 48, en-GB, as `Intl` of this Node.js carries it.
    ['1,234.50\u00a0m', ['height'], [['number', { decimals: 2 }]]],
    ['1234.5', ['height'], [['number', { decimals: 1, grouping: false, unit: false }]]],
    ['£1,234.50', ['height'], [['number', { style: 'currency', currency: 'GBP', decimals: 2 }]]],
    ['1.2k\u00a0m', ['height'], [['number', { style: 'compact', decimals: 1 }]]],
    ['Yes please', ['open'], [['yesno', { yes: 'No', no: 'Yes please' }]]],
    ['2', ['state'], [['choice', { as: 'place' }]]],
    ['fair', ['state'], [['choice', { as: 'key' }]]],
    ['example.org', ['web'], [['link', { part: 'host' }]]],
    ['The site', ['web'], [['link', {}]]],
    [
      'walk · ski',
      ['uses'],
      [
        ['choice', { as: 'key' }],
        ['list', { join: 'own' }],
      ],
    ],
    ['WALK or SKI', ['uses'], [['list', { join: 'or' }]]],
    ['Winter, +1', ['seasons', 'season'], [['list', { join: 'own', separator: ', ', most: 1 }]]],
    [
      'FIRST LINE. SECOND LINE.',
      ['story'],
      [
        ['plain', { part: 'first' }],
        ['case', {}],
      ],
    ],
    ['First line.', ['story'], [['plain', { part: 'line' }]]],
    ['One &amp; two', ['prose'], [['plain', { part: 'first' }]]],
    ['7:05', ['opens'], [['time', { clock: '24' }]]],
    ['29 Feb 20', ['built'], [['date', { style: 'pattern', pattern: 'd MMM yy' }]]],
    ['29 February 2020 – 29 March 2026', ['built'], [['date', { style: 'range', until: own('seen') }]]],
    [
      'Sunday, 29…',
      ['seen'],
      [
        ['date', { style: 'full' }],
        ['cut', { count: 2 }],
      ],
    ],
  ])('write %s', (wanted, steps, uses) => {
    // Line breaks are spaces here, and the narrow ones of ranges and times wide.
    expect(write(steps, ...uses).replace(/<br>|\s*\n\s*|\u2009/g, ' ')).toBe(wanted);
  });

  it('write ranges as Intl does, and the first alone where the second comes before it', () => {
    const formatter = new Intl.DateTimeFormat('en-GB', { dateStyle: 'long', timeZone: 'UTC' });
    const range = (until: string) => write(['built'], ['date', { style: 'range', until: own(until) }]);
    expect(range('seen')).toBe(formatter.formatRange(new Date('2020-02-29'), new Date('2026-03-29')));
    expect(write(['seen'], ['date', { style: 'range', until: own('built') }])).toBe('29 March 2026');
  });

  it('write telephone numbers as the reference library with all its data does', () => {
    for (const number of ['+44 20 7946 0958', '+1 212 555 0123', '+49 30 901820', '+81 3-1234-5678']) {
      const at = { ...env(), record: record(9, 'house', { phone: number }) };
      const reference = parsePhoneNumberFromString(number)!;
      for (const [form, wanted] of [
        ['international', reference.formatInternational()],
        ['national', reference.formatNational()],
        ['digits', reference.number],
      ] as const) {
        const slot = boundTo('record', ['phone'], { formats: [{ format: 'phone', options: { form } }] });
        expect(compileSlot(slot, 'inline', houseScopes, index).inline(at)).toBe(wanted);
      }
    }
  });

  it('in any chain give text or a problem, never nonsense', () => {
    const use: fc.Arbitrary<FormatUse> = fc.constantFrom(...formats).chain((format) => {
      const options = format.controls.flatMap(({ name, options: offered = [] }) =>
        offered.map(({ value }) => ({ [name]: value })),
      );
      return fc
        .constantFrom<Record<string, unknown>>({}, ...options)
        .map((one) => ({ format: format.name, options: one }) as FormatUse);
    });
    const written = everything.filter(({ type }) => !misfit(type, 'inline', startingTake(type, 'inline')));
    fc.assert(
      fc.property(fc.constantFrom(...written), fc.array(use, { maxLength: 4 }), ({ path, type }, chain) => {
        const binding = startBinding(path, type, 'inline');
        if (!('bound' in binding)) throw new Error('It is bound.');
        const slot = compileSlot({ bound: { ...binding.bound, formats: chain } }, 'inline', houseScopes, index);
        for (const at of [env(), emptyEnv()]) expect(slot.inline(at)).not.toMatch(/undefined|\[object|NaN|Invalid/);
        for (const { at, what } of slot.problems) {
          expect(at).toMatch(/^formats\.\d$/);
          expect(what).toMatch(/^(The|There) /);
        }
      }),
      { numRuns: 1500 },
    );
  });
});

describe('formats that fit', () => {
  const site = { name: 'A', locale: 'en-GB', timeZone: 'UTC' } as Site;
  const write = (name: string, value: unknown, options: object, settings: Record<string, unknown> = {}) => {
    const format = formatNamed(name)!;
    return format.write(value, format.options.parse(options), { site, settings, today: '2026-11-28' });
  };

  it('write parts of a date by themselves, as Intl.DateTimeFormat does (ECMA-402)', () => {
    const parts = ['day', 'weekday', 'month', 'month-short', 'year', 'day-month', 'month-year'];
    expect(parts.map((style) => write('date', '2026-11-28', { style }))).toEqual([
      '28',
      'Saturday',
      'November',
      'Nov',
      '2026',
      '28 November',
      'November 2026',
    ]);
    expect(write('date', '2026-11-28T23:30:00Z', { style: 'day' })).toBe('28');
  });

  it('take decimals and the currency from the field, unless told otherwise', () => {
    expect(write('number', 12.5, { style: 'currency' }, { unit: '€', decimals: 2 })).toBe('€12.50');
    expect(write('number', 12.5, { style: 'currency' }, { unit: 'CHF', decimals: 1 })).toBe('CHF\u00a012.5');
    expect(write('number', 12.5, { style: 'currency', currency: 'USD', decimals: 0 }, { unit: '€' })).toBe('US$13');
    expect(write('number', 12.5, { style: 'currency' }, { unit: 'kg' })).toBe('£12.50');
    expect(write('number', 3, { style: 'plain' }, { decimals: 2, unit: 'm' })).toBe('3.00\u00a0m');
  });

  it('tell how long a text is, at 200 words a minute or at another pace', () => {
    const text = 'word '.repeat(401);
    expect(write('length', text, {})).toBe('3 mins');
    expect(write('length', text, { pace: 401, unit: false })).toBe('1');
    expect(write('length', text, { as: 'words' })).toBe('401');
    const slow = { site: { ...site, readingPace: 100 }, settings: {}, today: '2026-11-28' };
    const format = formatNamed('length')!;
    expect(format.write(text, format.options.parse({}), slow)).toBe('5 mins');
    expect(write('length', '霧の小屋は山の上にある。', { as: 'words' })).not.toBe('1');
  });

  it('cut at a word, unless told otherwise', () => {
    const text = 'The hut stands above the larches';
    expect(write('cut', text, { count: 10, by: 'characters' })).toBe('The hut…');
    expect(write('cut', text, { count: 10, by: 'characters', whole: false })).toBe('The hut st…');
    expect(write('cut', text, { count: 2, by: 'characters' })).toBe('Th…');
    expect(write('cut', text, { count: 3, by: 'characters' })).toBe('The…');
  });

  it('write the words of a link alone, or nothing', () => {
    const url = 'https://a.example/x';
    expect([{ url, label: 'Book' }, { url }].map((value) => write('link', value, { part: 'words' }))).toEqual([
      'Book',
      '',
    ]);
  });
});
