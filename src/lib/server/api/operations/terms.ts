import { z } from 'zod';
import { newId } from '../../../core/base/ids';
import { notFound, Refusal } from '../../base/refusal';
import { deleteAuthor, saveAuthor } from '../../services/authors';
import { readModel } from '../../services/model';
import { deleteTaxonomy, deleteTerm, mergeTerms, moveTerm, saveTaxonomy, saveTerm } from '../../services/taxonomies';
import { taxonomyExample, termExample } from '../examples';
import { operation } from '../operation';
import { schemas } from '../schemas';
import { Pages, paged, sameId } from './common';

const termNamed = async (id: string | undefined) => {
  const term = (await readModel()).term(id ?? '');
  if (!term) throw notFound('term with this id');
  return term;
};
const taxonomyNamed = async (id: string | undefined) => {
  const taxonomy = (await readModel()).taxonomy(id ?? '');
  if (!taxonomy) throw notFound('taxonomy with this id');
  return taxonomy;
};
const authorNumbered = async (id: number) => {
  const author = (await readModel()).author(id);
  if (!author) throw notFound('author with this number');
  return author;
};
const designs = { tag: 'Terms', requiredRole: 'designer', touches: 'design' } as const;
const edits = { tag: 'Terms', requiredRole: 'editor', touches: 'content' } as const;
const authors_ = { tag: 'Authors', requiredRole: 'editor', touches: 'content' } as const;
const refuseSecond = (what: string) => (known: unknown) => {
  if (known) throw new Refusal(409, `There is a ${what} with this id already.`);
};
const TermsQuery = Pages.extend({ taxonomy: z.string().max(40).optional() });

