import type { TestGroup } from '../../model/family';
import type { Env } from '../../paths/env';
import type { Operator } from './operator';

type Id = string | number;

const list = (value: unknown): Id[] => (Array.isArray(value) ? (value as Id[]) : [value as Id]);

/** Each wanted term with all that lie below it. */
const spread = (ids: Id[], env: Env): Id[] => ids.flatMap((id) => env.model.below(String(id)));

const anyTest = (
  name: string,
  label: string,
  group: TestGroup,
  below: boolean,
  negative: boolean,
  takes: Operator['takes'] = 'either',
): Operator => {
  const wanted = (operand: unknown, env: Env) => (below ? spread(list(operand), env) : list(operand));
  return {
    name,
    label,
    group,
    takes,
    operand: 'several',
    negative,
    decided: { by: 'members' },
    test: (value, operand, env) => {
      const of = wanted(operand, env);
      return list(value).some((id) => of.includes(id)) !== negative;
    },
    lookup: (operand, env) => ({ by: 'member', of: wanted(operand, env), need: 'any', not: negative }),
  };
};

const allTest = (name: string, group: TestGroup, takes: Operator['takes'] = 'either'): Operator => ({
  name,
  label: 'has all of',
  group,
  takes,
  operand: 'several',
  decided: { by: 'members' },
  test: (value, operand) => list(operand).every((id) => list(value).includes(id)),
  lookup: (operand) => ({ by: 'member', of: list(operand), need: 'all' }),
});

export const memberOperators: Operator[] = [
  anyTest('terms.below', 'is, or lies below, any of', 'terms', true, false),
  anyTest('terms.any', 'is any of', 'terms', false, false),
  allTest('terms.all', 'terms'),
  anyTest('terms.none', 'is none of', 'terms', false, true),
  anyTest('terms.nonebelow', 'is none of, nor below', 'terms', true, true),
  anyTest('relation.any', 'is any of', 'records', false, false),
  allTest('relation.all', 'records'),
  anyTest('relation.none', 'is none of', 'records', false, true),
  anyTest('choices.any', 'has any of', 'choices', false, false, 'list'),
  allTest('choices.all', 'choices', 'list'),
  anyTest('choices.none', 'has none of', 'choices', false, true, 'list'),
];
