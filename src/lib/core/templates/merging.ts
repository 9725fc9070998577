import { z } from 'zod';
import { fail, ok, problem, type Result } from '../base/result';
import { ElementSchema, TreeSchema, type Element, type Tree } from '../schema/element';
import { applyOperation, type TreeOperation } from './edits';
import { parentOf, pieceOf } from './tree';

const Id = z.string().max(60);
const OperationSchema = z.discriminatedUnion('do', [
  z.strictObject({
    do: z.literal('insert'),
    parent: Id,
    index: z.number().int().min(0),
    piece: z.strictObject({ top: Id, elements: z.record(z.string(), ElementSchema) }),
  }),
  z.strictObject({ do: z.literal('remove'), id: Id }),
  z.strictObject({ do: z.literal('move'), id: Id, parent: Id, index: z.number().int().min(0) }),
  z.strictObject({
    do: z.literal('put'),
    id: Id,
    at: z.array(z.string().max(60)).min(1).max(12),
    value: z.unknown().optional(),
  }),
  z.strictObject({ do: z.literal('replace'), tree: TreeSchema }),
]);

/** One operation as it is sent to be kept, with a mark of what its maker saw at the place that it changes. */
export const SentOperationSchema = z.strictObject({ operation: OperationSchema, saw: z.string().max(20) });
export type SentOperation = { operation: TreeOperation; saw: string };

/** Everything done to a template since it was last kept. */
export const TemplateEditsSchema = z.strictObject({
  /** The version that it was done to. */
  version: z.number().int(),
  operations: z.array(SentOperationSchema).max(5000),
  /** Names of the edits. */
  labels: z.array(z.string().max(300)).max(1000).default([]),
  /** A new name, with the one that it had before. */
  name: z.strictObject({ from: z.string().max(120), to: z.string().trim().min(1).max(120) }).optional(),
  sitting: z.string().max(40).default(''),
});
/** The same as it is sent; see the schema. */
export interface TemplateEdits {
  version: number;
  operations: readonly SentOperation[];
  labels?: readonly string[];
  name?: { from: string; to: string };
  sitting?: string;
}

/** A value without the order of its keys, as JSON; nothing for undefined. */
function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join()}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? '';
  const entries = Object.entries(value).filter(([, one]) => one !== undefined);
  return `{${entries
    .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
    .map(([key, one]) => `${JSON.stringify(key)}:${canonical(one)}`)
    .join()}}`;
}

/** 53 bits of a text (cyrb53, public domain), base 36: enough to tell states of one place apart. */
function markOf(text: string): string {
  let [a, b] = [0xdeadbeef, 0x41c6ce57];
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    a = Math.imul(a ^ code, 2654435761);
    b = Math.imul(b ^ code, 1597334677);
  }
  a = Math.imul(a ^ (a >>> 16), 2246822507) ^ Math.imul(b ^ (b >>> 13), 3266489909);
  b = Math.imul(b ^ (b >>> 16), 2246822507) ^ Math.imul(a ^ (a >>> 13), 3266489909);
  return (4294967296 * (2097151 & b) + (a >>> 0)).toString(36);
}

const valueAt = (element: Element | undefined, at: readonly string[]): unknown =>
  at.reduce<unknown>(
    (value, key) =>
      typeof value === 'object' && value !== null && Object.hasOwn(value, key)
        ? (value as Record<string, unknown>)[key]
        : undefined,
    element,
  );

/**
 * A mark of what stands where an operation changes something: the value that is put anew, the elements that go, where what is moved
 * stood. An operation made by somebody who saw the same can be applied after the changes of others.
 */
export function sawOf(tree: Tree, operation: TreeOperation): string {
  switch (operation.do) {
    case 'put':
      return markOf(canonical(valueAt(tree.elements[operation.id], operation.at)));
    case 'remove':
      return markOf(canonical(pieceOf(tree, operation.id).elements));
    case 'move':
      return markOf(parentOf(tree, operation.id)?.parent.id ?? '');
    case 'insert':
      return '';
    case 'replace':
      return markOf(canonical(tree));
  }
}

/**
 * Applies what somebody did to a tree that others may have changed since. Refused where they have changed the same place:
 * nothing is applied then, and the problem names the element.
 */
export function mergeOperations(tree: Tree, sent: readonly SentOperation[]): Result<Tree> {
  for (const { operation, saw } of sent) {
    const id = operation.do === 'insert' ? operation.parent : operation.do === 'replace' ? tree.root : operation.id;
    if (sawOf(tree, operation) !== saw)
      return fail(
        problem(`tree.elements.${id}`, 'Somebody else has changed the same place.', 'Look at both states, and choose.'),
      );
    const applied = applyOperation(tree, operation);
    if (!applied.ok) return fail(...applied.problems.map((p) => ({ ...p, at: `tree.elements.${id}` })));
    tree = applied.value.tree;
  }
  return ok(tree);
}