export const terms = [
  operation('GET /taxonomies', {
    id: 'listTaxonomies',
    tag: 'Terms',
    requiredRole: 'reader',
    summary: 'The taxonomies',
    query: Pages,
    response: schemas.Taxonomy,
    lists: true,
    status: 200,
    run: async ({ query }) => paged((await readModel()).taxonomies, query),
  }),
  operation('POST /taxonomies', {
    id: 'createTaxonomy',
    activity: 'Made the taxonomy “{name}”',
    ...designs,
    summary: 'A new taxonomy',
    body: schemas.Taxonomy,
    example: taxonomyExample,
    refusal: 'The taxonomy is not complete.',
    response: schemas.Taxonomy,
    status: 201,
    refuses: [409],
    run: ({ body }) => saveTaxonomy(body, refuseSecond('taxonomy')),
  }),
  operation('GET /taxonomies/{taxonomyId}', {
    id: 'readTaxonomy',
    tag: 'Terms',
    requiredRole: 'reader',
    summary: 'One taxonomy',
    response: schemas.Taxonomy,
    status: 200,
    run: ({ params }) => taxonomyNamed(params.taxonomyId),
  }),
  operation('PUT /taxonomies/{taxonomyId}', {
    id: 'saveTaxonomy',
    activity: 'Changed the taxonomy “{name}”',
    ...designs,
    summary: 'A taxonomy in another state',
    body: schemas.Taxonomy,
    example: taxonomyExample,
    refusal: 'The taxonomy is not complete.',
    response: schemas.Taxonomy,
    status: 200,
    refuses: [409],
    current: ({ taxonomyId }) => taxonomyNamed(taxonomyId),
    run: ({ params, body, guard }) => {
      sameId(body, params.taxonomyId, 'taxonomy');
      return saveTaxonomy(body, guard);
    },
  }),
  operation('DELETE /taxonomies/{taxonomyId}', {
    id: 'deleteTaxonomy',
    activity: 'Deleted the taxonomy “{name}”',
    ...designs,
    summary: 'Deletes a taxonomy with its terms',
    response: schemas.Removal,
    status: 200,
    current: ({ taxonomyId }) => taxonomyNamed(taxonomyId),
    run: ({ params, guard }) => deleteTaxonomy(params.taxonomyId, guard),
  }),
  operation('GET /terms', {
    id: 'listTerms',
    tag: 'Terms',
    requiredRole: 'reader',
    summary: 'Terms, each before those below it',
    query: TermsQuery,
    response: schemas.Term,
    lists: true,
    status: 200,
    run: async ({ query }) => {
      const model = await readModel();
      const wanted = model.taxonomies.filter(({ id }) => !query.taxonomy || query.taxonomy === id);
      const all = wanted.flatMap(({ id }) => model.termsOf(id));
      return paged(all, query);
    },
  }),
  operation('POST /terms', {
    id: 'createTerm',
    activity: 'Made the term “{name}”',
    ...edits,
    summary: 'A new term',
    body: schemas.NewTerm,
    example: { taxonomyId: 'region', name: 'North' },
    refusal: 'The term is not complete.',
    response: schemas.Term,
    status: 201,
    refuses: [409],
    run: ({ body }) => saveTerm({ ...body, id: body?.id || newId('term') }, refuseSecond('term')),
  }),
  operation('GET /terms/{termId}', {
    id: 'readTerm',
    tag: 'Terms',
    requiredRole: 'reader',
    summary: 'One term',
    response: schemas.Term,
    status: 200,
    run: ({ params }) => termNamed(params.termId),
  }),
  operation('PUT /terms/{termId}', {
    id: 'saveTerm',
    activity: 'Changed the term “{name}”',
    ...edits,
    summary: 'A term in another state',
    body: schemas.Term,
    example: termExample,
    refusal: 'The term is not complete.',
    response: schemas.Term,
    status: 200,
    refuses: [409],
    current: ({ termId }) => termNamed(termId),
    run: ({ params, body, guard }) => {
      sameId(body, params.termId, 'term');
      return saveTerm(body, guard);
    },
  }),
  operation('DELETE /terms/{termId}', {
    id: 'deleteTerm',
    activity: 'Deleted the term “{name}”',
    ...edits,
    summary: 'Deletes a term',
    description: 'Terms below move up; its records go to the term named in `records`, or lose it.',
    query: z.object({ records: z.string().max(40).optional() }),
    response: schemas.Removal,
    status: 200,
    current: ({ termId }) => termNamed(termId),
    run: ({ params, query, guard }) => deleteTerm(params.termId, { records: query.records ?? null }, guard),
  }),
  operation('POST /terms/{termId}/merge', {
    id: 'mergeTerm',
    activity: 'Merged a term into another one',
    ...edits,
    summary: 'Makes one term of two',
    body: schemas.TermMergeRequest,
    example: { into: 'north' },
    response: schemas.Removal,
    status: 200,
    run: ({ params, body }) => mergeTerms(params.termId, body.into),
  }),
  operation('POST /terms/{termId}/move', {
    id: 'moveTerm',
    activity: 'Moved a term',
    ...edits,
    summary: 'Moves a term with all below it',
    body: schemas.TermMoveRequest,
    example: { parentId: null, at: 0 },
    refusal: 'The term cannot be moved so.',
    status: 204,
    run: ({ params, body }) => moveTerm(params.termId, body),
  }),
  operation('GET /authors', {
    id: 'listAuthors',
    tag: 'Authors',
    requiredRole: 'reader',
    summary: 'Who writes',
    query: Pages,
    response: schemas.Author,
    lists: true,
    status: 200,
    run: async ({ query }) => paged((await readModel()).authors, query),
  }),
  operation('POST /authors', {
    id: 'createAuthor',
    activity: 'Made the author “{name}”',
    ...authors_,
    summary: 'A new author',
    body: schemas.NewAuthor,
    example: { name: 'Ada Ash' },
    refusal: 'The author is not complete.',
    response: schemas.Author,
    status: 201,
    refuses: [409],
    run: ({ body }) => saveAuthor({ ...body, id: undefined }),
  }),
  operation('GET /authors/{authorId}', {
    id: 'readAuthor',
    tag: 'Authors',
    requiredRole: 'reader',
    summary: 'One author',
    response: schemas.Author,
    status: 200,
    run: ({ params }) => authorNumbered(params.authorId),
  }),
  operation('PUT /authors/{authorId}', {
    id: 'saveAuthor',
    activity: 'Changed the author “{name}”',
    ...authors_,
    summary: 'An author in another state',
    body: schemas.NewAuthor,
    example: { name: 'Ada Ash', about: 'Warden of the ridge.' },
    refusal: 'The author is not complete.',
    response: schemas.Author,
    status: 200,
    refuses: [409],
    current: ({ authorId }) => authorNumbered(authorId),
    run: ({ params, body, guard }) => saveAuthor({ ...body, id: params.authorId }, guard),
  }),
  operation('DELETE /authors/{authorId}', {
    id: 'deleteAuthor',
    activity: 'Deleted the author “{name}”',
    ...authors_,
    summary: 'Deletes an author; records stay, by nobody',
    response: schemas.Removal,
    status: 200,
    current: ({ authorId }) => authorNumbered(authorId),
    run: ({ params, guard }) => deleteAuthor(params.authorId, guard),
  }),
] as const;
