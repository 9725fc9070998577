import { z } from 'zod';
import { PathSchema, type Path } from './path';

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

/** Asks a rule of each of several: rows, records, pictures, choices or terms. In there `loop:<as>` is the one asked of. */
export interface Where {
  rows: 'some' | 'every' | 'none';
  path: Path;
  as: string;
  where: Group;
}

/** A rule of the theme by its id, asked of the nearest record that it is about. */
export interface Named {
  named: string;
}

export type Rule = Test | Group | Where | Named;

export const isGroup = (rule: Rule): rule is Group => 'group' in rule;

export const isWhere = (rule: Rule): rule is Where => 'rows' in rule;

export const isNamed = (rule: Rule): rule is Named => 'named' in rule;

/** Groups within groups go no deeper than this, and a rule has no more tests. */
const DEEPEST = 20;

const MOST_TESTS = 1000;

/** What is too much in something that may be a rule, before it is read; undefined where nothing is. */
function tooMuch(input: unknown): string | undefined {
  let tests = 0;
  let deepest = 0;
  const open: { part: unknown; depth: number }[] = [{ part: input, depth: 1 }];
  for (let at = open.pop(); at; at = open.pop()) {
    const { rules, where } = (at.part ?? {}) as { rules?: unknown; where?: unknown };
    deepest = Math.max(deepest, Array.isArray(rules) ? at.depth : 0);
    if (deepest > DEEPEST)
      return `A rule goes ${DEEPEST} groups deep at most. Take a group out, or keep it under a name.`;
    if (Array.isArray(rules)) for (const part of rules) open.push({ part, depth: at.depth + 1 });
    else {
      tests++;
      if (where) open.push({ part: where, depth: at.depth + 1 });
    }
    if (tests > MOST_TESTS) return `A rule has ${MOST_TESTS} tests at most. Keep some of them under a name.`;
  }
  return undefined;
}

const TestSchema: z.ZodType<Test> = z.strictObject({
  test: z.string().max(60),
  path: PathSchema,
  operand: z.json().optional(),
  other: PathSchema.optional(),
});

const NamedSchema: z.ZodType<Named> = z.strictObject({ named: z.string().max(60) });

const WhereSchema: z.ZodType<Where> = z.lazy(() =>
  z.strictObject({
    rows: z.enum(['some', 'every', 'none']),
    path: PathSchema,
    as: z.string().regex(/^[A-Za-z0-9_-]{1,60}$/, { error: 'This is a name of letters, digits and hyphens.' }),
    where: GroupSchema,
  }),
);

const AnySchema: z.ZodType<Rule> = z.lazy(() =>
  z.union([TestSchema, NamedSchema, WhereSchema, GroupSchema], {
    error: 'This is no test, no group of tests, and no rule by its name.',
  }),
);

const GroupSchema: z.ZodType<Group> = z.strictObject({
  group: z.enum(['all', 'any', 'none']),
  rules: z.array(AnySchema),
});

/** A rule is always a group at the top. */
export const RuleSchema: z.ZodType<Group> = z
  .unknown()
  .superRefine((input, context) => {
    const what = tooMuch(input);
    if (what) context.addIssue({ code: 'custom', message: what });
  })
  .pipe(GroupSchema) as unknown as z.ZodType<Group>;
