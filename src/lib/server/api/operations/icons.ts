import { z } from 'zod';
import { findIcons, iconsNamed } from '../../../core/base/icons/all';
import { operation } from '../operation';
import { schemas } from '../schemas';
import { listIn, paged, Pages } from './common';

export const icons = [
  operation('GET /icons', {
    id: 'listIcons',
    tag: 'Site',
    requiredRole: 'reader',
    summary: 'Icons that ship with the application, with their drawings: those named, or those that a search finds',
    query: Pages.extend({
      names: z.string().max(8000).optional().describe('Names, parted by commas'),
      search: z.string().max(100).optional().describe('Beginnings of words of a name or a meaning'),
    }),
    response: schemas.Icon,
    lists: true,
    status: 200,
    run: async ({ query }) =>
      paged(query.names === undefined ? findIcons(query.search ?? '') : iconsNamed(listIn(query.names)), query),
  }),
];
