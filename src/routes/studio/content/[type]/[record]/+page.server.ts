import { error } from '@sveltejs/kit';
import { atLeast } from '$lib/core/people/roles';
import { addressOf } from '$lib/core/addresses/addresses';
import { isOwnRecord } from '$lib/server/queries/own';
import { publishes, readSharing } from '$lib/server/services/sharing';
import { plainModel } from '$lib/server/services/model';
import { readRecord } from '$lib/server/services/records';
import { siteDesign } from '$lib/server/site/design';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async ({ params, locals: { who } }) => {
  const model = await plainModel();
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  const record =
    params.record === 'new'
      ? undefined
      : /^\d{1,9}$/.test(params.record)
        ? await readRecord(Number(params.record))
        : undefined;
  if (params.record !== 'new' && record?.typeId !== type.id) error(404, `There is no such ${type.name.toLowerCase()}.`);
  if (!who) error(401);
  const { model: visitors } = await siteDesign('released');
  const seen = visitors.type(type.id);
  /** How addresses of the type are made for visitors; none where they see nothing of it. */
  const addressed = seen && { base: seen.base, address: seen.address };
  if (!record) return { model, type, record, addressed, editable: atLeast(who.role, 'author') };
  const onSite = seen && record.status === 'published' ? addressOf(record, visitors) : undefined;
  const own = atLeast(who.role, 'editor') || (atLeast(who.role, 'author') && (await isOwnRecord(record.id, who.id)));
  const open = publishes(who) || record.status === 'draft';
  return { model, type, record, addressed, onSite, editable: own && open, sharing: await readSharing(record.id) };
};
