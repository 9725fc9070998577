import Ajv2020 from 'ajv/dist/2020';
import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  columnsOf,
  guessTargets,
  problemInFile,
  recordFromPlain,
  recordToCells,
  recordToPlain,
} from '../../src/lib/core/exchange/columns';
import { parseFrontMatter, writeFrontMatter } from '../../src/lib/core/exchange/front-matter';
import { fromFeatureCollection, toFeature } from '../../src/lib/core/exchange/geojson';
import { depthOf, typeFromSchema, typeSchema } from '../../src/lib/core/exchange/json-schema';
import { indexModel, parseContentType } from '../../src/lib/core/model/model';
import type { ContentType } from '../../src/lib/core/schema/model';
import { field, index, model, record } from '../support/world';

const house = model.types[0] as ContentType;
const namer = { record: (id: number) => `person-${id}` };
const finder = {
  record: (_: string[], text: string) => Number(/(\d+)$/.exec(text)?.[1]) || undefined,
  media: () => undefined,
};
const made = record(
  5,
  'house',
  {
    name: 'Old, "the" House',
    story: 'One.\n\nTwo.',
    height: 0,
    open: false,
    state: 'fair',
    web: { url: 'https://a.example', label: 'A' },
    keeper: [7],
    ways: [1, 2],
  },
  { terms: ['peak', 'south'], authorId: 1, created: '2026-01-01T10:00:00.000Z' },
);

describe('records in files', () => {
  it('have a column for every part, and fields by their key', () => {
    expect(columnsOf(house, index).map((column) => column.name)).toEqual([
      'title',
      'slug',
      'status',
      'author',
      'created',
      'published',
      'area',
      ...house.fields.map((f) => f.key),
    ]);
    const clash = { ...house, fields: [field('title', 'text')] };
    expect(columnsOf(clash, index).at(-1)?.name).toBe('field:title');
  });

  it('come back from cells and from JSON as they were', () => {
    const names = columnsOf(house, index).map((column) => column.name);
    const targets = guessTargets(names, house, index);
    const cells = Object.fromEntries(
      recordToCells(made, house, index, namer).map((cell, i) => [names[i] as string, cell]),
    );
    const expected = {
      title: made.title,
      slug: made.slug,
      status: 'published',
      authorId: 1,
      created: made.created,
      published: made.published,
      terms: ['peak', 'south'],
      values: made.values,
    };
    expect(cells).toMatchObject({
      area: 'peak | south',
      ways: 'person-1 | person-2',
      height: '0',
      open: 'no',
      author: 'ada-writer',
    });
    expect(recordFromPlain(cells, targets, house, index, finder)).toEqual({ input: expected, problems: [] });
    const plain = JSON.parse(JSON.stringify(recordToPlain(made, house, index, namer))) as Record<string, unknown>;
    expect(recordFromPlain(plain, targets, house, index, finder)).toEqual({ input: expected, problems: [] });
  });

  it('are guessed by key, label and common names', () => {
    expect(guessTargets(['Name of it', 'NAME', 'Height', 'heading', 'Area', 'State'], house, index)).toEqual({
      'Name of it': '',
      NAME: 'name',
      Height: 'height',
      heading: '@title',
      Area: '@terms:area',
      State: 'state',
    });
    expect(guessTargets(['title', 'Title'], house, index)).toEqual({ title: '@title', Title: '' });
  });

  it('tell what cannot be found, by column', () => {
    const { problems, input } = recordFromPlain(
      { a: 'nobody', b: 'Nowhere', c: 'Somebody', d: 'x' },
      { a: 'keeper', b: '@terms:area', c: '@author', d: '' },
      house,
      index,
      { record: () => undefined, media: () => undefined },
    );
    expect(problems.map((p) => p.at)).toEqual(['a', 'b', 'c']);
    expect(input.values).toEqual({});
    expect(problemInFile({ at: 'values.height', what: 'x' }, { Höhe: 'height' }).at).toBe('Höhe');
    expect(problemInFile({ at: 'title', what: 'x' }, { Name: '@title' }).at).toBe('Name');
  });
});

