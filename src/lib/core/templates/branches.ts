import type { Path } from '../schema/path';
import type { ValueType } from '../paths/scopes';
import type { Rule } from '../schema/rule';
import { pieceFrom } from './build';
import type { Piece } from './tree';

/** Whether a value has a few fixed answers, so that there can be a branch for each, and why not. */
export const noBranches = (type: Pick<ValueType, 'kind' | 'many'>): string | undefined =>
  !type.many && (type.kind.family === 'choice' || type.kind.family === 'yesno')
    ? undefined
    : 'There is a branch for each of a choice, a content type, or yes and no.';

/** What a branch for each answer is made of: its name and its rule. */
function answersOf(path: Path, { kind, settings }: ValueType): { name: string; rule: Rule }[] {
  if (kind.family === 'yesno') {
    const { yes, no } = settings as { yes?: string; no?: string };
    return [
      { name: yes || 'Yes', rule: { test: 'yesno.yes', path } },
      { name: no || 'No', rule: { test: 'yesno.no', path } },
    ];
  }
  return (settings as { options: { key: string; label: string }[] }).options.map(({ key, label }) => ({
    name: label,
    rule: { test: 'choice.is', path, operand: key },
  }));
}

/**
 * A branch for each answer that a value may have, each a box under the answer's name; and one without a rule at the end,
 * for records that have none. `only` keeps to some answers by their operand, such as the content types that can stand here.
 */
export function branchesFor(path: Path, type: ValueType, only?: readonly string[]): Piece[] {
  const answers = answersOf(path, type).filter(
    ({ rule }) => !only || !('operand' in rule) || only.includes(String(rule.operand)),
  );
  return [
    ...answers.map(({ name, rule }) => pieceFrom({ kind: 'box', name, rule: { group: 'all', rules: [rule] } })),
    pieceFrom({ kind: 'box', name: 'Otherwise' }),
  ];
}
