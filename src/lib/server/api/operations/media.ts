import { z } from 'zod';
import { atLeast } from '../../../core/people/roles';
import { isOwn } from '../../people/own';
import { madeBy } from '../../queries/own';
import { refuseSeenMedia, refuseWhereOthersUse } from '../../services/standing';
import { addMedia, changeMedia, deleteMedia, listMedia, readMedia, usesOfMedia } from '../../services/media';
import { readTypeface } from '../../services/typefaces';
import { fileName, numberOf, pieces } from '../http';
import { at, operation, type Asker, type Operation } from '../operation';
import { Pages } from './common';

const writes = { tag: 'Media', who: 'author', touches: 'content' } as const;
/** Whether somebody may change what is said of a picture or file, or delete it. */
const mayChange = async (who: Asker, params: Record<string, string>): Promise<boolean> =>
  atLeast(who.role, 'editor') ||
  (atLeast(who.role, 'author') &&
    (await isOwn('media', params, who.id)) &&
    (await refuseSeenMedia(who, numberOf(params.mediaId ?? '')).then(
      () => true,
      () => false,
    )));

const MediaAsked = Pages.extend({
  search: z.string().max(200).default(''),
  pictures: z.stringbool().default(false),
});

export const media: Operation[] = [
  operation<z.infer<typeof MediaAsked>, undefined>({
    ...{
      ...at('GET /media'),
      id: 'listMedia',
      tag: 'Media',
      who: 'reader',
      summary: 'Pictures and files, the newest first',
    },
    ...{ query: MediaAsked, answers: 'Media', lists: true, status: 200 },
    run: async ({ query: { search, pictures, page, per_page: perPage } }) => {
      const found = await listMedia({ search, pictures, limit: perPage, offset: (page - 1) * perPage });
      return { items: found.media, total: found.total, page, perPage };
    },
  }),
  operation<{ name: string; alt: string }, undefined>({
    ...{
      ...at('POST /media'),
      id: 'addMedia',
      did: 'Added the file “{name}”',
      ...writes,
      summary: 'A new picture or file',
    },
    description: 'The body is the file itself. The same content is kept once, under one number.',
    query: z.object({ name: z.string().min(1).max(200), alt: z.string().max(500).default('') }),
    ...{ body: 'file', answers: 'AddedMedia', status: 201, refuses: [413] },
    run: async ({ query, request, who }) => {
      const added = await addMedia(fileName(new URL(request.url), query.name), pieces(request), query.alt);
      if (!added.again) await madeBy('media', [added.id], who.id);
      return added;
    },
  }),
  operation<never, { ids: number[] }>({
    ...{
      ...at('DELETE /media'),
      id: 'deleteSeveralMedia',
      did: 'Deleted {n} files',
      ...writes,
      who: 'editor',
      summary: 'Deletes pictures and files',
    },
    description: 'They are taken out of everything that shows them.',
    ...{ body: 'MediaIdsAsked', answers: 'Removal', status: 200 },
    run: ({ body }) => deleteMedia(body.ids),
  }),
  operation({
    ...{ ...at('GET /media/{mediaId}'), id: 'readMedia', tag: 'Media', who: 'reader', summary: 'What is known of one' },
    ...{ answers: 'Media', status: 200 },
    run: ({ params }) => readMedia(numberOf(params.mediaId ?? '')),
  }),
  operation({
    ...{
      ...at('GET /media/{mediaId}/typeface'),
      id: 'readTypeface',
      tag: 'Media',
      who: 'reader',
      summary: 'What the file of a typeface says of itself',
    },
    description: 'Its weights, signs, measures and licence, as a theme keeps them. The file is in the format WOFF2.',
    ...{ answers: 'ReadTypeface', status: 200, refuses: [415] },
    run: ({ params }) => readTypeface(numberOf(params.mediaId ?? '')),
  }),
  operation({
    ...{
      ...at('GET /media/{mediaId}/uses'),
      id: 'readMediaUses',
      tag: 'Media',
      who: 'reader',
      summary: 'What shows it',
    },
    ...{ answers: 'Uses', status: 200 },
    run: async ({ params, who }) => ({
      uses: await usesOfMedia(numberOf(params.mediaId ?? '')),
      editable: await mayChange(who, params),
    }),
  }),
  operation({
    ...{
      ...at('PATCH /media/{mediaId}'),
      id: 'changeMedia',
      over: 'media',
      did: 'Changed what is said of the file “{name}”',
      ...writes,
      status: 200,
    },
    summary: 'Changes name, alternative text or focal point',
    ...{ body: 'MediaChange', checkedBy: 'service', answers: 'Media' },
    current: ({ mediaId }) => readMedia(numberOf(mediaId ?? '')),
    run: async ({ params, body, guard, who }) => {
      const id = numberOf(params.mediaId ?? '');
      await refuseSeenMedia(who, id);
      return changeMedia(id, body, guard);
    },
  }),
  operation({
    ...{
      ...at('DELETE /media/{mediaId}'),
      id: 'deleteMedia',
      over: 'media',
      did: 'Deleted the file “{name}”',
      ...writes,
      answers: 'Removal',
      status: 200,
    },
    summary: 'Deletes one, and takes it out of the records that show it',
    current: ({ mediaId }) => readMedia(numberOf(mediaId ?? '')),
    run: async ({ params, who }) => {
      const id = numberOf(params.mediaId ?? '');
      await refuseSeenMedia(who, id);
      await refuseWhereOthersUse(who, id);
      return deleteMedia([id]);
    },
  }),
];
