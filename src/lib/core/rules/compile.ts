import type { ContentRecord } from '../schema/record';
import type { ModelIndex } from '../model/model-index';
import { compilePath, type CompiledPath } from '../paths/compile';
import type { Env } from '../paths/env';
import type { Row, Thing } from '../paths/pool';
import { fieldsOf, thingsOf } from '../paths/items';
import type { Scopes, ValueType } from '../paths/scopes';
import { problem, type Problem } from '../base/result';
import { operatorNamed } from './operators';
import { fits, outcome, type Operator } from './operators/operator';
import type { NamedRule } from '../schema/named-rule';
import { isGroup, isNamed, isWhere, type Group, type Rule, type Test, type Where } from '../schema/rule';
import { mapRule } from './walk';

export interface CompiledTest {
  test: Test;
  operator: Operator;
  path: CompiledPath;
  /** What it is compared with, where that is a value too. */
  other?: CompiledPath;
  /** The operand as the operator compares it; undefined where a path operand is empty. */
  operand(env: Env): unknown;
  holds(env: Env): boolean;
}

/** What a rule is asked of, one by one; its only part is the rule itself. */
export interface CompiledWhere {
  rows: Where['rows'];
  path: CompiledPath;
  things(env: Env): Thing[];
  /** Runs `body` with one of them in place. */
  at<T>(env: Env, thing: Thing, body: () => T): T;
}

export interface CompiledRule {
  rule: Rule;
  holds(env: Env): boolean;
  /** Those that are joined; for a rule by its name the rule itself, for one that is asked of rows what is asked. */
  parts: CompiledRule[];
  test?: CompiledTest;
  where?: CompiledWhere;
  named?: NamedRule;
  /** A test that is not finished: what it asks, as far as it is known. */
  unfinished?: { path: CompiledPath; operator: Operator };
  problems: Problem[];
}

