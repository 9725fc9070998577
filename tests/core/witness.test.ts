import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { inventedRecord, INVENTED_ID, supposedRecords, supposing } from '../../src/lib/core/content/suppose';
import { memoryPool } from '../../src/lib/core/loops/memory-pool';
import { kindOf } from '../../src/lib/core/model/field';
import { compileRule } from '../../src/lib/core/rules/compile';
import { witnessFor, type Wanted, type Witness } from '../../src/lib/core/rules/witness';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import type { Rule } from '../../src/lib/core/schema/rule';
import { all, any, everyRecord, FIELDS, group, none, some, test } from '../support/rules';
import { envOf, houseScopes, index, own, picture, record } from '../support/world';

const made = (rule: Rule) => compileRule(rule, houseScopes, index);
const media = [picture(8)];
const find = (wanted: Wanted[], records: ContentRecord[]) =>
  witnessFor(wanted, {
    model: index,
    records,
    typeIds: ['house'],
    pool: memoryPool(records, media),
    media,
    today: envOf([]).today,
  });
const holding = (...rules: Rule[]): Wanted[] => rules.map((rule) => ({ rule: made(rule), holds: true }));

/** What a witness comes to, asked anew: all records with what is supposed, and a page for the one. */
function outcomes(found: Witness & { is: 'made' }, wanted: Wanted[], records: ContentRecord[]): boolean[] {
  const there = supposing(records, found.supposed, index, found.record);
  const env = envOf(there, media);
  env.record = there.find(({ id }) => id === found.record.id);
  return wanted.map(({ rule, holds }) => rule.holds(env) === holds);
}
/** Values that their field would refuse. */
const refused = ({ supposed }: Witness & { is: 'made' }) =>
  [...supposed.values()].flatMap((values) =>
    Object.entries(values).filter(([step, value]) => {
      const field = index.field(step)?.field;
      const known = field && kindOf(field);
      if (!known || value === undefined) return false;
      const check = known.kind.value(known.settings);
      return (Array.isArray(value) ? value : [value]).some((one) => !check.safeParse(one).success);
    }),
  );

