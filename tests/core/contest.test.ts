import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import { indexModel } from '../../src/lib/core/model/model';
import { contenders, LEVELS, type Resolution, type PageOf, type Serving } from '../../src/lib/core/serving/resolution';
import type { ArchiveOf } from '../../src/lib/core/addresses/archives';
import { servesWords, targetProblems } from '../../src/lib/core/serving/targets';
import type { Purpose } from '../../src/lib/core/schema/template';
import type { Target } from '../../src/lib/core/schema/target';
import { envOf as envWith, model, record } from '../support/world';

const index = indexModel({
  ...model,
  authors: [
    { id: 7, name: 'Ada Fell', slug: 'ada-fell', about: '', pictureId: null },
    { id: 8, name: 'Bo Tarn', slug: 'bo-tarn', about: '', pictureId: null },
  ],
});
const template = (id: string, serves: Target[], more: Partial<Serving> = {}): Serving => ({
  id,
  name: id,
  purpose: 'record',
  serves,
  order: 0,
  ...more,
});
const high: Target = {
  on: 'rule',
  typeId: 'house',
  rule: { group: 'all', rules: [{ test: 'order.gt', path: { from: 'record', steps: ['height'] }, operand: 10 }] },
};
const house = (more: Partial<ContentRecord> = {}, values: Record<string, unknown> = {}) =>
  record(1, 'house', values, { authorId: 7, terms: ['peak'], ...more });
const envOf = (one: ContentRecord) => envWith([one], [], { model: index });
const at = (all: Serving[], page: PageOf, purpose: Purpose = 'record'): Resolution<Serving> =>
  contenders(all, purpose, index).at(page, envOf);
const order = (all: Serving[], page: PageOf, purpose: Purpose = 'record') =>
  at(all, page, purpose).candidates.map(({ template: { id } }) => id);

describe('contests for a record', () => {
  const all = [
    template('everything', [{ on: 'everything' }]),
    template('type', [{ on: 'type', typeId: 'house' }]),
    template('author', [{ on: 'author', authorId: 7 }]),
    template('taxonomy', [{ on: 'taxonomy', taxonomyId: 'area' }]),
    template('far', [{ on: 'term', termId: 'north' }]),
    template('near', [{ on: 'term', termId: 'peak' }]),
    template('rule', [high]),
    template('chosen', [{ on: 'records', typeId: 'house', ids: [1] }]),
  ];

  it('go by chosen record, rule, term from the nearest up, author, type, everything', () => {
    expect(order(all, { record: house({}, { height: 12 }) })).toEqual([...all].reverse().map(({ id }) => id));
  });

  it('leave out what does not fit, and say of each why', () => {
    const { candidates, others, tied } = at(all, { record: house({ terms: [], authorId: 8 }, { height: 3 }) });
    expect(candidates.map(({ template: { id } }) => id)).toEqual(['chosen', 'type', 'everything']);
    expect(candidates.map(({ reason }) => reason)).toEqual([
      'Serves one chosen house.',
      'Serves all houses, which is less near.',
      'Serves every record, which is less near.',
    ]);
    const rule = others.find((one) => one.template.id === 'rule');
    expect(rule?.reason).toBe('Its rule does not hold: Height > 10\u00a0m.');
    expect(rule?.rule?.parts[0]?.saw).toBe('3\u00a0m');
    expect(others.find((one) => one.template.id === 'author')?.reason).toBe('Serves what Ada Fell wrote.');
    expect(tied).toBe(false);
  });

  it('hear exceptions, by whatever they name', () => {
    const except = [
      template('type', [{ on: 'type', typeId: 'house' }], { except: [high] }),
      template('all', [{ on: 'everything' }]),
    ];
    expect(order(except, { record: house({}, { height: 3 }) })).toEqual(['type', 'all']);
    const { candidates, others } = at(except, { record: house({}, { height: 30 }) });
    expect(candidates.map(({ template: { id } }) => id)).toEqual(['all']);
    expect(others[0]?.reason).toBe('Leaves out houses for which Height > 10\u00a0m.');
  });

  it('are tied where only the order decides', () => {
    const two = [
      template('late', [{ on: 'type', typeId: 'house' }], { order: 5 }),
      template('early', [{ on: 'type', typeId: 'house' }], { order: 1 }),
    ];
    const { candidates, tied } = at(two, { record: house() });
    expect(candidates.map(({ template: { id } }) => id)).toEqual(['early', 'late']);
    expect(candidates[1]?.reason).toContain('later in the order');
    expect(tied).toBe(true);
  });
});

