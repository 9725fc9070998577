import { error } from '@sveltejs/kit';
import { seesDraft } from '$lib/server/access';
import { siteIcon, ICON_ADDRESS } from '$lib/core/theme/icon';
import { siteDesign, styleSheet } from '$lib/server/site/design';
import { sendIfNew } from '$lib/server/site/send';
import base from '$lib/site/site.css?inline';
import type { RequestHandler } from './$types';

/** The one style sheet of a release. Addresses change with what is in them. */
export const GET: RequestHandler = async (event) => {
  const { file } = event.params;
  if (ICON_ADDRESS.endsWith(`/${file}`)) {
    const { model, theme } = await siteDesign('released');
    return sendIfNew(event.request, siteIcon(model.site, theme), { 'content-type': 'image/svg+xml' });
  }
  const draft = file.startsWith('draft-');
  // The draft's own is for those who may see the draft.
  if (draft && !(await seesDraft(event))) error(404);
  const sheet = await styleSheet(file, base);
  if (!sheet) error(404);
  return new Response(sheet.css, {
    headers: {
      'content-type': 'text/css; charset=utf-8',
      'cache-control': draft ? 'private, no-cache' : sheet.current ? 'public, max-age=31536000, immutable' : 'no-cache',
    },
  });
};
