import { isOwnMedia, isOwnRecord, isOwnRemoval } from '../queries/own';

/** What somebody may have for their own. */
export type Owned = 'record' | 'media' | 'removal';

const numberIn = (text: string | undefined) => (/^[1-9]\d{0,9}$/.test(text ?? '') ? Number(text) : 0);

/** Whether something is an account's own, or was shared with it; what does not exist is nobody's. */
export function isOwn(what: Owned, params: Record<string, string>, accountId: number): Promise<boolean> {
  if (what === 'record') return isOwnRecord(numberIn(params.recordId), accountId);
  if (what === 'media') return isOwnMedia(numberIn(params.mediaId), accountId);
  return isOwnRemoval((params.removalId ?? '').slice(0, 40), accountId);
}