/** Checks a constant against what the operator compares with. Returns what is wrong, or undefined. */
export function operandProblem(operator: Operator, operand: unknown, type: ValueType): string | undefined {
  const { operandProblem: own } = type.kind.family;
  const single = (value: unknown): string | undefined => {
    if (own) return own(value);
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
  let against: CompiledPath | undefined;
  if (test.other) {
    const other = compilePath(test.other, scopes, model);
    if (!other.ok) return other.problems[0] as Problem;
    if (other.value.type.kind.family !== type.kind.family)
      return problem(
        'other',
        `${other.value.type.label} cannot be compared with ${type.label}.`,
        'Choose a value of the same kind.',
      );
    against = other.value;
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

  const { read } = path.value;
  const holds = (env: Env): boolean => outcome(operator, read(env), operand(env), env, type);
  return { test, operator, path: path.value, ...(against && { other: against }), operand, holds };
}

/**
 * Makes a rule ready for one place. Rules are total: a test that cannot be made (a deleted field, an unfinished
 * operand) sees an empty value, and says in `problems` what is wrong with it.
 */
export function compileRule(rule: Rule, scopes: Scopes, model: ModelIndex): CompiledRule {
  return compilePart(rule, scopes, model, []);
}

/** `within` are the ids of the rules by name that this one stands in. */
function compilePart(rule: Rule, scopes: Scopes, model: ModelIndex, within: readonly string[]): CompiledRule {
  if (isGroup(rule)) return compileGroup(rule, scopes, model, within);
  if (isNamed(rule)) return compileNamed(rule, scopes, model, within);
  if (isWhere(rule)) return compileWhere(rule, scopes, model, within);
  const made = compileTest(rule, scopes, model);
  if ('what' in made) {
    const operator = operatorNamed(rule.test);
    const result = operator?.negative ?? false;
    const path = operator && made.at === 'operand' ? compilePath(rule.path, scopes, model) : undefined;
    const unfinished = operator && path?.ok ? { unfinished: { path: path.value, operator } } : {};
    return { rule, holds: () => result, parts: [], problems: [made], ...unfinished };
  }
  return { rule, holds: made.holds, parts: [], test: made, problems: [] };
}

function compileGroup(group: Group, scopes: Scopes, model: ModelIndex, within: readonly string[]): CompiledRule {
  const parts = group.rules.map((rule) => compilePart(rule, scopes, model, within));
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

const never = (rule: Rule, ...problems: Problem[]): CompiledRule => ({ rule, holds: () => false, parts: [], problems });

/** A rule by its name, asked of the nearest record that it is about: that of the innermost loop over such, or the page's own. */
function compileNamed(
  rule: Rule & { named: string },
  scopes: Scopes,
  model: ModelIndex,
  within: readonly string[],
): CompiledRule {
  const kept = model.rule(rule.named);
  if (!kept)
    return never(rule, problem('named', 'The rule that was named here has been deleted.', 'Choose another one.'));
  if (within.includes(kept.id)) {
    const names = [...within.slice(within.indexOf(kept.id)), kept.id].map((id) => model.rule(id)?.name ?? '');
    return never(
      rule,
      problem('named', `A rule cannot depend on itself: ${names.join(' → ')}.`, 'Take one of them out.'),
    );
  }
  const loop = scopes.loops.findLast((one) => one.typeIds.includes(kept.typeId));
  const from = loop ? `loop:${loop.id}` : 'record';
  if (!loop && !scopes.recordTypeIds?.includes(kept.typeId)) {
    const name = model.type(kept.typeId)?.name ?? 'a deleted type';
    return never(
      rule,
      problem(
        'named',
        `“${kept.name}” is about a ${name.toLowerCase()}, and there is none here.`,
        'Choose another rule.',
      ),
    );
  }
  const own = mapRule(kept.rule, (path) => (path.from === 'record' ? { ...path, from } : path));
  const part = compilePart(own, scopes, model, [...within, kept.id]);
  const problems = part.problems.map((p) => ({ ...p, what: `In “${kept.name}”: ${p.what}` }));
  return { rule, holds: part.holds, parts: [part], named: kept, problems };
}

/** The scopes inside of a rule that is asked of each of several; undefined where there are not several to ask. */
export function scopesOfRows(as: string, type: ValueType, scopes: Scopes): Scopes | undefined {
  const relation = type.kind.family.leads === 'record';
  const fields = relation ? undefined : fieldsOf(type);
  if (!type.many || (!relation && !fields)) return undefined;
  const name = type.label.split(' → ').at(-1) as string;
  const own = { id: as, name, typeIds: relation ? type.typeIds : [], ...(fields && { fields }) };
  return { ...scopes, loops: [...scopes.loops, { ...own, depth: scopes.loops.length }] };
}

/** A rule asked of each of several. Of none, only "no" holds, as all tests but the negative ones fail on what is empty. */
function compileWhere(rule: Where, scopes: Scopes, model: ModelIndex, within: readonly string[]): CompiledRule {
  const made = compilePath(rule.path, scopes, model);
  if (!made.ok) return never(rule, made.problems[0] as Problem);
  const path = made.value;
  const { type } = path;
  const inside = scopesOfRows(rule.as, type, scopes);
  if (!inside)
    return never(
      rule,
      problem(
        'path',
        `${type.label} is not several rows, records, pictures, choices or terms.`,
        'Choose another value.',
      ),
    );
  const depth = scopes.loops.length;
  const fields = inside.loops[depth]?.fields;
  const part = compilePart(rule.where, inside, model, within);
  const things = (env: Env) => thingsOf(type, path.read(env) as unknown[], env);
  const at: CompiledWhere['at'] = (env, thing, body) => {
    const before = env.turns[depth];
    const place = { position: 0, results: 0 };
    env.turns[depth] = fields ? { row: thing as Row, ...place } : { record: thing as ContentRecord, ...place };
    try {
      return body();
    } finally {
      env.turns[depth] = before;
    }
  };
  const holds = (env: Env): boolean => {
    const all = things(env);
    const one = (thing: Thing) => at(env, thing, () => part.holds(env));
    if (rule.rows === 'some') return all.some(one);
    return rule.rows === 'every' ? all.length > 0 && all.every(one) : !all.some(one);
  };
  return { rule, holds, parts: [part], where: { rows: rule.rows, path, things, at }, problems: part.problems };
}
