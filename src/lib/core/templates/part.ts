import type { ModelIndex } from '../model/model-index';
import type { Scopes } from '../paths/scopes';
import { fail, ok, problem, type Result } from '../base/result';
import type { Tree } from '../schema/element';
import { freshPiece, mapPaths, usesOf, type Piece } from './tree';

/**
 * A piece of a template as one that several can share: what it reads of the record of its place, the nearest loop's or the
 * page's own, becomes what the part reads of the record that it shows. Fails where it reads anything else of its place.
 */
export function shared(piece: Piece, scopes: Scopes, model: ModelIndex): Result<{ tree: Tree; typeId?: string }> {
  const own = (from: string) => from === 'site' || (from.startsWith('loop:') && from.slice(5) in piece.elements);
  const uses = usesOf({ root: piece.top, elements: piece.elements }).filter((use) => !own(use.path.from));
  const loop = scopes.loops.at(-1);
  const [from, typeIds] = loop ? [`loop:${loop.id}`, loop.typeIds] : ['record', scopes.recordTypeIds ?? []];
  const name = loop ? `each ${loop.name}` : 'the record of the page';
  const other = uses.find((use) => use.path.from !== from);
  const wrong = (what: string) => fail(problem('piece', what, 'Take that out of it first.'));
  if (other) return wrong(`Some of this reads ${scopeWords(other.path.from, scopes)}, and a part sees only ${name}.`);
  const turns = uses.find((use) => use.path.steps.length === 1 && TURNS.has(use.path.steps[0] as string));
  if (turns) return wrong('Some of this reads its place in the loop, which a part does not see.');
  if (uses.length && typeIds.length !== 1)
    return wrong(loop?.fields ? 'A part shows a record, and this shows a row.' : 'A part shows records of one type.');
  const fresh = freshPiece(piece);
  const elements = Object.fromEntries(
    Object.entries(fresh.elements).map(([id, element]) => [
      id,
      mapPaths(element, (path) => (path.from === from ? { ...path, from: 'record' } : path)),
    ]),
  );
  const typeId = typeIds.length === 1 ? typeIds.find((id) => model.type(id)) : undefined;
  return ok({ tree: { root: fresh.top, elements }, ...(typeId && { typeId }) });
}

const TURNS = new Set(['@position', '@results', '@group', '@group_size']);

function scopeWords(from: string, { loops }: Scopes): string {
  if (from === 'archive') return 'the archive';
  if (from === 'record') return 'the record of the page';
  return `each ${loops.find((loop) => from === `loop:${loop.id}`)?.name ?? 'item of another loop'}`;
}
