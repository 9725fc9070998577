import Ajv2020 from 'ajv/dist/2020';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inventor } from '../../src/lib/core/content/invent';
import { fromPlain, joinCells, plainSchema, splitCell, toCell, toPlain } from '../../src/lib/core/exchange/cells';
import { drawIcon, iconNames, isIcon } from '../../src/lib/core/base/icons';
import { findIcons, icons } from '../../src/lib/core/base/icons/all';
import { fieldSchema, kindOf, parseFields, parseValue } from '../../src/lib/core/model/field';
import type { Field } from '../../src/lib/core/schema/field';
import { kinds } from '../../src/lib/core/model/kinds';
import { embedFrom, framed, Hosts, mayEmbed, reduced } from '../../src/lib/core/model/kinds/player';
import type { Inventor } from '../../src/lib/core/model/kinds/kind';
import { inventValue, refsOf, withoutRefs } from '../../src/lib/core/model/kinds/rows';
import { htmlText } from '../../src/lib/core/base/text';
import { envOf, field, record } from '../support/world';

const options = { options: ['a', 'b', 'c'].map((key) => ({ key, label: key.toUpperCase() })) };
const rooms: Field = field('rooms', 'rows', {
  fields: [
    { ...field('room', 'text', {}, 'Room'), required: true },
    field('view', 'picture', {}, 'View'),
    field('berths', 'rows', {
      fields: [
        field('kind', 'choice', options),
        field('count', 'number', { decimals: 0, min: 1 }),
        field('host', 'relation', { relationId: 'x', side: 'a', many: false, typeIds: ['person'] }),
      ],
    }),
  ],
  most: 5,
});

/** One field of every kind, with settings that matter. */
const FIELDS: Field[] = [
  field('text', 'text', { minLength: 2, maxLength: 40 }),
  field('longtext', 'longtext', { maxLength: 300 }),
  field('richtext', 'richtext'),
  field('number', 'number', { decimals: 2, min: -5, max: 900 }),
  field('whole', 'number', { decimals: 0 }),
  field('money', 'money', { currency: 'JPY' }),
  field('fee', 'money', { currency: 'EUR', only: true }),
  field('yesno', 'yesno'),
  field('date', 'date'),
  field('time', 'time'),
  field('datetime', 'datetime'),
  field('duration', 'duration'),
  field('choice', 'choice', options),
  field('choices', 'choices', { ...options, least: 1, most: 2 }),
  field('link', 'link'),
  field('email', 'email'),
  field('phone', 'phone'),
  field('picture', 'picture'),
  field('pictures', 'pictures', { most: 3 }),
  field('file', 'file'),
  field('embed', 'embed', { hosts: ['films.example.org'] }),
  field('icon', 'icon'),
  field('colour', 'colour'),
  field('place', 'place'),
  field('relation', 'relation', { relationId: 'r', side: 'a', many: true, typeIds: ['person'], most: 3 }),
  rooms,
];
const named = (id: string) => FIELDS.find((f) => f.id === id)!;
const accepts = (id: string, value: unknown) => parseValue(named(id), value, 'v');

