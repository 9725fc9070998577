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
 * One way to compare. `group` says which values it fits by their family (without one every value); `takes` whether it wants one value
 * or a list. On an empty value a test is false, and true where `negative`; only `counts` ones see empty lists.
 */
export interface Operator {
  name: string;
  label: string;
  group?: TestGroup;
  takes: 'one' | 'list' | 'either';
  operand: OperandShape;
  negative?: boolean;
  counts?: boolean;
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
