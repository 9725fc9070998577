import { writeValue } from '../render/write-value';
import { pathWords } from '../paths/built-ins';
import type { Env } from '../paths/env';
import type { ValueType } from '../paths/path';
import type { CompiledRule } from './compile';
import { operatorNamed } from './operators';
import { isGroup } from './rule';

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
  parts: Explained[];
}

const JOIN = { all: ' and ', any: ' or ', none: ' nor ' };

export function explain(rule: CompiledRule, env: Env): Explained {
  const holds = rule.holds(env);
  const broken = rule.parts.length ? undefined : rule.problems[0]?.what;
  if (isGroup(rule.rule)) {
    const parts = rule.parts.map((part) => explain(part, env));
    return {
      holds,
      group: rule.rule.group,
      words: ruleWords(rule, env),
      parts,
    };
  }
  if (!rule.test) {
    const label = operatorNamed(rule.rule.test)?.label ?? rule.rule.test;
    return { holds, words: `a missing value ${label}`, saw: 'nothing', problem: broken, parts: [] };
  }
  const { path } = rule.test;
  const value = path.read(env);
  const saw = asWords(value, path.type, env);
  return { holds, words: testWords(rule, env), saw, parts: [] };
}

/** A rule read back as words. `env` only gives the names of records. */
export function ruleWords(rule: CompiledRule, env: Env): string {
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
  if (operator.operand === 'count') return `${label} ${operator.label} ${String(test.operand)}`;
  if (operator.operand === 'days') return `${label} ${operator.label.replace('…', String(test.operand))}`;
  const words = several.map((value) => constantWords(value, path.type, env));
  const joined = operator.operand === 'range' ? words.join(' and ') : words.join(', ');
  return `${label} ${operator.label} ${joined}`;
}

function constantWords(value: unknown, type: ValueType, env: Env): string {
  if (typeof value === 'string' && (type.kind.family === 'text' || type.kind.family === 'link')) return `“${value}”`;
  return type.kind.text(value, type.settings, env.reader) || String(value);
}

/** A value of any type as people read it, for shelves and explanations; `nothing` where it is empty. */
export function asWords(value: unknown, type: ValueType, env: Env): string {
  return writeValue(value, type, env) || 'nothing';
}
