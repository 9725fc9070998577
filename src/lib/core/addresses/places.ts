import type { ModelIndex } from '../model/model-index';
import { addressOfArchive, type ArchiveOf } from './archives';
import { compiledPattern, takenFirstParts, type Addressed } from './patterns';
import { BY, SEARCH, taxonomyBase } from '../base/reserved';

export type AddressPlace =
  | { at: 'archive'; of: ArchiveOf; page: number }
  | { at: 'record'; typeId: string; slug: string; former?: true }
  | { at: 'moved'; to: string }
  | { at: 'nowhere' };

/** How the addresses of a type, or of a taxonomy, were made before. */
export interface Former extends Addressed {
  /** Of the type, or of the taxonomy. */
  typeId: string;
}

const NOWHERE: AddressPlace = { at: 'nowhere' };
const YEAR = /^\d{4}$/;
const MONTH = /^(0[1-9]|1[0-2])$/;
const PAGE = /^[1-9]\d{0,8}$/;

/**
 * What an address (a path, decoded) stands for. Archives end in a slash; without it, and with page 1 by its number, they
 * lead to the settled one. Records have none; whether one is there, and so leads on, only who looks for it knows. `words` are what a search asks for; `former` is how addresses were
 * made before, the newest first: what nothing answers now is looked for there.
 */
export function placeOf(path: string, model: ModelIndex, words = '', former: readonly Former[] = []): AddressPlace {
  const parts = path.split('/').filter(Boolean);
  const slashed = path.endsWith('/');
  if (!parts.length) return { at: 'archive', of: { of: 'front' }, page: 1 };
  if (path.includes('//'))
    return { at: 'moved', to: `/${parts.map(encodeURIComponent).join('/')}${slashed ? '/' : ''}` };

  const paged = parts.length > 1 && parts.at(-2) === 'page';
  const number = paged ? (parts.at(-1) as string) : '1';
  if (!PAGE.test(number)) return NOWHERE;
  const page = Number(number);
  const of = archiveAt(paged ? parts.slice(0, -2) : parts, model.types, model, words);
  const own = `/${parts.join('/')}`;
  const found = paged ? undefined : recordAt(own, model.types);
  // A record that stands right at the top is not called like something else.
  const record = found?.beside && takenFirstParts(model).has(found.slug) ? undefined : found;
  // A record's address without its slash is an archive's only where records stand beside archives.
  if (of && (slashed || !record || record.beside))
    return slashed && !(paged && page === 1)
      ? { at: 'archive', of, page }
      : { at: 'moved', to: addressOfArchive(of, model, page) };
  if (record) return { at: 'record', typeId: record.typeId, slug: record.slug };
  for (const one of former) {
    if (model.taxonomy(one.typeId) && parts[0] === one.base) {
      const [, slug, ...more] = paged ? parts.slice(0, -2) : parts;
      const term = more.length ? undefined : model.termsOf(one.typeId).find((of) => of.slug === slug);
      if (term) return { at: 'moved', to: addressOfArchive({ of: 'term', termId: term.id }, model, page) };
    }
    if (!model.type(one.typeId)) continue;
    const before = archiveAt(paged ? parts.slice(0, -2) : parts, [{ ...one, id: one.typeId }], undefined, words);
    if (before) return { at: 'moved', to: addressOfArchive(before, model, page) };
    const slug = paged ? undefined : compiledPattern(one)?.slugIn(own);
    if (slug !== undefined) return { at: 'record', typeId: one.typeId, slug, former: true };
  }
  return NOWHERE;
}

function recordAt(
  path: string,
  types: readonly (Addressed & { id: string })[],
): { typeId: string; slug: string; beside: boolean } | undefined {
  for (const type of types) {
    const pattern = compiledPattern(type);
    const slug = pattern?.slugIn(path);
    if (slug !== undefined) return { typeId: type.id, slug, beside: pattern?.slugFirst ?? false };
  }
  return undefined;
}

/** Without a model only the archives of these types are looked for. */
function archiveAt(
  parts: string[],
  types: readonly (Addressed & { id: string })[],
  model: ModelIndex | undefined,
  words: string,
): ArchiveOf | undefined {
  const [base, second, third] = parts;
  if (base === undefined) return model && { of: 'front' };
  const type = types.find((one) => one.base === base);
  if (parts.length === 1) {
    if (model && base === SEARCH) return { of: 'search', words };
    return type && { of: 'type', typeId: type.id };
  }
  if (second === undefined || parts.length > 3) return undefined;
  if (type && YEAR.test(second) && (third === undefined || MONTH.test(third)))
    return { of: 'date', typeId: type.id, year: Number(second), ...(third && { month: Number(third) }) };
  if (parts.length > 2 || !model) return undefined;
  if (base === BY) {
    const author = model.authors.find((one) => one.slug === second);
    return author && { of: 'author', authorId: author.id };
  }
  const taxonomy = model.taxonomies.find((one) => taxonomyBase(one.key) === base);
  const term = taxonomy && model.termsOf(taxonomy.id).find((one) => one.slug === second);
  return term && { of: 'term', termId: term.id };
}
