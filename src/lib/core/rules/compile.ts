import type { ModelIndex } from '../model/model';
import { compilePath, type CompiledPath } from '../paths/compile';
import type { Env } from '../paths/env';
import type { Scopes, ValueType } from '../paths/path';
import { problem, type Problem } from '../result';
import { operatorNamed } from './operators';
import { fits, type Operator } from './operators/operator';
import { isGroup, type Group, type Rule, type Test } from './rule';

export interface CompiledTest {
  test: Test;
  operator: Operator;
  path: CompiledPath;
  /** The operand as the operator compares it; undefined where a path operand is empty. */
  operand(env: Env): unknown;
  holds(env: Env): boolean;
}

export interface CompiledRule {
  rule: Rule;
  holds(env: Env): boolean;
  parts: CompiledRule[];
  test?: CompiledTest;
  problems: Problem[];
}

/** Checks a constant against what the operator compares with. Returns what is wrong, or undefined. */
export function operandProblem(operator: Operator, operand: unknown, type: ValueType): string | undefined {
  const { family } = type.kind;
  const single = (value: unknown): string | undefined => {
    if (family === 'link' || family === 'rich')
      return typeof value === 'string' ? undefined : 'This is compared with text.';
    if (family === 'relation') return typeof value === 'number' ? undefined : 'Choose a record.';
    const parsed = type.kind.value(type.settings).safeParse(value);
    return parsed.success ? undefined : parsed.error.issues[0]?.message;
  };
  const array = Array.isArray(operand) ? (operand as unknown[]) : undefined;
  switch (operator.operand) {
    case 'none':
      return undefined;
    case 'same':
      return operand === undefined ? 'There is nothing to compare with yet.' : single(operand);
    case 'several':
      return array?.length ? array.map(single).find(Boolean) : 'Nothing is chosen yet.';
    case 'range':
      return array?.length === 2 ? array.map(single).find(Boolean) : 'Give both ends of the range.';
    default:
      return typeof operand === 'number' && Number.isFinite(operand) && operand >= 0
        ? undefined
        : 'This is a number, 0 or more.';
  }
}

function compileTest(test: Test, scopes: Scopes, model: ModelIndex): CompiledTest | Problem {
  const operator = operatorNamed(test.test);
  if (!operator) return problem('test', `There is no test named “${test.test}”.`, 'Choose another test.');
  const path = compilePath(test.path, scopes, model);
  if (!path.ok) return path.problems[0] as Problem;
  const type = path.value.type;
  if (!fits(operator, type))
    return problem('test', `“${operator.label}” does not fit ${type.label}.`, 'Choose a test that fits.');

  let operand: (env: Env) => unknown;
  if (test.other) {
    const other = compilePath(test.other, scopes, model);
    if (!other.ok) return other.problems[0] as Problem;
    if (other.value.type.kind.family !== type.kind.family)
      return problem(
        'other',
        `${other.value.type.label} cannot be compared with ${type.label}.`,
        'Choose a value of the same kind.',
      );
    const otherType = other.value.type;
    operand = (env) => {
      const value = other.value.read(env);
      if (value === undefined || (Array.isArray(value) && !value.length)) return undefined;
      return operator.prepare ? operator.prepare(value, otherType) : value;
    };
  } else {
    const wrong = operandProblem(operator, test.operand, type);
    if (wrong) return problem('operand', wrong);
    const prepared =
      operator.prepare && operator.operand !== 'none' ? operator.prepare(test.operand, type) : test.operand;
    operand = () => prepared;
  }

  const negative = operator.negative ?? false;
  const { read } = path.value;
  const needsOperand = operator.operand !== 'none';
  const holds = (env: Env): boolean => {
    const value = read(env);
    if (value === undefined || (Array.isArray(value) && value.length === 0 && !operator.counts)) return negative;
    const right = operand(env);
    if (right === undefined && needsOperand) return negative;
    return operator.test(value, right, env, type);
  };
  return { test, operator, path: path.value, operand, holds };
}

/**
 * Makes a rule ready for one place. Rules are total: a test that cannot be made (a deleted field, an unfinished
 * operand) sees an empty value, and says in `problems` what is wrong with it.
 */
export function compileRule(rule: Rule, scopes: Scopes, model: ModelIndex): CompiledRule {
  if (isGroup(rule)) return compileGroup(rule, scopes, model);
  const made = compileTest(rule, scopes, model);
  if ('what' in made) {
    const result = operatorNamed(rule.test)?.negative ?? false;
    return { rule, holds: () => result, parts: [], problems: [made] };
  }
  return { rule, holds: made.holds, parts: [], test: made, problems: [] };
}

function compileGroup(group: Group, scopes: Scopes, model: ModelIndex): CompiledRule {
  const parts = group.rules.map((rule) => compileRule(rule, scopes, model));
  const problems = parts.flatMap((part, i) =>
    part.problems.map((p) => ({ ...p, at: `rules.${i}${p.at ? `.${p.at}` : ''}` })),
  );
  const all = parts.map((part) => part.holds);
  const [first, second] = all;
  let holds: (env: Env) => boolean;
  if (!first) holds = () => true;
  else if (group.group === 'all') holds = !second ? first : (env) => all.every((part) => part(env));
  else if (group.group === 'any') holds = !second ? first : (env) => all.some((part) => part(env));
  else holds = (env) => !all.some((part) => part(env));
  return { rule: group, holds, parts, problems };
}
