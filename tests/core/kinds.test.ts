import { describe, expect, it } from 'vitest';
import { parseValues } from '../../src/lib/core/content/validate';
import { parseValue } from '../../src/lib/core/model/field';
import { kinds } from '../../src/lib/core/model/kinds';
import { kindOf, parseContentType } from '../../src/lib/core/model/model';
import { envOf, field, index, model, record } from '../support/world';

const house = model.types[0]!;

describe('kinds of field', () => {
  it('have names of their own and complete descriptions', () => {
    expect(new Set(kinds.map((kind) => kind.name)).size).toBe(kinds.length);
    for (const kind of kinds) expect(kind.label && kind.sign.length && kind.family).toBeTruthy();
  });

  // The table of emptiness that all else rests on: 0 and "no" are values.
  it.each([
    ['number', 0, false],
    ['yesno', false, false],
    ['text', '   ', true],
    ['text', 'x', false],
    ['longtext', '\n\n', true],
    ['link', { url: ' ' }, true],
    ['link', { url: '/x' }, false],
    ['date', '', true],
  ])('%s %j is empty: %s', (name, value, empty) =>
    expect(kinds.find((kind) => kind.name === name)?.isEmpty(value)).toBe(empty),
  );

  it.each([
    ['height', '12', 'This is a number.'],
    ['height', 1.5, 'This is a whole number.'],
    ['height', Number.NaN, 'This is a number.'],
    ['open', 'yes', 'This is yes or no.'],
    ['built', '2026-02-30', 'This is a day of the calendar, written 2026-05-31.'],
    ['built', 20260101, 'This is a date, written 2026-05-31.'],
    ['seen', '2026-01-01T10:00:00', 'This is a moment with its offset, written 2026-05-31T14:30:00+02:00.'],
    ['state', 'splendid', 'This is one of: good, fair, poor.'],
    ['web', { url: 'javascript:alert(1)' }, 'An address starts with https://, http://, mailto:, tel: or /.'],
    ['web', 'https://a.example', 'This is a link: an address and, if you like, words for it.'],
    ['name', 'two\nlines', 'This is one line; take the line breaks out.'],
    ['photo', 'x.png', 'This is a picture from the library.'],
    ['ways', 7, '“Ways” is a list.'],
    ['keeper', [1, 2], '“Keeper” takes one.'],
  ])('says what is wrong with %s = %j', (id, value, message) => {
    const parsed = parseValue(
      house.fields.find((f) => f.id === id)!,
      value,
      `values.${id}`,
    );
    expect(parsed.ok).toBe(false);
    if (!parsed.ok) expect(parsed.problems[0]).toMatchObject({ what: message });
  });

  it('takes null and blank text as empty, and tells of fields that are not there', () => {
    const parsed = parseValues(house, { name: '  ', height: null, nowhere: 1 });
    expect(parsed.ok).toBe(false);
    if (!parsed.ok)
      expect(parsed.problems).toEqual([
        { at: 'values.nowhere', what: 'House has no field “nowhere”.', fix: expect.any(String) },
      ]);
    const right = parseValues(house, { name: '  ', height: null, open: false });
    expect(right.ok && [...right.value.values()]).toEqual([undefined, undefined, false]);
  });

  it('write values as people read them', () => {
    const env = envOf([record(1, 'house'), record(2, 'person', {}, { title: 'Ada' })]);
    const words = (id: string, value: unknown) => {
      const known = kindOf(house.fields.find((f) => f.id === id)!)!;
      return known.kind.text(value, known.settings, env.reader);
    };
    expect(words('height', 2140)).toBe('2,140\u00a0m');
    expect(words('open', false)).toBe('No');
    expect(words('state', 'fair')).toBe('FAIR');
    expect(words('built', '2026-05-31')).toBe('31 May 2026');
    expect(words('web', { url: 'https://a.example/' })).toBe('a.example');
    expect(words('keeper', 2)).toBe('Ada');
    expect(words('keeper', 99)).toBe('');
  });
});

describe('content types', () => {
  const type = (fields: unknown[], more: object = {}) => ({
    id: 't',
    key: 't',
    name: 'T',
    plural: 'Ts',
    base: 'ts',
    taxonomyIds: [],
    fields,
    ...more,
  });

  it.each([
    [type([field('a', 'hologram')]), 'fields.0.kind', 'There is no kind of field named “hologram”.'],
    [type([field('a', 'terms')]), 'fields.0.kind', 'There is no kind of field named “terms”.'],
    [type([field('a', 'choice', { options: [] })]), 'fields.0.settings.options', 'A choice has at least one option.'],
    [type([field('a', 'text'), { ...field('b', 'text'), key: 'a' }]), 'fields.1.key', 'Two fields have the key “a”.'],
    [type([], { base: 'studio' }), 'base', 'This address belongs to the application.'],
    [type([], { base: 'a/b' }), 'base', 'An address part has letters, digits and single hyphens.'],
    [
      type([], { key: 'Has Space' }),
      'key',
      'A key has small letters, digits and underscores, and starts with a letter.',
    ],
  ])('are refused with place and reason', (input, at, what) => {
    const parsed = parseContentType(input);
    expect(parsed.ok).toBe(false);
    if (!parsed.ok) expect(parsed.problems).toContainEqual(expect.objectContaining({ at, what }));
  });

  it('know their terms above and below', () => {
    expect(index.above('peak')).toEqual(['peak', 'hill', 'north']);
    expect(index.below('north').sort()).toEqual(['hill', 'north', 'peak']);
    expect(index.below('nowhere')).toEqual([]);
  });
});
