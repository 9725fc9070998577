import { z } from 'zod';
import { PathSchema, type Path } from '../paths/path';

/** Compares the value at a path with a constant, or with another path of a fitting type. */
export interface Test {
  test: string;
  path: Path;
  operand?: unknown;
  other?: Path;
}

export interface Group {
  group: 'all' | 'any' | 'none';
  rules: Rule[];
}

export type Rule = Test | Group;

const TestSchema: z.ZodType<Test> = z.strictObject({
  test: z.string().max(60),
  path: PathSchema,
  operand: z.json().optional(),
  other: PathSchema.optional(),
});

const MAX_DEPTH = 8;

const groupAt = (depth: number): z.ZodType<Group> =>
  z.strictObject({
    group: z.enum(['all', 'any', 'none']),
    rules: z.array(depth > 1 ? z.union([TestSchema, groupAt(depth - 1)]) : TestSchema).max(200),
  }) as z.ZodType<Group>;

/** A rule is always a group at the top; groups nest up to eight deep. */
export const RuleSchema = groupAt(MAX_DEPTH);

export const isGroup = (rule: Rule): rule is Group => 'group' in rule;

/** Every test of a rule, in reading order. */
export function testsOf(rule: Rule): Test[] {
  return isGroup(rule) ? rule.rules.flatMap(testsOf) : [rule];
}
