import type { ContentRecord } from '../content/record';
import type { ModelIndex } from '../model/model';

/** The address of a record's page, such as `/huts/grey-crag`; '' where its type is gone. */
export function addressOf(record: ContentRecord, model: ModelIndex): string {
  const type = model.type(record.typeId);
  return type ? `/${encoded(type.base)}/${encoded(record.slug)}` : '';
}

const PLAIN = /^[a-z0-9-]*$/;
const encoded = (part: string): string => (PLAIN.test(part) ? part : encodeURIComponent(part));

/** The address of page `page` (from 1) of a content type's archive. */
export function archiveAddress(base: string, page = 1): string {
  return page > 1 ? `/${encoded(base)}/page/${page}/` : `/${encoded(base)}/`;
}

export type Place =
  | { at: 'front' }
  | { at: 'archive'; base: string; page: number }
  | { at: 'record'; base: string; slug: string }
  | { at: 'moved'; to: string }
  | { at: 'nowhere' };

/**
 * What an address (a path, decoded) stands for. Archives end in a slash and records do not; the other spelling, and
 * page 1 by its number, lead to the settled one.
 */
export function placeOf(path: string): Place {
  const parts = path.split('/').filter(Boolean);
  const slashed = path.endsWith('/');
  const [base, second, third] = parts;
  if (base === undefined) return { at: 'front' };
  if (path.includes('//'))
    return { at: 'moved', to: `/${parts.map(encodeURIComponent).join('/')}${slashed ? '/' : ''}` };
  if (second === undefined)
    return slashed ? { at: 'archive', base, page: 1 } : { at: 'moved', to: archiveAddress(base) };
  if (second === 'page' && parts.length === 3 && third !== undefined) {
    if (!/^[1-9]\d{0,8}$/.test(third)) return { at: 'nowhere' };
    const page = Number(third);
    return page === 1 || !slashed ? { at: 'moved', to: archiveAddress(base, page) } : { at: 'archive', base, page };
  }
  if (parts.length > 2) return { at: 'nowhere' };
  if (slashed) return { at: 'moved', to: `/${encoded(base)}/${encoded(second)}` };
  return { at: 'record', base, slug: second };
}
