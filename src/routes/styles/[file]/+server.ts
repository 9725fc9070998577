import { error } from '@sveltejs/kit';
import { seesDraft } from '$lib/server/access/access';
import { siteIcon, ICON_ADDRESS } from '$lib/core/theme/icon';
import { read } from '$app/server';
import { siteDesign, styleSheet } from '$lib/server/site/design';
import { sheetForSigns } from '$lib/server/site/faces';
import { sendIfNew } from '$lib/server/site/send';
import base from '$lib/site/site.css?inline';
import type { RequestHandler } from './$types';

const FOREVER = 'public, max-age=31536000, immutable';

/** The one style sheet of a release. Addresses change with what is in them. */
export const GET: RequestHandler = async (event) => {
  const { file } = event.params;
  if (ICON_ADDRESS.endsWith(`/${file}`)) {
    const { model, theme } = await siteDesign('released');
    return sendIfNew(event.request, siteIcon(model.site, theme), { 'content-type': 'image/svg+xml' });
  }
  const faces = await sheetForSigns(file, base, async (asset) => Buffer.from(await read(asset).arrayBuffer()));
  if (faces !== undefined)
    return new Response(faces, { headers: { 'content-type': 'text/css; charset=utf-8', 'cache-control': FOREVER } });
  const draft = file.startsWith('draft-');
  // The draft's own is for those who may see the draft.
  if (draft && !(await seesDraft(event))) error(404);
  const sheet = await styleSheet(file, base);
  if (!sheet) error(404);
  return new Response(sheet.css, {
    headers: {
      'content-type': 'text/css; charset=utf-8',
      'cache-control': draft ? 'private, no-cache' : sheet.current ? FOREVER : 'no-cache',
    },
  });
};
