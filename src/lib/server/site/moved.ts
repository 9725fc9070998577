import type { ModelIndex } from '../../core/model/model-index';
import { addressOf } from '../../core/addresses/addresses';
import { addressOfArchive } from '../../core/addresses/archives';
import { BY, taxonomyBase } from '../../core/base/reserved';
import { loadRecords } from '../queries/load';
import { redirectOf, whoHadSlug } from '../queries/redirects';

/** Where the page of a record is now that had this slug before; undefined where there is none to be seen. */
export async function recordMoved(typeId: string, slug: string, model: ModelIndex): Promise<string | undefined> {
  const ids = (await whoHadSlug('record', typeId, slug)).map(Number);
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
      const [id] = await whoHadSlug('author', '', slug);
      if (id && model.author(Number(id))) return addressOfArchive({ of: 'author', authorId: Number(id) }, model, paged);
    }
    const taxonomy = model.taxonomies.find(({ key }) => taxonomyBase(key) === base);
    const [id] = taxonomy ? await whoHadSlug('term', taxonomy.id, slug) : [];
    if (id && model.term(id)) return addressOfArchive({ of: 'term', termId: id }, model, paged);
  }
  return redirectFrom(path);
}

/** Where a redirect that was written down leads from an address; a slash at the end makes no difference. */
async function redirectFrom(path: string): Promise<string | undefined> {
  const bare = path.length > 1 ? path.replace(/\/+$/, '') : path;
  return redirectOf(bare.slice(0, 500));
}
