import { writeList } from '../base/write';
import { writeValue } from '../formats/write-value';
import { pathWords } from '../paths/built-ins';
import type { ModelIndex } from '../model/model-index';
import { EMPTY_POOL, makeEnv, type Env } from '../paths/env';
import type { Thing } from '../paths/pool';
import type { ValueType } from '../paths/scopes';
import type { CompiledRule } from './compile';
import { operatorNamed } from './operators';
import { isGroup, isNamed, isWhere } from '../schema/rule';

/** A rule with its outcome for one record: for a test the words of it and the value it saw. */
export interface Explained {
  holds: boolean;
  /** `all`, `any` or `none` for a group. */
  group?: 'all' | 'any' | 'none';
  /** The test as words, such as `State is Closed`. */
  words: string;
  /** The value seen, as words; `nothing` for an empty one. */
  saw?: string;
  problem?: string;
  /** The name under which the rule is kept. */
  named?: string;
  parts: Explained[];
}

const JOIN = { all: ' and ', any: ' or ', none: ' nor ' };

/** Of several rows so many are told one by one. */
const MOST_TOLD = 6;

export function explain(rule: CompiledRule, env: Env): Explained {
  const holds = rule.holds(env);
  const broken = rule.parts.length ? undefined : rule.problems[0]?.what;
  const words = ruleWords(rule, env);
  if (isGroup(rule.rule))
    return { holds, group: rule.rule.group, words, parts: rule.parts.map((part) => explain(part, env)) };
  const [inner] = rule.parts;
  const { where } = rule;
  if (where && inner) {
    const things = where.things(env);
    const outcomes = things.map((thing) => where.at(env, thing, () => inner.holds(env)));
    const passed = outcomes.filter(Boolean).length;
    return {
      holds,
      words,
      saw: things.length ? `${things.length}, of which ${passed} would do` : 'none',
      parts: things.slice(0, MOST_TOLD).map((thing, i) =>
        where.at(env, thing, () => {
          const told = explain(inner, env);
          return { ...told, words: `${titleOf(thing) ?? `No. ${i + 1}`}: ${told.words}` };
        }),
      ),
    };
  }
  if (rule.named && inner) {
    const told = explain(inner, env);
    return { ...told, named: rule.named.name, words };
  }
  if (!rule.test) {
    const path = rule.unfinished?.path;
    const saw = path ? asWords(path.read(env), path.type, env) : 'nothing';
    return { holds, words, saw, problem: broken, parts: [] };
  }
  return { holds, words, saw: sawOf(rule.test, env), parts: [] };
}

/** The value that a test saw, as words; where it compares two, both. */
export function sawOf({ path, other }: NonNullable<CompiledRule['test']>, env: Env): string {
  const saw = asWords(path.read(env), path.type, env);
  return other ? `${saw} and ${asWords(other.read(env), other.type, env)}` : saw;
}

const titleOf = (thing: Thing): string | undefined =>
  'typeId' in thing && typeof thing.title === 'string' ? thing.title : undefined;

/** A rule read back as words. `env` only gives the names of records. */
export function ruleWords(rule: CompiledRule, env: Env): string {
  if (rule.named) return `“${rule.named.name}” holds`;
  if (isNamed(rule.rule)) return 'a missing rule holds';
  if (isWhere(rule.rule)) {
    const { rows } = rule.rule;
    const [inner] = rule.parts;
    const label = rule.where?.path.type.label ?? 'a missing value';
    const words = inner?.parts.length ? ` for which ${ruleWords(inner, env)}` : '';
    return rows === 'none'
      ? `${label} has none${words}`
      : `${label} has ${rows === 'some' ? 'some' : 'only those'}${words}`;
  }
  const { unfinished } = rule;
  if (unfinished) return `${unfinished.path.type.label} ${unfinished.operator.label} … (not finished)`;
  if (!isGroup(rule.rule))
    return rule.test ? testWords(rule, env) : `a missing value ${operatorNamed(rule.rule.test)?.label ?? ''}`.trim();
  const { group } = rule.rule;
  const parts = rule.parts.map((part) =>
    rule.parts.length > 1 && part.parts.length > 1 ? `(${ruleWords(part, env)})` : ruleWords(part, env),
  );
  if (!parts.length) return 'always';
  if (group !== 'none') return parts.join(JOIN[group]);
  return parts.length > 1 ? `neither ${parts.join(JOIN.none)}` : `not (${parts[0]})`;
}

function testWords(rule: CompiledRule, env: Env): string {
  const made = rule.test!;
  const { operator, path, test } = made;
  const { label } = path.type;
  if (operator.operand === 'none') return `${label} ${operator.label}`;
  if (test.other) return `${label} ${operator.label} ${pathWords(test.other, env.model)}`;
  const several = Array.isArray(test.operand) ? (test.operand as unknown[]) : [test.operand];
  if (operator.operand === 'count') {
    const unit = Number(test.operand) === 1 ? operator.unit?.replace(/s$/, '') : operator.unit;
    return [label, operator.label, String(test.operand), unit].filter(Boolean).join(' ');
  }
  if (operator.operand === 'days') return `${label} ${operator.label.replace('…', String(test.operand))}`;
  const words = several.map((value) => constantWords(value, path.type, env));
  const joined = operator.operand === 'range' ? words.join(' and ') : words.join(', ');
  return `${label} ${operator.label} ${joined}`;
}

function constantWords(value: unknown, type: ValueType, env: Env): string {
  if (typeof value === 'string' && type.kind.family.quoted) return `“${value}”`;
  return type.kind.text(value, type.settings, env.reader) || String(value);
}

/** A value of any type as people read it, for shelves and explanations; `nothing` where it is empty. */
export function asWords(value: unknown, type: ValueType, env: Env): string {
  const { kind, settings } = type;
  if (!kind.called || value === undefined || value === null) return writeValue(value, type, env) || 'nothing';
  const all = (Array.isArray(value) ? (value as unknown[]) : [value]).filter((one) => !kind.isEmpty(one));
  const words = all.map((one) => kind.called?.(one, settings, env.reader) ?? kind.text(one, settings, env.reader));
  return writeList(words.filter(Boolean), env.model.site.locale) || 'nothing';
}

/** A rule as words where no record is at hand; records that it names are told by their number. */
export const contextFreeWords = (rule: CompiledRule, model: ModelIndex): string =>
  ruleWords(rule, makeEnv({ model, pool: EMPTY_POOL, today: '' }));