describe('contests for an archive', () => {
  const archive = (id: string, serves: Target[], more: Partial<Serving> = {}) =>
    template(id, serves, { purpose: 'archive', ...more });
  const all = [
    archive('everything', [{ on: 'everything' }]),
    archive('houses', [{ on: 'type', typeId: 'house' }]),
    archive('years', [{ on: 'dates', typeId: 'house' }]),
    archive('areas', [{ on: 'taxonomy', taxonomyId: 'area' }]),
    archive('north', [{ on: 'term', termId: 'north' }]),
    archive('authors', [{ on: 'authors' }]),
    archive('ada', [{ on: 'author', authorId: 7 }]),
    archive('search', [{ on: 'search' }]),
    archive('front', [{ on: 'front' }]),
    archive('missing', [{ on: 'missing' }]),
  ];
  it.each<[ArchiveOf, string[]]>([
    [{ of: 'type', typeId: 'house' }, ['houses', 'everything']],
    [{ of: 'date', typeId: 'house', year: 2026 }, ['years', 'houses', 'everything']],
    [{ of: 'date', typeId: 'way', year: 2026 }, ['everything']],
    [{ of: 'term', termId: 'peak' }, ['north', 'areas', 'everything']],
    [{ of: 'term', termId: 'south' }, ['areas', 'everything']],
    [{ of: 'author', authorId: 7 }, ['ada', 'authors', 'everything']],
    [{ of: 'author', authorId: 8 }, ['authors', 'everything']],
    [{ of: 'search', words: 'x' }, ['search', 'everything']],
    [{ of: 'front' }, ['front']],
    [{ of: 'missing' }, ['missing']],
  ])('%j', (of, ids) => expect(order(all, { archive: of }, 'archive')).toEqual(ids));

  it('frames stand around every page, unless they say around which', () => {
    const frames = [
      template('all', [], { purpose: 'frame' }),
      template('houses', [{ on: 'type', typeId: 'house' }], { purpose: 'frame', order: 3 }),
      template('front', [{ on: 'front' }], { purpose: 'frame', order: 2 }),
    ];
    expect(order(frames, { record: house() }, 'frame')).toEqual(['houses', 'all']);
    expect(order(frames, { archive: { of: 'type', typeId: 'house' } }, 'frame')).toEqual(['houses', 'all']);
    expect(order(frames, { archive: { of: 'front' } }, 'frame')).toEqual(['front', 'all']);
    expect(order(frames, { archive: { of: 'missing' } }, 'frame')).toEqual(['all']);
  });
});

describe('precedence', () => {
  const target: fc.Arbitrary<Target> = fc.oneof(
    fc.constant<Target>({ on: 'everything' }),
    fc.constantFrom('house', 'way').map((typeId): Target => ({ on: 'type', typeId })),
    fc.constantFrom('north', 'hill', 'peak', 'south').map((termId): Target => ({ on: 'term', termId })),
    fc.constant<Target>({ on: 'taxonomy', taxonomyId: 'area' }),
    fc.constantFrom(7, 8).map((authorId): Target => ({ on: 'author', authorId })),
    fc.constant(high),
    fc
      .uniqueArray(fc.integer({ min: 1, max: 3 }), { minLength: 1 })
      .map((ids): Target => ({ on: 'records', typeId: 'house', ids })),
  );
  const templates = fc
    .array(
      fc.record({
        serves: fc.array(target, { maxLength: 3 }),
        except: fc.array(target, { maxLength: 1 }),
        order: fc.integer({ min: 0, max: 2 }),
      }),
      {
        maxLength: 8,
      },
    )
    .map((list) =>
      list.map(({ order: n, ...rest }, i) => template(`t${i}`, rest.serves, { except: rest.except, order: n })),
    );
  const records = fc
    .record({
      id: fc.integer({ min: 1, max: 4 }),
      terms: fc.uniqueArray(fc.constantFrom('north', 'hill', 'peak', 'south')),
      authorId: fc.constantFrom(7, 8, null),
      height: fc.integer({ min: 0, max: 20 }),
    })
    .map(({ id, terms, authorId, height }) => record(id, 'house', { height }, { terms, authorId }));

  it('is total and stable, and does not hang on the order in which templates come', () => {
    fc.assert(
      fc.property(templates, records, fc.infiniteStream(fc.nat()), (all, one, numbers) => {
        const first = at(all, { record: one });
        const shuffled = all
          .map((value) => ({ value, key: numbers.next().value as number }))
          .sort((a, b) => a.key - b.key)
          .map(({ value }) => value);
        const again = at(shuffled, { record: one });
        const ids = (contest: Resolution<Serving>) => contest.candidates.map(({ template: { id } }) => id);
        expect(ids(again)).toEqual(ids(first));
        expect(again.tied).toBe(first.tied);
        // Everybody is either a candidate or told why not, once.
        const told = [...ids(first), ...first.others.map(({ template: { id } }) => id)].sort();
        expect(told).toEqual(all.map(({ id }) => id).sort());
        // Levels never go back, and the one that answers is the same without the reasons.
        const ranks = first.candidates.map(({ level }) => LEVELS.indexOf(level));
        expect(ranks).toEqual([...ranks].sort((a, b) => a - b));
        expect(contenders(all, 'record', index).winner({ record: one }, envOf)?.id).toBe(ids(first)[0]);
      }),
      { numRuns: 500 },
    );
  });

  it('is that of a plain reading of its rules', () => {
    const fits = (t: Target, one: ContentRecord): number | undefined => {
      if (t.on === 'records') return t.ids.includes(one.id) ? 0 : undefined;
      if (t.on === 'rule') return (one.values.height as number) > 10 ? 1000 : undefined;
      if (t.on === 'term') {
        const steps = one.terms.map((id) => index.above(id).indexOf(t.termId)).filter((n) => n >= 0);
        return steps.length ? 2000 + Math.min(...steps) : undefined;
      }
      if (t.on === 'taxonomy') return one.terms.length ? 2500 : undefined;
      if (t.on === 'author') return one.authorId === t.authorId ? 3000 : undefined;
      if (t.on === 'type') return t.typeId === 'house' ? 4000 : undefined;
      return t.on === 'everything' ? 5000 : undefined;
    };
    fc.assert(
      fc.property(templates, records, (all, one) => {
        const ranked = all
          .flatMap((own) => {
            const found = own.serves.map((t) => fits(t, one)).filter((n) => n !== undefined);
            const left = (own.except ?? []).some((t) => fits(t, one) !== undefined);
            return found.length && !left ? [{ own, rank: Math.min(...found) }] : [];
          })
          .sort((a, b) => a.rank - b.rank || a.own.order - b.own.order || (a.own.id < b.own.id ? -1 : 1));
        expect(order(all, { record: one })).toEqual(ranked.map(({ own }) => own.id));
      }),
      { numRuns: 500 },
    );
  });
});

