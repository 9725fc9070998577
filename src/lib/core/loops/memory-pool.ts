import type { ContentRecord, Media } from '../schema/record';
import type { Pool, Env } from '../paths/env';
import type { Thing } from '../paths/pool';
import { inArchive } from '../addresses/archives';
import { evaluateLoop, countFacets, itemsAt } from './evaluate';
import type { CompiledLoop } from './compiled';

/** Records by their type, in the order of their numbers. */
export function byTypeOf(records: readonly ContentRecord[]): Map<string, ContentRecord[]> {
  const byType = new Map<string, ContentRecord[]>();
  for (const record of [...records].sort((a, b) => a.id - b.id)) {
    const list = byType.get(record.typeId);
    if (list) list.push(record);
    else byType.set(record.typeId, [record]);
  }
  return byType;
}

/** A pool over records that are all at hand: the canvas' own, and the reference for lists from a database. */
export function memoryPool(records: readonly ContentRecord[], media: readonly Media[], drafts = true): Pool {
  const visible = drafts ? records : records.filter((record) => record.status === 'published');
  const byId = new Map(visible.map((record) => [record.id, record]));
  const byType = byTypeOf(visible);
  const pictures = new Map(media.map((medium) => [medium.id, medium]));
  const candidates = (loop: CompiledLoop, env: Env): readonly Thing[] => {
    const items = itemsAt(loop, env);
    if (items) return items;
    const { typeIds } = loop.scope;
    const all =
      typeIds.length === 1
        ? (byType.get(typeIds[0] as string) ?? [])
        : [...typeIds.flatMap((id) => byType.get(id) ?? [])].sort((a, b) => a.id - b.id);
    const { archive, model } = env;
    if (loop.source.from !== 'archive' || !archive) return all;
    if (archive.of === 'type' && typeIds.length === 1 && typeIds[0] === archive.typeId) return all;
    return all.filter((record) => inArchive(archive, record, model));
  };
  return {
    record: (id) => byId.get(id),
    media: (id) => pictures.get(id),
    list: (loop: CompiledLoop, env) => evaluateLoop(loop, env, candidates(loop, env)),
    facets: (loop: CompiledLoop, env) => countFacets(loop, env, candidates(loop, env)),
  };
}
