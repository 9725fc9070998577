import type { ModelIndex } from '../model/model-index';
import type { Path } from '../schema/path';
import type { ValueType } from '../paths/scopes';
import type { Rule } from '../schema/rule';
import { pieceFrom } from './build';
import type { Piece } from './tree';

/** Whether a value has a few fixed answers, so that there can be a branch for each, and why not. */
export const noBranches = (type: Pick<ValueType, 'kind' | 'many'>): string | undefined =>
  !type.many && type.kind.family.branch
    ? undefined
    : 'There is a branch for each of a choice, a content type, or yes and no.';

/** What a branch for each answer is made of: its name and its rule. */
function answersOf(path: Path, { kind, settings }: ValueType, model: ModelIndex): { name: string; rule: Rule }[] {
  const { answers, branch } = kind.family;
  return (answers?.(settings, model) ?? []).flatMap(({ key, label }) => {
    const test = branch?.(key);
    return test ? [{ name: label, rule: { ...test, path } }] : [];
  });
}

/**
 * A branch for each answer that a value may have, each a box under the answer's name; and one without a rule at the end,
 * for records that have none. `only` keeps to some answers by their operand, such as the content types that can stand here.
 */
export function branchesFor(path: Path, type: ValueType, model: ModelIndex, only?: readonly string[]): Piece[] {
  const answers = answersOf(path, type, model).filter(
    ({ rule }) => !only || !('operand' in rule) || only.includes(String(rule.operand)),
  );
  return [
    ...answers.map(({ name, rule }) => pieceFrom({ kind: 'box', name, rule: { group: 'all', rules: [rule] } })),
    pieceFrom({ kind: 'box', name: 'Otherwise' }),
  ];
}