describe('JSON Schema', () => {
  const rich = indexModel({
    ...model,
    types: [
      {
        ...house,
        fields: [
          ...house.fields,
          {
            ...field('parts', 'rows', {
              fields: [field('p', 'text'), field('more', 'rows', { fields: [field('n', 'number', { unit: 'kg' })] })],
            }),
            tab: 'More',
          },
          { ...field('code', 'text', { maxLength: 9 }), unique: true, required: true, initial: 'x', help: 'A code.' },
        ],
      },
      ...model.types.slice(1),
    ],
  });
  const type = (() => {
    const parsed = parseContentType(rich.types[0]);
    if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems));
    return parsed.value;
  })();

  it('of a type is valid against the published meta-schema, and fits its records', () => {
    const ajv = new Ajv2020({ strict: false, validateFormats: false });
    const schema = typeSchema(type, rich);
    expect([ajv.validateSchema(schema), ajv.errors]).toEqual([true, null]);
    const check = ajv.compile(schema);
    expect([check(recordToPlain(made, type, rich, namer)), check.errors]).toEqual([true, null]);
    expect(check({ title: 'x', height: 'tall' })).toBe(false);
    expect(check({ title: 'x', unheard: 1 })).toBe(false);
    expect(check({})).toBe(false);
  });

  it('comes back as the same type', () => {
    const read = typeFromSchema(JSON.parse(JSON.stringify(typeSchema(type, rich))));
    expect(read).toEqual({ ok: true, value: { type, left: [] } });
  });

  it('from elsewhere becomes fields by type, format and limits', () => {
    // The example of the JSON Schema documentation, "A complex object with nested properties" (from memory), enlarged.
    const read = typeFromSchema({
      title: 'Person record',
      type: 'object',
      required: ['fullName'],
      properties: {
        fullName: { type: 'string', maxLength: 80 },
        age: { type: 'integer', minimum: 0 },
        born: { type: 'string', format: 'date' },
        site: { type: 'string', format: 'uri' },
        mail: { type: ['string', 'null'], format: 'email' },
        size: { enum: ['S', 'M', 'L'] },
        tags: { type: 'array', items: { type: 'string' }, maxItems: 4 },
        sizes: { type: 'array', items: { enum: ['S', 'M'] } },
        address: {
          type: 'object',
          properties: {
            street: { type: 'string' },
            point: { type: 'object', properties: { lat: { type: 'number' }, lon: { type: 'number' } } },
          },
        },
        nothing: { type: 'null' },
      },
    });
    expect(read.ok).toBe(true);
    if (!read.ok) return;
    const { type: got, left } = read.value;
    expect(got).toMatchObject({ name: 'Person record', key: 'person_record', base: 'person-records' });
    expect(got.fields.map((f) => [f.key, f.kind])).toEqual([
      ['fullname', 'text'],
      ['age', 'number'],
      ['born', 'date'],
      ['site', 'link'],
      ['mail', 'email'],
      ['size', 'choice'],
      ['tags', 'rows'],
      ['sizes', 'choices'],
      ['address', 'rows'],
    ]);
    expect(got.fields[0]).toMatchObject({ label: 'Full Name', required: true, settings: { maxLength: 80 } });
    expect(left.map((p) => p.at)).toEqual(['nothing']);
  });

  it('that is none, or nested without end, is refused', () => {
    for (const bad of [null, 7, {}, { type: 'string' }, { properties: 3 }]) expect(typeFromSchema(bad).ok).toBe(false);
    let deep: Record<string, unknown> = { type: 'string' };
    for (let i = 0; i < 500; i++) deep = { type: 'object', properties: { a: deep } };
    expect(depthOf(deep)).toBeGreaterThanOrEqual(999);
    expect(typeFromSchema(deep)).toMatchObject({
      ok: false,
      problems: [{ what: expect.stringContaining('levels deep') }],
    });
  });
});