describe('targets', () => {
  it('are said in a sentence', () => {
    expect(
      servesWords(
        {
          purpose: 'record',
          serves: [
            { on: 'term', termId: 'peak', typeId: 'house' },
            { on: 'author', authorId: 8, typeId: 'way' },
            { on: 'taxonomy', taxonomyId: 'area', typeId: 'way' },
          ],
        },
        index,
      ),
    ).toBe('Serves houses filed under Peak, ways by Bo Tarn and ways with a term of Area');
    const serves: Target[] = [{ on: 'term', termId: 'north' }, { on: 'author', authorId: 7 }, high];
    expect(
      servesWords({ purpose: 'record', serves, except: [{ on: 'records', typeId: 'house', ids: [1, 2] }] }, index),
    ).toBe(
      'Serves what is filed under North or below, what Ada Fell wrote and houses for which Height > 10\u00a0m, but not 2 chosen houses',
    );
    expect(servesWords({ purpose: 'frame', serves: [] }, index)).toBe('Serves every page');
    expect(servesWords({ purpose: 'archive', serves: [{ on: 'type', typeId: 'way' }] }, index)).toBe(
      'Serves the archive of ways',
    );
  });

  it('that are gone or mean nothing here are told', () => {
    const wrong = (target: Target, purpose: Purpose) =>
      targetProblems([target], purpose, index, 'serves').map(({ at: where, what }) => [where, what]);
    expect(wrong({ on: 'type', typeId: 'gone' }, 'record')).toEqual([
      ['serves.0', 'There is no content type with this id.'],
    ]);
    expect(wrong({ on: 'term', termId: 'gone' }, 'record')).toEqual([['serves.0', 'There is no term with this id.']]);
    expect(wrong({ on: 'author', authorId: 99 }, 'archive')).toEqual([
      ['serves.0', 'There is no author with this number.'],
    ]);
    expect(wrong({ on: 'records', typeId: 'house', ids: [] }, 'record')).toEqual([
      ['serves.0', 'No record is chosen.'],
    ]);
    expect(wrong(high, 'archive')[0]?.[0]).toBe('serves.0');
    expect(wrong({ on: 'search' }, 'record')[0]?.[1]).toContain('nothing that a template of this kind serves');
    const broken: Target = {
      on: 'rule',
      typeId: 'house',
      rule: { group: 'all', rules: [{ test: 'order.gt', path: { from: 'record', steps: ['gone'] }, operand: 1 }] },
    };
    expect(targetProblems([broken], 'record', index, 'except')[0]?.at).toMatch(/^except\.0\.rule/);
  });
});
