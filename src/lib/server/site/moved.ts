import type { Transaction } from 'sequelize';
import type { ModelIndex } from '../../core/model/model-index';
import { addressOf } from '../../core/addresses/addresses';
import { addressOfArchive } from '../../core/addresses/archives';
import { BY, taxonomyBase } from '../../core/base/reserved';
import { select } from '../database/connect';
import { loadRecords } from '../queries/load';
import type { SlugKind } from '../services/former';

/** Who had this slug before, the last one first. */
async function hadSlug(kind: SlugKind, within: string, slug: string, transaction?: Transaction): Promise<string[]> {
  const rows = await select<{ id: string }>(
    'SELECT target_id AS id FROM former_slugs WHERE kind = ? AND within = ? AND slug = ? ORDER BY created DESC LIMIT 5',
    [kind, within, slug],
    transaction,
  );
  return rows.map(({ id }) => id);
}

/** Where the page of a record is now that had this slug before; undefined where there is none to be seen. */
export async function recordMoved(typeId: string, slug: string, model: ModelIndex): Promise<string | undefined> {
  const ids = (await hadSlug('record', typeId, slug)).map(Number);
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
      const [id] = await hadSlug('author', '', slug);
      if (id && model.author(Number(id))) return addressOfArchive({ of: 'author', authorId: Number(id) }, model, paged);
    }
    const taxonomy = model.taxonomies.find(({ key }) => taxonomyBase(key) === base);
    const [id] = taxonomy ? await hadSlug('term', taxonomy.id, slug) : [];
    if (id && model.term(id)) return addressOfArchive({ of: 'term', termId: id }, model, paged);
  }
  return redirectFrom(path);
}

/** Where a redirect that was written down leads from an address; a slash at the end makes no difference. */
async function redirectFrom(path: string): Promise<string | undefined> {
  const bare = path.length > 1 ? path.replace(/\/+$/, '') : path;
  const [row] = await select<{ target: string }>('SELECT target FROM redirects WHERE path = ?', [bare.slice(0, 500)]);
  return row?.target;
}