describe('GeoJSON (RFC 7946)', () => {
  const placed = parseContentType({ ...house, fields: [field('where', 'place'), field('height', 'number')] });
  const type = placed.ok ? placed.value : house;
  const own = indexModel({ ...model, types: [type, ...model.types.slice(1)] });

  it('has longitude before latitude (3.1.1), and null where there is no place (3.2)', () => {
    const at = record(1, 'house', { where: { lat: 57.1, lon: -4.7, label: 'Pass' }, height: 3 });
    expect(toFeature(at, 'where', type, own, namer)).toMatchObject({
      type: 'Feature',
      geometry: { type: 'Point', coordinates: [-4.7, 57.1] },
      properties: { title: 'house 1', height: 3, place_label: 'Pass' },
    });
    expect(toFeature(record(2, 'house'), 'where', type, own, namer).geometry).toBeNull();
  });

  it('is read as rows; the example of section 1.5 tells which feature is no point', () => {
    const example = {
      type: 'FeatureCollection',
      features: [
        { type: 'Feature', geometry: { type: 'Point', coordinates: [102.0, 0.5] }, properties: { prop0: 'value0' } },
        {
          type: 'Feature',
          geometry: {
            type: 'LineString',
            coordinates: [
              [102.0, 0.0],
              [103.0, 1.0],
              [104.0, 0.0],
              [105.0, 1.0],
            ],
          },
          properties: { prop0: 'value0', prop1: 0.0 },
        },
      ],
    };
    expect(fromFeatureCollection(example)).toMatchObject({
      ok: false,
      problems: [{ at: 'features.1.geometry', what: 'Only points can be kept; this is a LineString.' }],
    });
    expect(fromFeatureCollection({ ...example, features: example.features.slice(0, 1) })).toEqual({
      ok: true,
      value: [{ prop0: 'value0', place: { lat: 0.5, lon: 102 } }],
    });
    expect(fromFeatureCollection({ type: 'Feature' }).ok).toBe(false);
    expect(fromFeatureCollection({ type: 'FeatureCollection', features: [{ type: 'Point' }] }).ok).toBe(false);
  });
});

describe('front matter', () => {
  it('comes back whatever it holds', () => {
    fc.assert(
      fc.property(
        fc.dictionary(
          fc.stringMatching(/^[a-z_]{1,8}$/),
          fc.oneof(fc.string(), fc.integer(), fc.boolean(), fc.array(fc.string())),
          { maxKeys: 5 },
        ),
        fc.string(),
        (data, text) => {
          const body = text.replace(/\r/g, '').trim();
          const { body: read = '', ...rest } = (
            parseFrontMatter(writeFrontMatter(data, body)) as { value: Record<string, unknown> }
          ).value;
          if ('body' in data) return;
          expect([{ ...rest }, read]).toEqual([{ ...data }, body]);
        },
      ),
    );
  });

  it('is told apart from plain text, and wrong YAML by its line', () => {
    expect(parseFrontMatter('Just text')).toEqual({ ok: true, value: { body: 'Just text' } });
    expect(parseFrontMatter('\uFEFF---\r\na: 1\r\n---\r\nB')).toEqual({ ok: true, value: { a: 1, body: 'B' } });
    expect(parseFrontMatter('---\na: 1\n')).toMatchObject({ ok: false, problems: [{ at: '1' }] });
    expect(parseFrontMatter('---\na: 1\nb: [\n---\n')).toMatchObject({ ok: false });
    expect(parseFrontMatter('---\na: 1\na: 2\n---\n')).toMatchObject({ ok: false, problems: [{ at: '3' }] });
    expect(parseFrontMatter('---\n- a\n---\n')).toMatchObject({ ok: false });
    // The norm's own word for numbers and truth (YAML 1.2.2, 10.3.2): yes is a word, true is not.
    expect(parseFrontMatter('---\na: yes\nb: true\nc: 0o14\n---\n')).toEqual({
      ok: true,
      value: { a: 'yes', b: true, c: 12 },
    });
  });

  it('does not swell by aliases of aliases', () => {
    const bomb = `---\na: &a [x,x,x,x,x,x,x,x,x]\n${'bcdefghi'
      .split('')
      .map((c, i) => `${c}: &${c} [${Array(9).fill(`*${'abcdefghi'[i]}`).join(',')}]`)
      .join('\n')}\n---\n`;
    expect(parseFrontMatter(bomb)).toMatchObject({ ok: false, problems: [{ what: expect.stringContaining('alias') }] });
  });
});