describe('a witness', () => {
  it('is found exactly where trying every value finds one, and holds when it is asked anew', () => {
    const cases = some.chain((names) =>
      fc.tuple(
        fc.constant(names),
        fc.array(fc.tuple(group(fc.oneof(...names.map((name) => FIELDS[name]!.tests))), fc.boolean()), {
          minLength: 1,
          maxLength: 3,
        }),
        fc.nat(3),
      ),
    );
    fc.assert(
      fc.property(cases, ([names, asked, there]) => {
        const wanted = asked.map(([rule, holds]): Wanted => ({ rule: made(rule), holds }));
        const every = everyRecord(names);
        const can = every.some((one) => wanted.every(({ rule, holds }) => rule.holds(envOf([one])) === holds));
        const records = every.slice(0, there).map((one, i) => ({ ...one, id: i + 1 }));
        const found = find(wanted, records);
        expect([found.is === 'there' || found.is === 'made', found.is === 'never']).toEqual([can, !can]);
        if (found.is === 'there') {
          const env = { ...envOf(records), record: found.record };
          expect(wanted.every(({ rule, holds }) => rule.holds(env) === holds)).toBe(true);
        }
        if (found.is === 'made') {
          expect(outcomes(found, wanted, records)).not.toContain(false);
          expect(refused(found)).toEqual([]);
        }
      }),
      { numRuns: 800 },
    );
  });

  it('is the nearest record with the fewest values supposed', () => {
    const records = [
      record(1, 'house', { open: false, stars: 1, state: 'poor' }),
      record(2, 'house', { open: true, stars: 1, state: 'good' }),
      record(3, 'way', {}),
    ];
    const wanted = holding(
      all(test('yesno.yes', 'open'), test('order.gt', 'stars', 3), test('choice.is', 'state', 'good')),
    );
    const found = find(wanted, records);
    expect(found).toMatchObject({ is: 'made', record: { id: 2 } });
    const { supposed } = found as Witness & { is: 'made' };
    expect([...supposed.keys()]).toEqual([2]);
    expect(Object.keys(supposed.get(2)!)).toEqual(['stars']);
  });

  it('is made up where there is no record at all, and there before anything is made', () => {
    const wanted = holding(all(test('choice.is', 'state', 'fair')));
    expect(find(wanted, [])).toMatchObject({ is: 'made', record: { id: INVENTED_ID, typeId: 'house' } });
    expect(find(wanted, [record(4, 'house', { state: 'fair' })])).toMatchObject({ is: 'there', record: { id: 4 } });
  });

  it('is told to be impossible with the rules that contradict each other', () => {
    const wanted = holding(
      test('filled', 'name'),
      test('choice.is', 'state', 'good'),
      test('choice.is', 'state', 'poor'),
    );
    const found = find(wanted, []);
    expect(found.is === 'never' && found.because.map(({ rule }) => rule)).toEqual(
      wanted.slice(1).map(({ rule }) => rule),
    );
  });

  it('is found for parts of text, for values compared with each other, for rows, pictures and what is led to', () => {
    const there = [
      record(1, 'house', { name: 'Q', height: 4 }),
      record(2, 'person', { name: 'Ida' }),
      record(3, 'way', { length: 3 }),
    ];
    const cases: Rule[] = [
      all(test('text.starts', 'name', 'The'), test('text.contains', 'name', 'old'), test('text.ends', 'name', 'House')),
      all(test('text.contains', 'name', 'a'), test('text.lacks', 'name', 'b')),
      all(test('text.longer', 'name', 12), test('text.starts', 'name', 'The')),
      { group: 'none', rules: [test('text.longer', 'name', 5), test('empty', 'name'), test('text.is', 'name', 'Q')] },
      all({ test: 'order.gt', path: own('height'), other: own('stars') }, test('order.gt', 'stars', 3)),
      all({ test: 'order.eq', path: own('height'), other: own('stars') }),
      all(test('whole.odd', 'stars'), test('order.gt', 'stars', 3)),
      all(test('whole.every', 'height', 7), test('order.gt', 'height', 20)),
      all(test('filled', 'photo'), test('filled', 'spot'), test('filled', 'prose')),
      all(test('filled', 'keeper'), test('filled', 'ways')),
      all({ test: 'count.ge', path: own('gallery'), operand: 2 }),
      all({ test: 'filled', path: own('keeper', '@title') }),
      all({
        rows: 'some',
        path: own('seasons'),
        as: 'w1',
        where: all({ test: 'order.gt', path: { from: 'loop:w1', steps: ['price'] }, operand: 40 }),
      }),
      all({
        rows: 'every',
        path: own('seasons'),
        as: 'w1',
        where: all({ test: 'text.is', path: { from: 'loop:w1', steps: ['season'] }, operand: 'Winter' }),
      }),
      all(
        none({
          rows: 'some',
          path: own('seasons'),
          as: 'w1',
          where: all({ test: 'filled', path: { from: 'loop:w1', steps: ['season'] } }),
        }),
        test('filled', 'seasons'),
      ),
      any(all(test('day.future', 'built'), test('order.gt', 'built', '2027-01-01'))),
      all(test('text.is', '@title', 'Home'), test('terms.below', '@terms:area', ['north'])),
    ];
    for (const rule of cases) {
      const wanted = holding(rule);
      expect(wanted[0]!.rule.problems).toEqual([]);
      for (const records of [
        there,
        [],
        [...there, record(5, 'house', { seasons: [{ season: 'Summer', price: 10 }] })],
      ]) {
        const found = find(wanted, records);
        // Nobody to lead to, or no way: then nothing can be made of records.
        if (!records.length && JSON.stringify(rule).match(/keeper|ways/)) continue;
        expect([JSON.stringify(rule), records.length, found.is]).toEqual([
          JSON.stringify(rule),
          records.length,
          'made',
        ]);
        if (found.is !== 'made') continue;
        expect([rule, outcomes(found, wanted, records)]).toEqual([rule, [true]]);
        expect(refused(found)).toEqual([]);
      }
    }
  });

  it('comes to an end, and says that it cannot tell, where there is too much to try', () => {
    const many = all(
      ...Array.from({ length: 40 }, (_, i) =>
        any(test('text.contains', 'name', `a${i}`), test('text.contains', 'story', `b${i}`)),
      ),
    );
    expect(['made', 'unknown']).toContain(find(holding(many), []).is);
    // What is gone cannot be met, and breaks nothing.
    expect(find(holding(all(test('filled', 'gone'))), [record(1, 'house')]).is).toBe('never');
  });
});

describe('supposed values', () => {
  it('are seen by all that reads the record, and change none', () => {
    const before = record(1, 'house', { state: 'good', height: 3 }, { terms: ['peak'] });
    const now = supposing(
      [before],
      new Map([[1, { state: 'poor', height: undefined, '@title': 'Else', '@terms:area': ['south'] }]]),
      index,
    );
    expect(now[0]).toMatchObject({ values: { state: 'poor' }, title: 'Else', terms: ['south'] });
    expect(now[0]!.values).not.toHaveProperty('height');
    expect(before).toMatchObject({ values: { state: 'good', height: 3 }, terms: ['peak'] });
  });

  it('keep a relation one fact, seen from either side', () => {
    const side = (id: string) =>
      index.type('house')!.fields.find((field) => field.id === id)!.settings as { relationId: string; side: string };
    const back = index.types
      .flatMap((type) => type.fields.map((field) => ({ type, field })))
      .find(
        ({ field }) =>
          (field.settings as { relationId?: string; side?: string }).relationId === side('keeper').relationId &&
          (field.settings as { side?: string }).side !== side('keeper').side,
      );
    const records = new Map([
      [1, record(1, 'house', { keeper: [2] })],
      [2, record(2, 'person', back ? { [back.field.id]: [1] } : {})],
      [3, record(3, 'person', {})],
    ]);
    const changed = supposedRecords(new Map([[1, { keeper: [3] }]]), (id) => records.get(id), index);
    expect(changed.get(1)!.values.keeper).toEqual([3]);
    if (back) {
      expect(changed.get(2)!.values[back.field.id]).toBeUndefined();
      expect(changed.get(3)!.values[back.field.id]).toEqual([1]);
    }
    expect(inventedRecord('house', index).values).toEqual({});
  });
});
