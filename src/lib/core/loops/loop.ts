import { z } from 'zod';
import type { ContentRecord } from '../content/record';
import type { ModelIndex } from '../model/model';
import { compilePath, type CompiledPath } from '../paths/compile';
import { PathSchema, type LoopScope, type Scopes } from '../paths/path';
import { problem, type Problem } from '../result';
import { compileRule, type CompiledRule } from '../rules/compile';
import { RuleSchema } from '../rules/rule';

const Whole = z.number().int().min(0).max(100_000);

export const LoopSourceSchema = z.discriminatedUnion('from', [
  z.strictObject({ from: z.literal('archive') }),
  z.strictObject({ from: z.literal('query'), typeIds: z.array(z.string()).min(1).max(20) }),
  z.strictObject({ from: z.literal('relation'), path: PathSchema }),
]);
export type LoopSource = z.infer<typeof LoopSourceSchema>;

export const LoopSettingsSchema = z.object({
  source: LoopSourceSchema,
  filter: RuleSchema.optional(),
  /** Keys of the order, the most important first; each a path's steps from the loop's item. */
  order: z
    .array(z.object({ steps: z.array(z.string()).min(1).max(1), down: z.boolean() }))
    .max(6)
    .default([]),
  skip: Whole.default(0),
  limit: Whole.min(1).optional(),
  /** Items on a page of the archive; without it there is one page. */
  perPage: Whole.min(1).optional(),
});
export type LoopSettings = z.infer<typeof LoopSettingsSchema>;

export interface OrderKey {
  path: CompiledPath;
  step: string;
  down: boolean;
}

/** A loop made ready: what a pool needs to answer which records it goes over. */
export interface CompiledLoop {
  id: string;
  scope: LoopScope;
  source: LoopSource;
  /** Reads the ids of a relation source. */
  ids?: CompiledPath;
  filter?: CompiledRule;
  order: OrderKey[];
  skip: number;
  limit?: number;
  perPage?: number;
  problems: Problem[];
}

export type ListRequest = CompiledLoop;

/** One page of what a loop goes over. `total` counts all pages. */
export interface LoopList {
  records: ContentRecord[];
  total: number;
  /** From 1. */
  page: number;
  pages: number;
}

/** Families whose values have an order. */
export const ORDERED = new Set([
  'text',
  'number',
  'date',
  'time',
  'datetime',
  'yesno',
  'choice',
  'link',
  'colour',
  'icon',
]);

/** The content types that a loop goes over. */
export function typesOfSource(
  source: LoopSource,
  scopes: Scopes,
  model: ModelIndex,
): { typeIds: string[]; ids?: CompiledPath; problem?: Problem } {
  if (source.from === 'archive')
    return scopes.archiveTypeId
      ? { typeIds: [scopes.archiveTypeId] }
      : {
          typeIds: [],
          problem: problem('source', 'There is no archive here to go over.', 'Choose a query or a relation.'),
        };
  if (source.from === 'query') {
    const typeIds = source.typeIds.filter((id) => model.type(id));
    return typeIds.length === source.typeIds.length
      ? { typeIds }
      : {
          typeIds,
          problem: problem('source', 'A content type this goes over has been deleted.', 'Choose another one.'),
        };
  }
  const path = compilePath(source.path, scopes, model);
  if (!path.ok) return { typeIds: [], problem: { ...(path.problems[0] as Problem), at: 'source' } };
  if (path.value.type.kind.family !== 'relation')
    return {
      typeIds: [],
      problem: problem('source', `${path.value.type.label} holds no records.`, 'Choose a relation.'),
    };
  return { typeIds: path.value.type.typeIds, ids: path.value };
}

/** Makes a loop ready, where `scopes` are those of the place it stands in. */
export function compileLoop(
  id: string,
  name: string,
  settings: LoopSettings,
  scopes: Scopes,
  model: ModelIndex,
): CompiledLoop {
  const { typeIds, ids, problem: wrongSource } = typesOfSource(settings.source, scopes, model);
  const problems: Problem[] = wrongSource ? [wrongSource] : [];
  const scope: LoopScope = { id, name, typeIds, depth: scopes.loops.length };
  const inside: Scopes = { ...scopes, loops: [...scopes.loops, scope] };

  const filter = settings.filter?.rules.length ? compileRule(settings.filter, inside, model) : undefined;
  if (filter) problems.push(...filter.problems.map((p) => ({ ...p, at: `filter.${p.at}` })));

  const order: OrderKey[] = [];
  for (const [i, { steps, down }] of settings.order.entries()) {
    const path = compilePath({ from: `loop:${id}`, steps }, inside, model);
    if (!path.ok) problems.push({ ...(path.problems[0] as Problem), at: `order.${i}` });
    else if (path.value.type.many || !ORDERED.has(path.value.type.kind.family))
      problems.push(
        problem(
          `order.${i}`,
          `${path.value.type.label} has no order.`,
          'Choose a text, number, date, choice or yes/no.',
        ),
      );
    else order.push({ path: path.value, step: steps[0] as string, down });
  }
  return {
    id,
    scope,
    source: settings.source,
    ids,
    filter,
    order,
    skip: settings.skip,
    limit: settings.limit,
    perPage: settings.perPage,
    problems,
  };
}

/** Which part of `found` candidates stands on a page: the offset among them, how many, and the figures to say so. */
export function pageOf(
  loop: CompiledLoop,
  found: number,
  page: number,
): { offset: number; count: number; total: number; page: number; pages: number } {
  const total = Math.min(Math.max(0, found - loop.skip), loop.limit ?? Infinity);
  const per = loop.perPage ?? Infinity;
  const at = loop.perPage ? page : 1;
  const before = at > 1 ? (at - 1) * per : 0;
  return {
    offset: loop.skip + before,
    count: Math.max(0, Math.min(per, total - before)),
    total,
    page: at,
    pages: loop.perPage ? Math.max(1, Math.ceil(total / per)) : 1,
  };
}
