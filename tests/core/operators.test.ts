import { describe, expect, it } from 'vitest';
import { analyse } from '../../src/lib/core/rules/analyse';
import { compileRule } from '../../src/lib/core/rules/compile';
import { contextFreeWords } from '../../src/lib/core/rules/explain';
import { operators } from '../../src/lib/core/rules/operators';
import { fits, type Operator } from '../../src/lib/core/rules/operators/operator';
import { inventor } from '../../src/lib/core/content/invent';
import { kindOf } from '../../src/lib/core/model/field';
import type { Field } from '../../src/lib/core/model/model';
import type { Inventor } from '../../src/lib/core/model/kinds/kind';
import type { ValueType } from '../../src/lib/core/paths/scopes';
import type { Rule } from '../../src/lib/core/schema/rule';
import { all, test } from '../support/rules';
import { envOf, houseScopes, index, model, record } from '../support/world';

const fields = (model.types.find(({ id }) => id === 'house')?.fields ?? []) as Field[];
const compile = (rule: Rule) => compileRule(rule, houseScopes, index);

const inventing = (seed: number): Inventor => ({
  ...inventor(seed),
  today: 20_000,
  pictures: [8],
  files: [8],
  records: () => [2, 3, 4],
});

/** Values of a field: invented ones, and none. */
function valuesOf(field: Field): unknown[] {
  const known = kindOf(field);
  const values = Array.from({ length: 40 }, (_, i) => known?.kind.invent?.(inventing(i), known.settings));
  return [undefined, ...values.filter((value) => value !== undefined)];
}

/** What an operator may be given on its right, for a field with these values. */
function operandsFor(operator: Operator, values: readonly unknown[]): unknown[] {
  const some = values.filter((value) => value !== undefined).slice(0, 3);
  switch (operator.operand) {
    case 'none':
      return [undefined];
    case 'same':
      return some;
    case 'several':
      return [some.flat().slice(0, 2)];
    case 'range':
      return [[some[0], some[1]]];
    case 'count':
    case 'days':
      return [0, 1, 12];
  }
}

function typeOf(field: Field): ValueType {
  const compiled = compile(test('filled', field.id));
  if (!compiled.test) throw new Error(`${field.id} cannot be read.`);
  return compiled.test.path.type;
}

/** Each test that fits a field, with what it is compared with. */
const CASES = fields.flatMap((field) => {
  const values = valuesOf(field);
  return operators
    .filter((operator) => fits(operator, typeOf(field)))
    .flatMap((operator) =>
      operandsFor(operator, values).map((operand) => ({
        field,
        operator,
        values,
        rule: test(operator.name, field.id, operand),
      })),
    );
});

describe('every test of every kind of field', () => {
  it('is among the cases', () => {
    expect(new Set(CASES.map(({ operator }) => operator.name))).toEqual(
      new Set(operators.map(({ name }) => name).filter((name) => !/^terms\./.test(name))),
    );
  });

  it('is told to hold never or always only where it does so for every value there is', () => {
    for (const { operator, values, field, rule } of CASES) {
      for (const one of [all(rule), { group: 'none' as const, rules: [rule] }]) {
        const compiled = compile(one);
        if (compiled.problems.length) continue;
        const { never, always } = analyse(compiled, envOf([]));
        const outcomes = values.map((value) => {
          const at = record(1, 'house', value === undefined ? {} : { [field.id]: value });
          return compiled.holds(envOf([at]));
        });
        const where = [operator.name, field.id, one.group];
        if (never) expect([...where, outcomes.includes(true)]).toEqual([...where, false]);
        if (always) expect([...where, outcomes.includes(false)]).toEqual([...where, false]);
      }
    }
  });

  it('that says nothing of itself is taken for neither', () => {
    // As somebody writes one who has read CONTRIBUTING alone: it holds for long texts, which the analysis cannot know.
    const compiled = compile(all(test('text.is', 'name', 'x')));
    const [part] = compiled.parts;
    if (!part?.test) throw new Error('There is no test.');
    const { decided: _, ...rest } = part.test.operator;
    part.test.operator = { ...rest, name: 'planted', test: (value) => String(value).length > 5 };
    expect(analyse(compiled, envOf([]))).toMatchObject({ never: false, always: false });
  });
});

describe('is longer than', () => {
  const long = (value: string, than: number, step = 'name') =>
    compile(all(test('text.longer', step, than))).holds(envOf([record(1, 'house', { [step]: value })]));

  it('counts characters as they are composed, without markup', () => {
    expect([long('Ash', 3), long('Ashy', 3), long('', 0)]).toEqual([false, true, false]);
    // Unicode Standard Annex 15: e with a combining acute is one character once it is composed.
    expect([long('caf\u0065\u0301', 4), long('caf\u0065\u0301', 3)]).toEqual([false, true]);
    expect([long('🏔🏔', 2), long('🏔🏔', 1)]).toEqual([false, true]);
    expect([long('<p>Ash</p>', 3, 'prose'), long('<p>Ashy</p>', 3, 'prose')]).toEqual([false, true]);
  });

  it('is read back with what it counts', () => {
    const words = (than: number) => contextFreeWords(compile(all(test('text.longer', 'name', than))), index);
    expect([words(20), words(1)]).toEqual(['Name is longer than 20 characters', 'Name is longer than 1 character']);
  });
});
