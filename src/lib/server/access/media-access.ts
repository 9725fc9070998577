import type { RequestEvent } from '@sveltejs/kit';
import { seesDraft } from './access';
import { isMediaPublished } from '../queries/own';
import { notFound } from '../base/refusal';
import { readModels } from '../services/model';

/**
 * Whether whoever asks may have a picture or file, and how long it may be kept on its way: what a published page uses is
 * everybody's, what only drafts use is for those who see the draft, and for nobody else there.
 */
export async function mediaCaching(
  id: number,
  event: Pick<RequestEvent, 'request' | 'url' | 'cookies'>,
): Promise<{ 'cache-control': string }> {
  const { seen } = await readModels();
  if (
    await isMediaPublished(
      id,
      seen.map((type) => type.id),
    )
  )
    return { 'cache-control': 'public, max-age=31536000, immutable' };
  if (await seesDraft(event)) return { 'cache-control': 'private, max-age=600' };
  throw notFound('picture or file with this number');
}
