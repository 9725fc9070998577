import { z } from 'zod';
import { AuthorSchema, Slug, type Author } from '../../core/schema/model';
import { problem } from '../../core/base/result';
import { slugOf } from '../../core/base/text';
import { inTransaction } from '../database/connect';
import { insertAuthor, slugOfAuthor, updateAuthor } from '../queries/model';
import { notFound, Refusal, type Guard } from '../base/refusal';
import { cleanHtml } from './html';
import { idsThere, takeAuthorOff } from '../queries/records';
import { noteFormerSlug } from '../queries/redirects';
import { lockSite, modelMoved } from '../queries/site';
import { authorSlugs } from '../queries/taxonomies';
import { readModel } from './model';
import { summed, thereByType } from './there';
import { beginRemoval, sweep } from './removal';

export const AuthorRequest = AuthorSchema.extend({
  id: AuthorSchema.shape.id.optional(),
  slug: Slug.or(z.literal('')).default(''),
});

/** Creates an author, or brings one to this state. */
export async function saveAuthor(input: z.output<typeof AuthorRequest>, guard?: Guard): Promise<Author> {
  const { id, name, pictureId } = input;
  return inTransaction(async (transaction) => {
    await lockSite(transaction);
    if (id !== undefined) guard?.((await readModel(transaction)).author(id));
    if (pictureId && !(await idsThere('media', [pictureId], transaction)).size)
      throw new Refusal(422, 'The author is not complete.', [
        problem('pictureId', 'There is no such picture in the library.', 'Choose another one.'),
      ]);
    const taken = new Set(await authorSlugs(id ?? 0, transaction));
    let slug = input.slug;
    if (slug && taken.has(slug))
      throw new Refusal(409, 'The address part is taken.', [
        problem('slug', 'Another author has it.', 'Choose another one.'),
      ]);
    const base = slugOf(name) || 'author';
    for (let n = 1; !slug; n++) if (!taken.has(n === 1 ? base : `${base}-${n}`)) slug = n === 1 ? base : `${base}-${n}`;
    const row = { name, slug, about: cleanHtml(input.about), pictureId };
    const before = id === undefined ? undefined : await slugOfAuthor(id, transaction);
    if (id !== undefined && before === undefined) throw notFound('author with this number');
    if (id !== undefined && before !== undefined && before !== slug)
      await noteFormerSlug('author', '', before, id, transaction);
    if (id !== undefined) await updateAuthor(id, row, transaction);
    const own = id ?? (await insertAuthor(row, transaction));
    await modelMoved(transaction);
    return AuthorSchema.parse({ ...row, id: own });
  });
}

/** Deletes an author; records stay, by nobody. */
export async function deleteAuthor(id: number, guard?: Guard): Promise<{ removal: string }> {
  const author = (await readModel()).author(id);
  if (!author) throw notFound('author with this number');
  return inTransaction(async (transaction) => {
    await lockSite(transaction);
    guard?.((await readModel(transaction)).author(id));
    const removal = await beginRemoval(`author “${author.name}”`, transaction);
    await sweep(
      removal,
      [
        { table: 'records', column: 'author_id', values: [id], stay: true },
        { table: 'authors', column: 'id', values: [id] },
      ],
      transaction,
    );
    await takeAuthorOff(id, transaction);
    await modelMoved(transaction);
    return { removal };
  });
}

export async function authorCounts(): Promise<Record<number, number>> {
  const there = await thereByType(await readModel(), { drafts: true });
  return Object.fromEntries(summed(there.values(), ({ authors }) => authors));
}
