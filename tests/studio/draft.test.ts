import { describe, expect, it } from 'vitest';
import { parseContentType } from '../../src/lib/core/model/model';
import type { ContentType } from '../../src/lib/core/schema/model';
import { changesOf, differences, draftOf, merged, sameDraft, type Draft } from '../../src/lib/studio/content/draft';
import { field, record } from '../support/world';

const parsed = parseContentType({
  id: 't',
  key: 't',
  name: 'T',
  plural: 'Ts',
  base: 'ts',
  taxonomyIds: [],
  fields: [
    field('a', 'text'),
    field('b', 'number'),
    { ...field('c', 'text'), initial: 'start' },
    field('list', 'pictures'),
  ],
});
const type = (parsed.ok ? parsed.value : undefined) as ContentType;
const base = draftOf(record(1, 't', { a: 'x', b: 1, list: [1, 2] }, { terms: ['p'] }), type);
const change = (more: Partial<Draft>): Draft => ({ ...base, ...more, values: { ...base.values, ...more.values } });

describe('the form of a record', () => {
  it('starts new records as the fields say, and others as they are', () => {
    expect(draftOf(undefined, type)).toEqual({
      title: '',
      slug: '',
      published: null,
      status: 'draft',
      authorId: null,
      values: { c: 'start' },
      terms: [],
    });
    expect(base.values).toEqual({ a: 'x', b: 1, list: [1, 2] });
  });

  it('is as it was once what was typed is taken back, whatever the order of its values', () => {
    const { a: _, ...rest } = base.values;
    // A form puts what is typed at the end of its values.
    const typed: Draft = { ...base, values: { ...rest, a: 'xy' } };
    expect(sameDraft(base, typed, type)).toBe(false);
    expect(sameDraft(base, { ...typed, values: { ...rest, a: 'x' } }, type)).toBe(true);
    expect(sameDraft(base, { ...base, values: { ...base.values, c: undefined } }, type)).toBe(true);
    const link = { ...base, values: { ...base.values, a: { url: '/', label: 'x' } } };
    expect(sameDraft(link, { ...base, values: { ...base.values, a: { label: 'x', url: '/' } } }, type)).toBe(true);
  });

  it('sends only what differs, and null for what was emptied', () => {
    expect(changesOf(base, base, type)).toEqual({ values: {} });
    expect(changesOf(base, change({ title: 'New', values: { b: undefined, list: [2, 1] } }), type)).toEqual({
      title: 'New',
      values: { b: null, list: [2, 1] },
    });
    expect(changesOf(base, change({ terms: [], authorId: 4 }), type)).toEqual({ terms: [], authorId: 4, values: {} });
    // An address that was emptied is left to the server.
    expect(changesOf(base, change({ slug: '' }), type)).toEqual({ values: {} });
  });

  it('sends nothing for fields that are gone from the type', () => {
    expect(changesOf(base, change({ values: { gone: 'orphan' } }), type)).toEqual({ values: {} });
  });
});

describe('two people on one record', () => {
  it('differ where they do, and clash where both have changed a part', () => {
    const theirs = change({ title: 'Theirs', values: { a: 'theirs', b: 2 } });
    const mine = change({ values: { a: 'mine', list: [9] } });
    expect(differences(base, theirs, mine, type)).toEqual([
      { part: 'title', before: base.title, theirs: 'Theirs', mine: base.title, clash: false },
      { part: 'values.a', before: 'x', theirs: 'theirs', mine: 'mine', clash: true },
      { part: 'values.b', before: 1, theirs: 2, mine: 1, clash: false },
      { part: 'values.list', before: [1, 2], theirs: [1, 2], mine: [9], clash: false },
    ]);
  });

  it('who have made the same change differ in nothing', () => {
    const both = change({ values: { a: 'same' } });
    expect(differences(base, both, structuredClone(both), type)).toEqual([]);
    expect(differences(base, change({ values: { b: undefined } }), change({ values: { b: undefined } }), type)).toEqual(
      [],
    );
  });

  it('are brought together part by part', () => {
    const theirs = change({ title: 'Theirs', terms: ['q'], values: { a: 'theirs', b: 2 } });
    const mine = change({ values: { a: 'mine', b: undefined } });
    const list = differences(base, theirs, mine, type);
    expect(merged(theirs, list, new Set()).values).toEqual(theirs.values);
    expect(merged(theirs, list, new Set(['values.a', 'values.b', 'terms']))).toMatchObject({
      title: 'Theirs',
      terms: ['p'],
      values: { a: 'mine', b: undefined },
    });
    // Nothing of either is changed by it.
    expect(theirs.values.a).toBe('theirs');
    expect(mine.values.a).toBe('mine');
  });
});
