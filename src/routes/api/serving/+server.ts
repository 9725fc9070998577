import { respond } from '$lib/server/api';
import { Refusal } from '$lib/server/refusal';
import { contestAt } from '$lib/server/site/serving';
import type { RequestHandler } from './$types';

/** The contest for an address: a path, or a whole address of this site. */
export const GET: RequestHandler = ({ url }) =>
  respond(async () => {
    const given = (url.searchParams.get('address') ?? '').trim();
    let path = given.replace(/[?#].*$/, '');
    if (/^https?:\/\//i.test(given))
      try {
        path = new URL(given).pathname;
      } catch {
        throw new Refusal(422, 'This is no address.', [{ at: 'address', what: `“${given}” cannot be read.` }]);
      }
    if (!path.startsWith('/')) path = `/${path}`;
    try {
      path = path.split('/').map(decodeURIComponent).join('/');
    } catch {
      throw new Refusal(422, 'This is no address.', [
        { at: 'address', what: `“${given}” has an escape that says nothing.`, fix: 'Check the signs after each %.' },
      ]);
    }
    return contestAt(path);
  });
