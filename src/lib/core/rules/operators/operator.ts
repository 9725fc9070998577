import type { TestGroup } from '../../model/family';
import type { Env } from '../../paths/env';
import type { ValueType } from '../../paths/scopes';

/** What stands on the right of a test, and so which control asks for it. */
export type OperandShape = 'none' | 'same' | 'several' | 'range' | 'count' | 'days';

/** A test said as a look-up in an index, for lists that a database answers. `not` turns it round; empties then hold. */
export type Lookup =
  | { by: 'number'; is: '=' | '<' | '<=' | '>' | '>='; value: number; not?: boolean }
  | { by: 'number'; between: [number, number]; not?: boolean }
  | { by: 'text'; is: '='; value: string; not?: boolean }
  | { by: 'text'; in: string[]; not?: boolean }
  | { by: 'text'; has: string; at: 'start' | 'end' | 'anywhere'; not?: boolean }
  | { by: 'member'; of: (string | number)[]; need: 'any' | 'all'; not?: boolean }
  | { by: 'presence'; not?: boolean };

/**
 * By what a test comes out, as far as that can be told before there is a record: an analysis of rules goes through the values
 * that tell these tests apart. A test without it may come out either way.
 */
export type Decision =
  /** By whether there is a value: the same for all that there are. */
  | { by: 'presence' }
  /** By where a value lies along its line: its answer changes at these constants, and nowhere else. */
  | { by: 'cuts'; cuts(operand: unknown): unknown[] }
  /** The same, at these days counted from today. */
  | { by: 'days'; cuts(days: number): number[] }
  /** By which text it is: these it tells from each other and from all else. */
  | { by: 'texts'; texts(operand: unknown): unknown[] }
  /** By which members are in a set, of those that its operand names. */
  | { by: 'members' }
  /** By how many members there are. */
  | { by: 'count' };

/**
 * One way to compare. `group` says which values it fits by their family (without one every value); `takes` whether it wants one value
 * or a list. On an empty value a test is false, and true where `negative`; only `counts` ones see empty lists.
 */
export interface Operator {
  name: string;
  label: string;
  group?: TestGroup;
  takes: 'one' | 'list' | 'either';
  operand: OperandShape;
  /** What its operand counts, in words for many, such as `days`. */
  unit?: string;
  negative?: boolean;
  counts?: boolean;
  decided?: Decision;
  /**
   * Values worth trying where one is looked for that has a certain outcome: of those for which it holds, and of others. `among` are
   * values that other tests ask for.
   */
  tries?(operand: unknown, among: readonly unknown[]): unknown[];
  /** Brings a constant or a value into the form that `test` compares; done once for constants. */
  prepare?(operand: unknown, type: ValueType): unknown;
  /** Brings a value into the form that `test` compares; the same for all tests with the same function. */
  seen?(value: unknown, type: ValueType, env: Env): unknown;
  test(value: unknown, operand: unknown, env: Env, type: ValueType): boolean;
  lookup?(operand: unknown, env: Env, type: ValueType): Lookup | undefined;
}

/** What a test says of a value as it is read; `undefined` and, but for counts, empty lists are empty. */
export function outcome(operator: Operator, value: unknown, operand: unknown, env: Env, type: ValueType): boolean {
  if (value === undefined || (Array.isArray(value) && value.length === 0 && !operator.counts))
    return operator.negative ?? false;
  if (operand === undefined && operator.operand !== 'none') return operator.negative ?? false;
  return operator.test(operator.seen ? operator.seen(value, type, env) : value, operand, env, type);
}

/** Whether an operator fits a value of this type. */
export function fits(operator: Operator, type: ValueType): boolean {
  if (operator.group && !type.kind.family.tests.includes(operator.group)) return false;
  return operator.takes === 'either' || (operator.takes === 'list') === type.many;
}
