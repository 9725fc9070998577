import { z } from 'zod';
import { readSetting, writeSetting } from '../queries/settings';
import { deleteRemovals, removalRows, removedRowCounts, type Removable } from '../queries/removals';
import { likePart } from '../queries/sql';

const DAY = 86_400_000;
const PRESET = 30;

export const Retention = z.strictObject({
  days: z
    .number({ error: 'Say for how many days it is kept.' })
    .int()
    .min(1, { error: 'It is kept for a day at least.' })
    .max(3650, { error: 'It is kept for ten years at most.' }),
});

/** Something that was deleted, or changed for many records at once, and can be brought back. */
export interface Removed {
  id: string;
  what: string;
  /** Instants, RFC 3339: when it was, and until when it can be brought back. */
  created: string;
  until: string;
  /** What is in it, in words. */
  holds: string;
}

/** In the order in which they are told. */
const WORDS: Record<Removable, [string, string] | undefined> = {
  content_types: ['content type', 'content types'],
  fields: ['field', 'fields'],
  taxonomies: ['taxonomy', 'taxonomies'],
  terms: ['term', 'terms'],
  authors: ['author', 'authors'],
  media: ['file', 'files'],
  records: ['record', 'records'],
  links: ['link', 'links'],
  templates: ['template', 'templates'],
  template_versions: ['earlier version', 'earlier versions'],
  named_rules: ['rule', 'rules'],
  menus: ['menu', 'menus'],
  // Said with the records.
  record_terms: undefined,
};

/** For how many days what was removed can be brought back. */
export async function retentionDays(): Promise<number> {
  return (await readSetting<number>('days removed things are kept')) ?? PRESET;
}

export async function saveRetention({ days }: z.infer<typeof Retention>): Promise<{ days: number }> {
  await writeSetting('days removed things are kept', days);
  return { days };
}

/** What can be brought back, the newest first. */
export async function readRemoved(
  search = '',
  limit = 50,
  offset = 0,
): Promise<{ items: Removed[]; total: number; days: number }> {
  const [days, { rows, total }] = await Promise.all([
    retentionDays(),
    removalRows(`%${likePart(search)}%`, limit, offset),
  ]);
  const kept = await removedRowCounts(rows.map(({ id }) => id));
  const items = rows.map(({ id, what, created }) => ({
    id,
    what,
    created: created.toISOString(),
    until: new Date(created.getTime() + days * DAY).toISOString(),
    holds: Object.entries(WORDS)
      .flatMap(([of, words]) => {
        const n = kept.find((one) => one.id === id && one.table === of)?.n;
        return n && words ? [`${n.toLocaleString('en')} ${words[n === 1 ? 0 : 1]}`] : [];
      })
      .join(', '),
  }));
  return { items, total, days };
}

/** Forgets for good what was removed longer ago than it is kept. */
export const deleteOldRemovals = async (): Promise<void> =>
  deleteRemovals(new Date(Date.now() - (await retentionDays()) * DAY));