const make = (seed: number): Inventor => ({
  ...inventor(seed),
  today: 20_000,
  pictures: [1, 2, 3],
  files: [9],
  records: () => [4, 5, 6],
});
const namer = { record: (id: number) => `slug-${id}` };
const finder = {
  record: (_types: string[], text: string) => Number(/^slug-(\d+)$/.exec(text)?.[1]) || undefined,
  media: (text: string) => Number(/^#(\d+)$/.exec(text)?.[1]) || undefined,
};

describe('every kind of field', () => {
  it('is tried here', () => {
    expect(new Set(FIELDS.map((f) => f.kind))).toEqual(
      new Set(kinds.filter((kind) => kind.forFields).map((kind) => kind.name)),
    );
    for (const one of FIELDS) expect([one.id, kindOf(one) !== undefined]).toEqual([one.id, true]);
  });

  it('takes its own made-up values, and finds them again in a cell and in JSON', () => {
    fc.assert(
      fc.property(fc.integer(), fc.constantFrom(...FIELDS), (seed, one) => {
        const value = inventValue(one, make(seed));
        const parsed = parseValue(one, value, '');
        expect(parsed).toEqual({ ok: true, value });
        expect(parseValue(one, fromPlain(one, toCell(one, value, namer), finder), '')).toEqual({ ok: true, value });
        const json = JSON.parse(JSON.stringify(toPlain(one, value, namer) ?? null)) as unknown;
        expect(parseValue(one, fromPlain(one, json, finder), '')).toEqual({ ok: true, value });
      }),
      { numRuns: 1500 },
    );
  });

  it('agrees with its JSON Schema, as ajv reads it, on made-up and on spoilt values', () => {
    // The meta-schema is the published one (json-schema.org, draft 2020-12), which ajv carries.
    const ajv = new Ajv2020({ strict: false, multipleOfPrecision: 6 });
    addFormats(ajv);
    for (const one of FIELDS) expect([one.id, ajv.validateSchema(fieldSchema(one))]).toEqual([one.id, true]);
    const checks = new Map(FIELDS.map((one) => [one.id, ajv.compile(plainSchema(one))]));
    const spoil = fc.oneof(
      fc.string(),
      fc.integer({ min: -10_000, max: 10_000 }),
      fc.integer({ min: -1e7, max: 1e7 }).map((n) => n / 1000),
      fc.boolean(),
      fc.array(fc.string(), { maxLength: 3 }),
      fc.constantFrom('2026-02-30', '24:00', '12:5', 'x@', '#12345', 'rgb(1)', '++', 'two\nlines', 'javascript:x'),
      fc.record({ url: fc.webUrl() }),
      fc.record({ lat: fc.integer({ min: -100, max: 100 }), lon: fc.constant(0) }),
    );
    fc.assert(
      fc.property(
        fc.constantFrom(...FIELDS),
        fc.oneof(
          fc.integer().map((seed) => ({ seed })),
          spoil.map((given) => ({ given })),
        ),
        (one, from) => {
          const value = 'seed' in from ? toPlain(one, inventValue(one, make(from.seed)), namer) : from.given;
          const check = checks.get(one.id)!;
          const read = 'seed' in from ? fromPlain(one, value, finder) : value;
          const parsed = parseValue(one, read, '');
          // Empties are left out of files, and names stand for numbers there.
          if (
            value === undefined ||
            (parsed.ok && parsed.value === undefined) ||
            (!('seed' in from) && (kindOf(one)?.kind.pointsAt || one.kind === 'rows' || one.kind === 'richtext'))
          )
            return;
          // Lists are kept in another order, and markup is measured without its tags.
          if (Array.isArray(value) && new Set(value).size !== value.length) return;
          expect([one.id, value, check(value)]).toEqual([one.id, value, parsed.ok]);
        },
      ),
      { numRuns: 4000 },
    );
  });

  it.each([
    ['text', 'x', 'This takes 2 characters at least.'],
    ['text', 'x'.repeat(41), 'This takes 40 characters at most.'],
    ['number', 901, 'This is at most 900.'],
    ['whole', 1.5, 'This is a whole number.'],
    ['time', '24:00', 'This is a time from 00:00 to 23:59, written 14:30.'],
    ['choices', ['a', 'b', 'c'], '“choices” takes 2 at most.'],
    ['email', 'nobody', 'This is an e-mail address, such as hut@larkfell.example.'],
    ['phone', 'call me', 'This is a telephone number: digits, spaces and hyphens, + in front if global.'],
    ['icon', 'unicorn', 'There is no icon of this name in the set.'],
    ['colour', 'reddish', 'This is a colour as CSS writes one, such as #5b2b4c, rgb(91 43 76) or plum.'],
    ['place', { lat: 91, lon: 0 }, 'A latitude lies between -90 and 90 degrees.'],
    [
      'embed',
      { src: 'https://evil.example/x' },
      'No player may come from there. Allowed are /player/…, https://films.example.org/….',
    ],
    ['rooms', [{ floor: 1 }], 'There is no sub-field “floor”.'],
    ['rooms', [{ view: 3 }], '“Room” is required in each row.'],
    ['rooms', [{ room: 'A', berths: [{ count: 0 }] }], 'This is at least 1.'],
  ])('says what is wrong with %s = %j', (id, value, message) => {
    const parsed = accepts(id, value);
    expect(parsed.ok).toBe(false);
    if (!parsed.ok) expect(parsed.problems[0]?.what).toBe(message);
  });

  it('says where in rows within rows something is wrong', () => {
    const parsed = accepts('rooms', [{ room: 'A' }, { room: 'B', berths: [{ kind: 'a' }, { kind: 'z' }] }]);
    expect(!parsed.ok && parsed.problems[0]?.at).toBe('v.1.berths.1.kind');
  });

  it('drops what is empty, down to rows without a value', () => {
    expect(accepts('rooms', [{ room: ' ' }, {}, { room: 'A', berths: [{}, { kind: null }] }])).toEqual({
      ok: true,
      value: [{ room: 'A' }],
    });
    expect(accepts('rooms', [])).toEqual({ ok: true, value: undefined });
    expect(accepts('richtext', '<p> </p><p></p>')).toEqual({ ok: true, value: undefined });
    expect(accepts('richtext', '<p><img src="/media/1/640.webp"></p>').ok).toBe(true);
    expect(accepts('whole', 0)).toEqual({ ok: true, value: 0 });
    expect(accepts('choices', ['c', 'a'])).toEqual({ ok: true, value: ['a', 'c'] });
  });
});

describe('what values point at', () => {
  const value = [
    { room: 'A', view: 3, berths: [{ kind: 'a', host: [7] }] },
    { room: 'B', berths: [{ host: [8] }] },
  ];

  it('is found in rows within rows, and in rich text', () => {
    expect(refsOf(rooms, value)).toEqual({ records: [7, 8], media: [3] });
    expect(refsOf(named('richtext'), '<p><img src="/media/12/640.webp" alt=""></p>')).toEqual({
      records: [],
      media: [12],
    });
    expect(refsOf(named('pictures'), [1, 2])).toEqual({ records: [], media: [1, 2] });
  });

  it('is taken out without touching the rest', () => {
    expect(withoutRefs(rooms, value, { records: [7, 8], media: [3] })).toEqual([
      { room: 'A', berths: [{ kind: 'a' }] },
      { room: 'B' },
    ]);
    expect(withoutRefs(named('pictures'), [1, 2], { records: [], media: [1, 2] })).toBeUndefined();
    expect(withoutRefs(named('richtext'), '<p>a</p><img src="/media/12/640.webp">', { records: [], media: [12] })).toBe(
      '<p>a</p>',
    );
    expect(withoutRefs(named('text'), 'x', { records: [1], media: [1] })).toBe('x');
  });
});

describe('words for values', () => {
  const env = envOf([record(4, 'person', {}, { title: 'Ada' })]);
  const words = (id: string, value: unknown) => {
    const { kind, settings } = kindOf(named(id))!;
    return kind.text(value, settings, env.reader);
  };

  it('read as people write them', () => {
    expect(words('time', '14:30')).toBe('14:30');
    expect(words('place', { lat: -33.5, lon: 18.25 })).toBe('33.5° S, 18.25° E');
    expect(words('place', { lat: 1, lon: 2, label: 'Here' })).toBe('Here');
    expect(words('richtext', '<h2>A</h2><p>B &amp; C<br>D</p><ul><li>e</li><li>f</li></ul>')).toBe(
      'A\n\nB & C\nD\n\ne\nf',
    );
    expect(words('icon', 'tree-pine')).toBe('tree pine');
    expect(words('rooms', { room: 'A', berths: [{ kind: 'a' }] })).toBe('A, 1');
  });

  it('lead where they should', () => {
    const url = (id: string, value: unknown) => kindOf(named(id))!.kind.url!(value, env.reader);
    expect(url('email', 'a@b.example')).toBe('mailto:a@b.example');
    // RFC 3966, section 5: visual separators are left out, an extension follows as a parameter.
    expect(url('phone', '+44 (1632) 960-001 x12')).toBe('tel:+441632960001;ext=12');
    expect(url('embed', { src: '/player/a' })).toBe('/player/a');
  });

  it('are plain where they came from markup', () => {
    expect(htmlText('<p>1 &lt; 2 &#8364; &#x41;&nbsp;x</p>')).toBe('1 < 2 € A\u00a0x');
  });
});

describe('embeds', () => {
  it('are reduced to where the player is', () => {
    expect(
      embedFrom(
        '<iframe width="560" height="315" src="https://films.example.org/e/1?a=1&amp;b=2" title="A film" onload="x()" allow="*"></iframe><script>x()</script>',
      ),
    ).toEqual({
      src: 'https://films.example.org/e/1?a=1&b=2',
      title: 'A film',
      width: 560,
      height: 315,
      allow: ['*'],
    });
    expect(embedFrom('  /player/larks ')).toEqual({ src: '/player/larks' });
    expect(embedFrom("<IFRAME SRC='//films.example.org/x'>")).toEqual({
      src: 'https://films.example.org/x',
      allow: [],
    });
    expect(embedFrom('<iframe src="/player/x" title="1 > 0 &quot;so&quot;" allowfullscreen>')).toEqual({
      src: '/player/x',
      title: '1 > 0 "so"',
      allow: ['fullscreen'],
    });
  });

  // Names of features: W3C Permissions Policy 9; tokens: WHATWG HTML 7.1.5; referrer policies: W3C Referrer Policy 3.
  const code =
    '<iframe src="https://films.example.org/1" width="400" height="300" referrerpolicy="unsafe-url" allowfullscreen ' +
    'allow="autoplay \'src\'; camera; encrypted-media" sandbox="allow-scripts allow-forms allow-top-navigation"></iframe>';
  const given = { host: 'films.example.org', allow: ['autoplay', 'fullscreen'], sandbox: ['allow-scripts'] };

  it('keep what their host is given of what they ask, and say what was taken', () => {
    const { player, left } = reduced(embedFrom(code), Hosts.parse([given]));
    expect(player).toEqual({
      src: 'https://films.example.org/1',
      width: 400,
      height: 300,
      allow: ['autoplay', 'fullscreen'],
      sandbox: ['allow-scripts'],
    });
    expect(left).toEqual([
      '“camera”',
      'play protected films',
      'send forms',
      '“allow-top-navigation”',
      'learn the page’s address',
    ]);
    const shaped = reduced(embedFrom(code), Hosts.parse([{ ...given, width: 16, height: 9 }]));
    expect([shaped.player.width, shaped.player.height]).toEqual([16, 9]);
    expect(shaped.left.at(-1)).toBe('have a shape of its own (400 × 300)');
    expect(reduced(player, Hosts.parse([given]))).toEqual({ player, left: [] });
  });

  it('are drawn with no more than their host is given when they are drawn', () => {
    const wide = Hosts.parse([
      {
        host: 'films.example.org',
        allow: ['autoplay', 'fullscreen'],
        sandbox: ['allow-scripts', 'allow-forms'],
        referrer: 'strict-origin',
      },
    ]);
    const { player } = reduced(embedFrom(code), wide);
    expect(framed(player, wide)).toContain(
      'sandbox="allow-scripts allow-forms" allow="autoplay; fullscreen" loading="lazy" referrerpolicy="strict-origin"',
    );
    expect(framed(player, Hosts.parse(['films.example.org']))).toContain(
      'sandbox="allow-scripts" allow="fullscreen" loading="lazy" referrerpolicy="no-referrer"',
    );
    expect(framed({ src: 'https://films.example.org/1' }, wide)).toContain('allow="autoplay; fullscreen"');
    expect(framed(player, [])).toBe('');
  });

  it('have hosts that are checked where they are set', () => {
    const wrong = (hosts: unknown) =>
      Hosts.safeParse(hosts).error?.issues.map(({ path, message }) => [path.join('.'), message]);
    expect(wrong(['https://films.example.org'])).toEqual([
      ['0.host', 'A host is written like films.larkfell.example.'],
    ]);
    expect(wrong(['a.example', { host: 'A.example' }])).toEqual([['1.host', '“a.example” stands here twice.']]);
    expect(wrong([{ host: 'a.example', width: 3 }])?.[0]?.[0]).toBe('0.height');
    expect(wrong([{ host: 'a.example', sandbox: ['allow-top-navigation'] }])?.[0]?.[0]).toBe('0.sandbox.0');
    expect(Hosts.parse(['A.example'])).toEqual(Hosts.parse([{ host: 'a.example' }]));
  });

  it('stand in running text too', () => {
    const told = field('r', 'richtext', { hosts: ['films.example.org'] });
    const { kind, settings } = kindOf(told)!;
    const html = '<p>a</p><iframe src="https://films.example.org/1" allow="fullscreen"></iframe><p>b</p>';
    expect(kind.blocks!(html, settings)).toMatch(
      /^<p>a<\/p><iframe class="player player-wide" src="https:\/\/films\.example\.org\/1" [^>]*sandbox="allow-scripts"[^>]*><\/iframe><p>b<\/p>$/,
    );
    expect(kind.blocks!(html, { hosts: [] })).toBe('<p>a</p><p>b</p>');
  });

  it('come from allowed hosts only', () => {
    const hosts = Hosts.parse(['films.example.org']);
    for (const src of ['/player/larks', 'https://films.example.org/a'])
      expect([src, mayEmbed(src, hosts)]).toEqual([src, true]);
    for (const src of [
      'http://films.example.org/a',
      'https://films.example.org.evil.example/',
      'https://user@films.example.org/',
      'https://films.example.org:8443/',
      'javascript:alert(1)',
      '//films.example.org/a',
      '/player/../studio',
      '/studio',
      'data:text/html,x',
      '',
    ])
      expect([src, mayEmbed(src, hosts)]).toEqual([src, false]);
  });

  it('are drawn in a frame that can do next to nothing', () => {
    const { kind, settings } = kindOf(named('embed'))!;
    const html = kind.blocks!({ src: 'https://films.example.org/?a="><script>', title: '"x"' }, settings);
    expect(html).toContain('sandbox="allow-scripts"');
    expect(html).not.toContain('<script>');
    expect(kind.blocks!({ src: 'https://evil.example/' }, settings)).toBe('');
  });
});

describe('the icons', () => {
  it('have names of their own and are found by name and meaning', () => {
    expect(new Set(icons.map((icon) => icon.name)).size).toBe(icons.length);
    expect(icons.length).toBeGreaterThan(200);
    expect(findIcons('winter').map((icon) => icon.name)).toContain('mountain-snow');
    expect(findIcons('tree pi')[0]!.name).toBe('tree-pine');
    expect(findIcons('')).toHaveLength(icons.length);
    expect(icons.map(({ name }) => name)).toEqual(iconNames);
    expect(icons.length).toBeGreaterThan(1600);
    // By a tag of the set, by a name it had, and quotation marks among them.
    expect(findIcons('blockquote').map(({ name }) => name)).toContain('text-quote');
    expect(findIcons('smile').map(({ name }) => name)).toContain('face-slightly-smiling');
    expect(findIcons('quotation').map(({ name }) => name)).toContain('quote');
    expect(findIcons('quote')[0]!.name).toBe('quote');
    // What was called otherwise in earlier releases of the set is drawn as ever.
    expect([isIcon('waves'), drawIcon('waves') === drawIcon('waves-horizontal'), isIcon('no-such')]).toEqual([
      true,
      true,
      false,
    ]);
    for (const { name } of icons) expect(drawIcon(name)).toMatch(/^<svg [^>]*>(<\w+ [^<>]*\/>)+<\/svg>$/);
    for (const icon of icons) expect(icon.body).not.toMatch(/script|href|on\w+=/);
  });
});

describe('several values in a cell', () => {
  it('come back whatever signs they hold', () => {
    fc.assert(
      fc.property(
        fc.array(
          fc
            .string({ unit: fc.constantFrom('a', '|', '\\', ' ', 'é', '"') })
            .map((s) => s.trim())
            .filter(Boolean),
        ),
        (parts) => {
          expect(splitCell(joinCells(parts))).toEqual(parts);
        },
      ),
    );
    expect(splitCell(' a | b|c ')).toEqual(['a', 'b', 'c']);
  });
});

describe('fields', () => {
  it('are checked with their starting value and sub-fields', () => {
    const bad = parseFields(
      [
        { ...field('n', 'number', { min: 5 }), initial: 3 },
        field('r', 'rows', { fields: [field('x', 'text'), field('x', 'hologram')] }),
      ],
      'fields',
    );
    expect(bad.ok).toBe(false);
    if (!bad.ok)
      expect(bad.problems.map((p) => p.at)).toEqual([
        'fields.0.initial',
        'fields.1.settings.fields.1.key',
        'fields.1.settings.fields.1.id',
        'fields.1.settings.fields.1.kind',
      ]);
  });
});
