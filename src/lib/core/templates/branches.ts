import type { ModelIndex } from '../model/model-index';
import type { Path } from '../schema/path';
import type { ValueType } from '../paths/scopes';
import type { Rule } from '../schema/rule';
import { pieceFrom } from './build';
import type { Scopes } from '../paths/scopes';
import type { Element, Tree } from '../schema/element';
import type { Edit } from './edits';
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

/**
 * Of these, those that are not among the branches yet, and where they go: in front of the branch for all the rest, which
 * is made where there is none. A branch counts as one for an answer where that is all that its rule asks.
 */
export function missingBranches(
  branches: readonly Pick<Element, 'rule'>[],
  path: Path,
  type: ValueType,
  model: ModelIndex,
  only?: readonly string[],
): { pieces: Piece[]; index: number } {
  const asked = ({ rule }: Pick<Element, 'rule'>): string => {
    const [first, ...more] = rule?.rules ?? [];
    if (!first) return '';
    return !more.length && 'test' in first && first.path
      ? JSON.stringify([first.test, first.path.from, first.path.steps, first.operand])
      : 'more';
  };
  const there = new Set(branches.map(asked));
  const rest = branches.findIndex((branch) => asked(branch) === '');
  return {
    pieces: branchesFor(path, type, model, only).filter(({ top, elements }) => !there.has(asked(elements[top] ?? {}))),
    index: rest < 0 ? branches.length : rest,
  };
}

/** Puts a branch for each answer of a value into alternatives, as far as there is none; undefined where none is missing. */
export function branchEdit(
  { tree, scopes, model }: { tree: Tree; scopes: Scopes; model: ModelIndex },
  id: string,
  path: Path,
  type: ValueType,
): Edit | undefined {
  const { recordTypeIds, loops } = scopes;
  const here = path.from === 'record' ? recordTypeIds : loops.find((loop) => path.from === `loop:${loop.id}`)?.typeIds;
  const only = path.steps.length === 1 && path.steps[0] === '@type' ? here : undefined;
  const branches = tree.elements[id]?.children.flatMap((child) => tree.elements[child] ?? []) ?? [];
  const { pieces, index } = missingBranches(branches, path, type, model, only);
  return pieces.length
    ? {
        label: `Made a branch for each ${type.label}`,
        operations: pieces.map((piece, i) => ({ do: 'insert', parent: id, index: index + i, piece })),
      }
    : undefined;
}
