import { atLeast, type Person } from '../../core/people/roles';
import type { ContentRecord } from '../../core/schema/record';
import { inTransaction } from '../database/connect';
import {
  isMediaPublished,
  ownAmong,
  proposals,
  proposeRecord,
  sharedWith,
  shareRecord,
  recordSharing,
} from '../queries/own';
import { placesOfMedia } from '../queries/record-parts';
import { notFound, Refusal } from '../base/refusal';
import { readModel } from './model';

/** Whose a record is, and whether it waits to be published. */
export interface Sharing {
  maker: { id: number; name: string } | null;
  shared: { id: number; name: string }[];
  /** Instant, RFC 3339. */
  proposed: string | null;
}

export async function readSharing(id: number): Promise<Sharing> {
  const [row, shared] = await Promise.all([recordSharing(id), sharedWith(id)]);
  if (!row) throw notFound('record with this number');
  const { madeBy, maker, proposed } = row;
  return {
    maker: madeBy !== null && maker !== null ? { id: madeBy, name: maker } : null,
    shared,
    proposed: proposed?.toISOString() ?? null,
  };
}

/** Proposes a draft for publishing, or takes that back. */
export async function propose(id: number, proposed: boolean): Promise<Sharing> {
  await proposeRecord(id, proposed ? new Date() : null);
  return readSharing(id);
}

/** Says which authors may write a record too. Only whoever made it, or an editor, says so: those whom it was shared with share it no further. */
export async function shareWith(who: Person, id: number, accountIds: readonly number[]): Promise<Sharing> {
  const { maker } = await readSharing(id);
  if (!atLeast(who.role, 'editor') && maker?.id !== who.id)
    throw new Refusal(403, 'Whoever wrote this record says with whom it is shared. Ask them, or an editor.');
  await inTransaction((transaction) => shareRecord(id, accountIds, transaction));
  return readSharing(id);
}

export const readProposals = async (): Promise<
  { id: number; typeId: string; title: string; who: string | null; proposed: string }[]
> => {
  const [rows, model] = await Promise.all([proposals(200), readModel()]);
  return rows
    .filter(({ typeId }) => model.type(typeId))
    .map((row) => ({ ...row, proposed: row.proposed.toISOString() }));
};

/** Whether somebody may put something before visitors, or change what stands before them. */
export const publishes = (who: Person): boolean => who.mayPublish || atLeast(who.role, 'editor');

/** Refuses whoever may only propose to publish a record, or to change one that visitors see. */
export function refusePublishing(who: Person, change: { status?: unknown }, before?: ContentRecord): void {
  if (publishes(who)) return;
  if (before && before.status !== 'draft')
    throw new Refusal(403, 'Visitors see this record. Ask an editor to change it.');
  if (change.status !== undefined && change.status !== 'draft')
    throw new Refusal(403, 'An editor publishes what you write. Propose it for publishing.');
}

/** Refuses whoever may only propose to change, or to take away, a picture or file that visitors see. */
export async function refuseSeenMedia(who: Person, mediaId: number): Promise<void> {
  if (publishes(who)) return;
  const model = await readModel();
  if (
    await isMediaPublished(
      mediaId,
      model.types.map(({ id }) => id),
    )
  )
    throw new Refusal(403, 'Visitors see this picture or file. Ask an editor to change it.');
}

/** Refuses an author to take a picture out of records that are not their own. */
export async function refuseWhereOthersUse(who: Person, mediaId: number): Promise<void> {
  if (atLeast(who.role, 'editor')) return;
  const ids = [...new Set((await placesOfMedia(mediaId)).map(({ id }) => id))];
  if ((await ownAmong(ids, who.id)).length < ids.length)
    throw new Refusal(409, 'Records of others show this. Ask an editor to delete it.');
}
