import { BUILT_IN } from '../../../core/theme/theme';
import { z } from 'zod';
import { targetProblems } from '../../../core/serving/targets';
import { notFound, Refusal } from '../../base/refusal';
import { deleteMenu, saveMenu } from '../../services/menus';
import { readModel, saveSite } from '../../services/model';
import { addRedirects, deleteRedirect, readRedirects } from '../../services/redirects';
import { endShare, readShares, shareDraft } from '../../services/shares';
import { readTheme, saveTheme } from '../../services/theme';
import { resolutionAt, previewServing } from '../../site/serving';
import { servesExample } from '../examples';
import { operation } from '../operation';
import { schemas } from '../schemas';
import { Pages, paged, wellFormed } from './common';

const designs = { requiredRole: 'designer', touches: 'design' } as const;
const menuNamed = async (id: string | undefined) => {
  const menu = (await readModel()).menu(id ?? '');
  if (!menu) throw notFound('menu with this id');
  return menu;
};

/** The path of an address as somebody typed or pasted it: a path, or a whole address of this site. */
function pathTyped(given: string): string {
  let path = given.replace(/[?#].*$/, '');
  if (/^https?:\/\//i.test(given))
    try {
      path = new URL(given).pathname;
    } catch {
      throw new Refusal(422, 'This is no address.', [{ at: 'address', what: `“${given}” cannot be read.` }]);
    }
  if (!path.startsWith('/')) path = `/${path}`;
  return wellFormed(path, given);
}

export const site = [
  operation('GET /site', {
    id: 'readSite',
    tag: 'Site',
    requiredRole: 'reader',
    summary: 'What the site is called, and where it is',
    response: schemas.Site,
    status: 200,
    run: async () => (await readModel()).site,
  }),
  operation('PUT /site', {
    id: 'saveSite',
    activity: 'Changed name, language or time zone of the site',
    tag: 'Site',
    ...designs,
    summary: 'Name, language and time zone of the site',
    body: schemas.Site,
    example: { name: 'Huts of the ridge', tagline: 'Where to stay', locale: 'en-GB', timeZone: 'Europe/London' },
    refusal: 'The site cannot be saved.',
    response: schemas.Site,
    status: 200,
    current: async () => (await readModel()).site,
    run: ({ body, guard }) => saveSite(body, guard),
  }),
  operation('GET /theme', {
    id: 'readTheme',
    tag: 'Theme',
    requiredRole: 'reader',
    summary: 'The tokens that looks are made from',
    response: schemas.KeptTheme,
    status: 200,
    run: () => readTheme(),
  }),
  operation('PUT /theme', {
    id: 'saveTheme',
    activity: 'Changed the theme',
    tag: 'Theme',
    ...designs,
    summary: 'The tokens in another state',
    body: schemas.KeptTheme,
    example: { theme: BUILT_IN, version: 1 },
    refusal: 'The theme cannot be read.',
    response: schemas.KeptTheme,
    status: 200,
    refuses: [409],
    current: () => readTheme(),
    run: ({ body }) => saveTheme(body),
  }),
  operation('GET /menus', {
    id: 'listMenus',
    tag: 'Menus',
    requiredRole: 'reader',
    summary: 'The menus',
    query: Pages,
    response: schemas.Menu,
    lists: true,
    status: 200,
    run: async ({ query }) => paged((await readModel()).menus, query),
  }),
  operation('POST /menus', {
    id: 'createMenu',
    activity: 'Made the menu “{name}”',
    tag: 'Menus',
    ...designs,
    summary: 'A new menu',
    body: schemas.NewMenu,
    example: { name: 'Main', entries: [] },
    refusal: 'The menu cannot be kept.',
    response: schemas.Menu,
    status: 201,
    run: ({ body }) => saveMenu({ ...body, id: undefined }),
  }),
  operation('GET /menus/{menuId}', {
    id: 'readMenu',
    tag: 'Menus',
    requiredRole: 'reader',
    summary: 'One menu',
    response: schemas.Menu,
    status: 200,
    run: ({ params }) => menuNamed(params.menuId),
  }),
  operation('PUT /menus/{menuId}', {
    id: 'saveMenu',
    activity: 'Changed the menu “{name}”',
    tag: 'Menus',
    ...designs,
    summary: 'A menu in another state',
    body: schemas.MenuChange,
    example: { name: 'Main', entries: [], version: 2 },
    refusal: 'The menu cannot be kept.',
    response: schemas.Menu,
    status: 200,
    refuses: [409],
    current: ({ menuId }) => menuNamed(menuId),
    run: ({ params, body }) => saveMenu({ ...body, id: params.menuId }),
  }),
  operation('DELETE /menus/{menuId}', {
    id: 'deleteMenu',
    activity: 'Deleted the menu “{name}”',
    tag: 'Menus',
    ...designs,
    summary: 'Deletes a menu',
    status: 204,
    refuses: [409],
    current: ({ menuId }) => menuNamed(menuId),
    run: ({ params }) => deleteMenu(params.menuId),
  }),
  operation('GET /redirects', {
    id: 'listRedirects',
    tag: 'Site',
    requiredRole: 'reader',
    summary: 'What leads elsewhere',
    query: z.object({ search: z.string().max(200).default('') }),
    response: schemas.Redirects,
    status: 200,
    run: ({ query }) => readRedirects(query.search),
  }),
  operation('POST /redirects', {
    id: 'addRedirects',
    activity: 'Wrote down redirects',
    tag: 'Site',
    ...designs,
    touches: 'site',
    summary: 'Writes down redirects, all or none',
    body: schemas.RedirectsRequest,
    example: [{ path: '/old-huts', target: '/huts/' }],
    refusal: 'These redirects cannot be kept.',
    response: schemas.AddedRedirects,
    status: 201,
    run: ({ body }) => addRedirects(body),
  }),
  operation('DELETE /redirects', {
    id: 'deleteRedirect',
    activity: 'Took a redirect away',
    tag: 'Site',
    ...designs,
    touches: 'site',
    summary: 'Takes a redirect away',
    query: z.object({ path: z.string().max(500) }),
    status: 204,
    run: ({ query }) => deleteRedirect(query.path),
  }),
  operation('GET /shares', {
    id: 'listShares',
    tag: 'Releases',
    requiredRole: 'designer',
    summary: 'Links to the draft that still hold',
    response: schemas.Shares,
    status: 200,
    run: () => readShares(),
  }),
  operation('POST /shares', {
    id: 'shareDraft',
    activity: 'Shared the draft by a link',
    tag: 'Releases',
    ...designs,
    touches: 'site',
    summary: 'A link to the draft',
    body: schemas.ShareRequest,
    example: { note: 'For the wardens', days: 7 },
    refusal: 'The draft cannot be shared so.',
    response: schemas.NewShare,
    status: 201,
    run: ({ body }) => shareDraft(body),
  }),
  operation('DELETE /shares/{shareId}', {
    id: 'endShare',
    activity: 'Ended a link to the draft',
    tag: 'Releases',
    ...designs,
    touches: 'site',
    summary: 'Ends a link to the draft',
    status: 204,
    run: ({ params }) => endShare(params.shareId),
  }),
  operation('GET /serving', {
    id: 'readContest',
    tag: 'Pages',
    requiredRole: 'reader',
    summary: 'Which template answers an address, and why',
    query: z.object({ address: z.string().trim().max(4000).default('') }),
    response: schemas.AddressContest,
    status: 200,
    run: ({ query }) => resolutionAt(pathTyped(query.address)),
  }),
  operation('POST /serving/preview', {
    id: 'previewServing',
    tag: 'Pages',
    requiredRole: 'designer',
    readsOnly: true,
    summary: 'What would be different if a template served this',
    body: schemas.ServingRequest,
    example: { purpose: 'record', serves: servesExample },
    response: schemas.ServingPreview,
    status: 200,
    run: async ({ body }) => {
      const { purpose, serves, except } = body;
      const model = await readModel();
      const problems = [
        ...targetProblems(serves, purpose, model, 'serves'),
        ...targetProblems(except, purpose, model, 'except'),
      ];
      return { ...(await previewServing(body)), problems };
    },
  }),
] as const;
