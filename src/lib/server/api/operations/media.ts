import { z } from 'zod';
import { atLeast } from '../../../core/people/roles';
import { isOwn } from '../../people/own';
import { noteCreator } from '../../queries/own';
import { refuseSeenMedia, refuseWhereOthersUse } from '../../services/sharing';
import { addMedia, changeMedia, deleteMedia, listMedia, readMedia, usesOfMedia } from '../../services/media';
import { readTypeface } from '../../services/typefaces';
import { fileName, pieces } from '../http';
import { operation } from '../operation';
import { type Principal } from '../../people/principal';
import { schemas } from '../schemas';
import { Pages } from './common';

const writes = { tag: 'Media', requiredRole: 'author', touches: 'content' } as const;
/** Whether somebody may change what is said of a picture or file, or delete it. */
const mayChange = async (principal: Principal, mediaId: number): Promise<boolean> =>
  atLeast(principal.role, 'editor') ||
  (atLeast(principal.role, 'author') &&
    (await isOwn('media', { mediaId: String(mediaId) }, principal.id)) &&
    (await refuseSeenMedia(principal, mediaId).then(
      () => true,
      () => false,
    )));

const MediaQuery = Pages.extend({
  search: z.string().max(200).default(''),
  pictures: z.stringbool().default(false),
});

export const media = [
  operation('GET /media', {
    id: 'listMedia',
    tag: 'Media',
    requiredRole: 'reader',
    summary: 'Pictures and files, the newest first',
    query: MediaQuery,
    response: schemas.Media,
    lists: true,
    status: 200,
    run: async ({ query: { search, pictures, page, per_page: perPage } }) => {
      const found = await listMedia({ search, pictures, limit: perPage, offset: (page - 1) * perPage });
      return { items: found.media, total: found.total, page, perPage };
    },
  }),
  operation('POST /media', {
    id: 'addMedia',
    activity: 'Added the file “{name}”',
    ...writes,
    summary: 'A new picture or file',
    description: 'The body is the file itself. The same content is kept once, under one number.',
    query: z.object({ name: z.string().min(1).max(200), alt: z.string().max(500).default('') }),
    body: 'file',
    response: schemas.AddedMedia,
    status: 201,
    refuses: [413],
    run: async ({ query, request, principal }) => {
      const added = await addMedia(fileName(new URL(request.url), query.name), pieces(request), query.alt);
      if (!added.again) await noteCreator('media', [added.id], principal.id);
      return added;
    },
  }),
  operation('DELETE /media', {
    id: 'deleteSeveralMedia',
    activity: 'Deleted {n} files',
    ...writes,
    requiredRole: 'editor',
    summary: 'Deletes pictures and files',
    description: 'They are taken out of everything that shows them.',
    body: schemas.MediaIdsRequest,
    example: { ids: [12, 13] },
    response: schemas.Removal,
    status: 200,
    run: ({ body }) => deleteMedia(body.ids),
  }),
  operation('GET /media/{mediaId}', {
    id: 'readMedia',
    tag: 'Media',
    requiredRole: 'reader',
    summary: 'What is known of one',
    response: schemas.Media,
    status: 200,
    run: ({ params }) => readMedia(params.mediaId),
  }),
  operation('GET /media/{mediaId}/typeface', {
    id: 'readTypeface',
    tag: 'Media',
    requiredRole: 'reader',
    summary: 'What the file of a typeface says of itself',
    description: 'Its weights, signs, measures and licence, as a theme keeps them. The file is in the format WOFF2.',
    response: schemas.ReadTypeface,
    status: 200,
    refuses: [415],
    run: ({ params }) => readTypeface(params.mediaId),
  }),
  operation('GET /media/{mediaId}/uses', {
    id: 'readMediaUses',
    tag: 'Media',
    requiredRole: 'reader',
    summary: 'What shows it',
    response: schemas.MediaUses,
    status: 200,
    run: async ({ params, principal }) => ({
      uses: await usesOfMedia(params.mediaId),
      editable: await mayChange(principal, params.mediaId),
    }),
  }),
  operation('PATCH /media/{mediaId}', {
    id: 'changeMedia',
    over: 'media',
    activity: 'Changed what is said of the file “{name}”',
    ...writes,
    status: 200,
    summary: 'Changes name, alternative text or focal point',
    body: schemas.MediaChange,
    example: { alt: 'The hut below the ridge, in snow', focalX: 0.5, focalY: 0.3 },
    refusal: 'This cannot be saved.',
    response: schemas.Media,
    current: ({ mediaId }) => readMedia(mediaId),
    run: async ({ params, body, guard, principal }) => {
      const id = params.mediaId;
      await refuseSeenMedia(principal, id);
      return changeMedia(id, body, guard);
    },
  }),
  operation('DELETE /media/{mediaId}', {
    id: 'deleteMedia',
    over: 'media',
    activity: 'Deleted the file “{name}”',
    ...writes,
    response: schemas.Removal,
    status: 200,
    summary: 'Deletes one, and takes it out of the records that show it',
    current: ({ mediaId }) => readMedia(mediaId),
    run: async ({ params, principal }) => {
      const id = params.mediaId;
      await refuseSeenMedia(principal, id);
      await refuseWhereOthersUse(principal, id);
      return deleteMedia([id]);
    },
  }),
] as const;
