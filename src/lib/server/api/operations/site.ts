import { z } from 'zod';
import { targetProblems } from '../../../core/serving/targets';
import type { Purpose } from '../../../core/schema/template';
import type { Target } from '../../../core/schema/target';
import { notFound, Refusal } from '../../refusal';
import { deleteMenu, saveMenu } from '../../services/menus';
import { readModel, saveSite } from '../../services/model';
import { addRedirects, deleteRedirect, readRedirects } from '../../services/redirects';
import { endShare, readShares, shareDraft } from '../../services/shares';
import { readTheme, saveTheme } from '../../services/theme';
import { contestAt, previewServing } from '../../site/serving';
import { numberOf } from '../http';
import { at, operation, type Operation } from '../operation';
import { Pages, paged, wellFormed } from './common';

const designs = { who: 'designer', touches: 'design' } as const;
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

export const site: Operation[] = [
  operation({
    ...{
      ...at('GET /site'),
      id: 'readSite',
      tag: 'Site',
      who: 'reader',
      summary: 'What the site is called, and where it is',
    },
    ...{ answers: 'Site', status: 200 },
    run: async () => (await readModel()).site,
  }),
  operation({
    ...{
      ...at('PUT /site'),
      id: 'saveSite',
      did: 'Changed name, language or time zone of the site',
      tag: 'Site',
      ...designs,
      summary: 'Name, language and time zone of the site',
    },
    ...{ body: 'Site', checkedBy: 'service', answers: 'Site', status: 200 },
    current: async () => (await readModel()).site,
    run: ({ body, guard }) => saveSite(body, guard),
  }),
  operation({
    ...{
      ...at('GET /theme'),
      id: 'readTheme',
      tag: 'Theme',
      who: 'reader',
      summary: 'The tokens that looks are made from',
    },
    ...{ answers: 'KeptTheme', status: 200 },
    run: () => readTheme(),
  }),
  operation<never, { theme?: unknown; version?: unknown }>({
    ...{
      ...at('PUT /theme'),
      id: 'saveTheme',
      did: 'Changed the theme',
      tag: 'Theme',
      ...designs,
      summary: 'The tokens in another state',
    },
    ...{ body: 'KeptTheme', checkedBy: 'service', answers: 'KeptTheme', status: 200, refuses: [409] },
    current: () => readTheme(),
    run: ({ body }) => saveTheme(body),
  }),
  operation<Pages, undefined>({
    ...{ ...at('GET /menus'), id: 'listMenus', tag: 'Menus', who: 'reader', summary: 'The menus' },
    ...{ query: Pages, answers: 'Menu', lists: true, status: 200 },
    run: async ({ query }) => paged((await readModel()).menus, query),
  }),
  operation<never, object>({
    ...{
      ...at('POST /menus'),
      id: 'createMenu',
      did: 'Made the menu “{name}”',
      tag: 'Menus',
      ...designs,
      summary: 'A new menu',
    },
    ...{ body: 'NewMenu', checkedBy: 'service', answers: 'Menu', status: 201 },
    run: ({ body }) => saveMenu({ ...body, id: undefined }),
  }),
  operation({
    ...{ ...at('GET /menus/{menuId}'), id: 'readMenu', tag: 'Menus', who: 'reader', summary: 'One menu' },
    ...{ answers: 'Menu', status: 200 },
    run: ({ params }) => menuNamed(params.menuId),
  }),
  operation<never, object>({
    ...{
      ...at('PUT /menus/{menuId}'),
      id: 'saveMenu',
      did: 'Changed the menu “{name}”',
      tag: 'Menus',
      ...designs,
      summary: 'A menu in another state',
    },
    ...{ body: 'Menu', checkedBy: 'service', answers: 'Menu', status: 200, refuses: [409] },
    current: ({ menuId }) => menuNamed(menuId),
    run: ({ params, body }) => saveMenu({ ...body, id: params.menuId }),
  }),
  operation({
    ...{
      ...at('DELETE /menus/{menuId}'),
      id: 'deleteMenu',
      did: 'Deleted the menu “{name}”',
      tag: 'Menus',
      ...designs,
      summary: 'Deletes a menu',
    },
    ...{ status: 204, refuses: [409] },
    current: ({ menuId }) => menuNamed(menuId),
    run: ({ params }) => deleteMenu(params.menuId ?? ''),
  }),
  operation<{ search: string }, undefined>({
    ...{ ...at('GET /redirects'), id: 'listRedirects', tag: 'Site', who: 'reader', summary: 'What leads elsewhere' },
    ...{ query: z.object({ search: z.string().max(200).default('') }), answers: 'Redirects', status: 200 },
    run: ({ query }) => readRedirects(query.search),
  }),
  operation({
    ...{
      ...at('POST /redirects'),
      id: 'addRedirects',
      did: 'Wrote down redirects',
      tag: 'Site',
      ...designs,
      touches: 'site',
    },
    ...{ summary: 'Writes down redirects, all or none', body: 'RedirectsAsked', checkedBy: 'service' },
    ...{ answers: 'AddedRedirects', status: 201 },
    run: ({ body }) => addRedirects(body),
  }),
  operation<{ path: string }, undefined>({
    ...{
      ...at('DELETE /redirects'),
      id: 'deleteRedirect',
      did: 'Took a redirect away',
      tag: 'Site',
      ...designs,
      touches: 'site',
    },
    ...{ summary: 'Takes a redirect away', query: z.object({ path: z.string().max(500) }), status: 204 },
    run: ({ query }) => deleteRedirect(query.path),
  }),
  operation({
    ...{
      ...at('GET /shares'),
      id: 'listShares',
      tag: 'Releases',
      who: 'designer',
      summary: 'Links to the draft that still hold',
    },
    ...{ answers: 'Shares', status: 200 },
    run: () => readShares(),
  }),
  operation({
    ...{
      ...at('POST /shares'),
      id: 'shareDraft',
      did: 'Shared the draft by a link',
      tag: 'Releases',
      ...designs,
      touches: 'site',
    },
    ...{ summary: 'A link to the draft', body: 'ShareAsked', checkedBy: 'service', answers: 'NewShare', status: 201 },
    run: ({ body }) => shareDraft(body),
  }),
  operation({
    ...{
      ...at('DELETE /shares/{shareId}'),
      id: 'endShare',
      did: 'Ended a link to the draft',
      tag: 'Releases',
      ...designs,
      touches: 'site',
    },
    ...{ summary: 'Ends a link to the draft', status: 204 },
    run: ({ params }) => endShare(numberOf(params.shareId ?? '')),
  }),
  operation<{ address: string }, undefined>({
    ...{
      ...at('GET /serving'),
      id: 'readContest',
      tag: 'Pages',
      who: 'reader',
      summary: 'Which template answers an address, and why',
    },
    ...{ query: z.object({ address: z.string().trim().max(4000).default('') }), answers: 'Anything', status: 200 },
    run: ({ query }) => contestAt(pathTyped(query.address)),
  }),
  operation<never, { id?: string; purpose: Purpose; serves: Target[]; except: Target[] }>({
    ...{ ...at('POST /serving/preview'), id: 'previewServing', tag: 'Pages', who: 'designer', asks: true },
    ...{
      summary: 'What would be different if a template served this',
      body: 'ServingAsked',
      answers: 'Anything',
      status: 200,
    },
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
];
