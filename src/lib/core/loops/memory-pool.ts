import type { ContentRecord, Media } from '../content/record';
import type { Pool } from '../paths/env';
import { arrange, itemsAt } from './evaluate';

/** A pool over records that are all at hand: the canvas' own, and the reference for lists from a database. */
export function memoryPool(records: readonly ContentRecord[], media: readonly Media[], drafts = true): Pool {
  const visible = drafts ? records : records.filter((record) => record.status === 'published');
  const byId = new Map(visible.map((record) => [record.id, record]));
  const byType = new Map<string, ContentRecord[]>();
  for (const record of [...visible].sort((a, b) => a.id - b.id)) {
    const list = byType.get(record.typeId);
    if (list) list.push(record);
    else byType.set(record.typeId, [record]);
  }
  const pictures = new Map(media.map((medium) => [medium.id, medium]));
  return {
    record: (id) => byId.get(id),
    media: (id) => pictures.get(id),
    list(loop, env) {
      const items = itemsAt(loop, env);
      if (items) return arrange(loop, env, items);
      const { typeIds } = loop.scope;
      const candidates =
        typeIds.length === 1
          ? (byType.get(typeIds[0] as string) ?? [])
          : [...typeIds.flatMap((id) => byType.get(id) ?? [])].sort((a, b) => a.id - b.id);
      return arrange(loop, env, candidates);
    },
  };
}
