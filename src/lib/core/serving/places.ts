import type { ModelIndex } from '../model/model';
import { encoded } from './addresses';
import { addressOfArchive, BY, SEARCH, taxonomyBase, type ArchiveOf } from './archives';

export type Place =
  | { at: 'front' }
  | { at: 'archive'; of: ArchiveOf; page: number }
  | { at: 'record'; typeId: string; slug: string }
  | { at: 'moved'; to: string }
  | { at: 'nowhere' };

const NOWHERE: Place = { at: 'nowhere' };
const YEAR = /^\d{4}$/;
const MONTH = /^(0[1-9]|1[0-2])$/;
const PAGE = /^[1-9]\d{0,8}$/;

/**
 * What an address (a path, decoded) stands for. Archives end in a slash and records do not; the other spelling, and
 * page 1 by its number, lead to the settled one. `words` are what a search asks for.
 */
export function placeOf(path: string, model: ModelIndex, words = ''): Place {
  const parts = path.split('/').filter(Boolean);
  const slashed = path.endsWith('/');
  if (!parts.length) return { at: 'front' };
  if (path.includes('//'))
    return { at: 'moved', to: `/${parts.map(encodeURIComponent).join('/')}${slashed ? '/' : ''}` };

  const paged = parts.length > 2 && parts.at(-2) === 'page';
  const number = paged ? (parts.at(-1) as string) : '1';
  if (!PAGE.test(number)) return NOWHERE;
  const page = Number(number);
  const of = archiveAt(paged ? parts.slice(0, -2) : parts, model, words);
  const record = paged ? undefined : recordAt(parts, model);
  // A record's address without its slash is never an archive's, but for archives that lie below nothing of a type.
  if (of && (slashed || !record))
    return slashed && !(paged && page === 1)
      ? { at: 'archive', of, page }
      : { at: 'moved', to: addressOfArchive(of, model, page) };
  if (!record) return NOWHERE;
  return slashed ? { at: 'moved', to: `/${encoded(parts[0] as string)}/${encoded(record.slug)}` } : record;
}

function recordAt(parts: string[], model: ModelIndex): (Place & { at: 'record' }) | undefined {
  const [base, slug] = parts;
  const type = model.types.find((one) => one.base === base);
  return type && slug !== undefined && parts.length === 2 ? { at: 'record', typeId: type.id, slug } : undefined;
}

function archiveAt(parts: string[], model: ModelIndex, words: string): ArchiveOf | undefined {
  const [base, second, third] = parts;
  const type = model.types.find((one) => one.base === base);
  if (parts.length === 1) {
    if (base === SEARCH) return { of: 'search', words };
    return type && { of: 'type', typeId: type.id };
  }
  if (second === undefined || parts.length > 3) return undefined;
  if (type && YEAR.test(second) && (third === undefined || MONTH.test(third)))
    return { of: 'date', typeId: type.id, year: Number(second), ...(third && { month: Number(third) }) };
  if (parts.length > 2) return undefined;
  if (base === BY) {
    const author = model.authors.find((one) => one.slug === second);
    return author && { of: 'author', authorId: author.id };
  }
  const taxonomy = model.taxonomies.find((one) => taxonomyBase(one.key) === base);
  const term = taxonomy && model.termsOf(taxonomy.id).find((one) => one.slug === second);
  return term && { of: 'term', termId: term.id };
}
