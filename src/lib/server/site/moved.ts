import type { ModelIndex } from '../../core/model/model-index';
import { addressOf } from '../../core/addresses/addresses';
import { addressOfArchive } from '../../core/addresses/archives';
import { BY, taxonomyBase } from '../../core/base/reserved';
import { loadRecords } from '../queries/load';
import { placeOf } from '../../core/addresses/places';
import { recordsAtSlugs } from '../queries/records';
import { redirectOf, formerOwnersOfSlug } from '../queries/redirects';
import { nextOf } from '../services/redirects';

/** Where the page of a record is now that had this slug before; undefined where there is none to be seen. */
export async function recordMoved(typeId: string, slug: string, model: ModelIndex): Promise<string | undefined> {
  const ids = (await formerOwnersOfSlug('record', typeId, slug)).map(Number);
  const records = await loadRecords(model, ids, { drafts: false });
  const found = ids.map((id) => records.find((record) => record.id === id)).find(Boolean);
  return found && addressOf(found, model);
}

/** Where something is now whose address nothing answers: an archive whose slug has changed, or what was written down. */
export async function pageMoved(path: string, model: ModelIndex): Promise<string | undefined> {
  const parts = path.split('/').filter(Boolean);
  const paged = parts.length > 2 && parts.at(-2) === 'page' ? Number(parts.at(-1)) : 1;
  const [base = '', slug = '', ...more] = paged > 1 ? parts.slice(0, -2) : parts;
  if (slug && !more.length) {
    if (base === BY) {
      const [id] = await formerOwnersOfSlug('author', '', slug);
      if (id && model.author(Number(id))) return addressOfArchive({ of: 'author', authorId: Number(id) }, model, paged);
    }
    const taxonomy = model.taxonomies.find(({ key }) => taxonomyBase(key) === base);
    const [id] = taxonomy ? await formerOwnersOfSlug('term', taxonomy.id, slug) : [];
    if (id && model.term(id)) return addressOfArchive({ of: 'term', termId: id }, model, paged);
  }
  return redirectFrom(path, model);
}

/** So many redirects may lead to one another. */
const LONGEST_CHAIN = 50;

/**
 * Where a redirect that was written down leads from an address, over others that it leads to, but never past a page that
 * is there; a slash at the end makes no difference.
 */
async function redirectFrom(path: string, model: ModelIndex): Promise<string | undefined> {
  let target = await redirectOf((path.length > 1 ? path.replace(/\/+$/, '') : path).slice(0, 500));
  for (let n = 0; target !== undefined && n < LONGEST_CHAIN; n++) {
    const next = nextOf(target);
    if (next === undefined || (await isThere(next, model))) return target;
    const further = await redirectOf(next.slice(0, 500));
    if (further === undefined) return target;
    target = further;
  }
  return target;
}

/** Whether something stands at an address by itself, without a redirect that was written down. */
async function isThere(path: string, model: ModelIndex): Promise<boolean> {
  const place = placeOf(path, model);
  if (place.at === 'record')
    return (await recordsAtSlugs(place.typeId, [place.slug])).some(({ status }) => status === 'published');
  return place.at !== 'nowhere';
}
