import { z } from 'zod';
import { newId } from '../../../core/base/ids';
import { notFound, Refusal } from '../../refusal';
import { deleteAuthor, saveAuthor } from '../../services/authors';
import { readModel } from '../../services/model';
import { deleteTaxonomy, deleteTerm, mergeTerms, moveTerm, saveTaxonomy, saveTerm } from '../../services/taxonomies';
import { numberOf } from '../http';
import { at, operation, type Operation } from '../operation';
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
const authorNumbered = async (id: string | undefined) => {
  const author = (await readModel()).author(numberOf(id ?? ''));
  if (!author) throw notFound('author with this number');
  return author;
};
const designs = { tag: 'Terms', who: 'designer', touches: 'design' } as const;
const edits = { tag: 'Terms', who: 'editor', touches: 'content' } as const;
const authors_ = { tag: 'Authors', who: 'editor', touches: 'content' } as const;
const refuseSecond = (what: string) => (known: unknown) => {
  if (known) throw new Refusal(409, `There is a ${what} with this id already.`);
};
const TermsAsked = Pages.extend({ taxonomy: z.string().max(40).optional() });

export const terms: Operation[] = [
  operation<Pages, undefined>({
    ...{ ...at('GET /taxonomies'), id: 'listTaxonomies', tag: 'Terms', who: 'reader', summary: 'The taxonomies' },
    ...{ query: Pages, answers: 'Taxonomy', lists: true, status: 200 },
    run: async ({ query }) => paged((await readModel()).taxonomies, query),
  }),
  operation({
    ...{
      ...at('POST /taxonomies'),
      id: 'createTaxonomy',
      did: 'Made the taxonomy “{name}”',
      ...designs,
      summary: 'A new taxonomy',
    },
    ...{ body: 'Taxonomy', checkedBy: 'service', answers: 'Taxonomy', status: 201, refuses: [409] },
    run: ({ body }) => saveTaxonomy(body, refuseSecond('taxonomy')),
  }),
  operation({
    ...{
      ...at('GET /taxonomies/{taxonomyId}'),
      id: 'readTaxonomy',
      tag: 'Terms',
      who: 'reader',
      summary: 'One taxonomy',
    },
    ...{ answers: 'Taxonomy', status: 200 },
    run: ({ params }) => taxonomyNamed(params.taxonomyId),
  }),
  operation({
    ...{
      ...at('PUT /taxonomies/{taxonomyId}'),
      id: 'saveTaxonomy',
      did: 'Changed the taxonomy “{name}”',
      ...designs,
      summary: 'A taxonomy in another state',
    },
    ...{ body: 'Taxonomy', checkedBy: 'service', answers: 'Taxonomy', status: 200, refuses: [409] },
    current: ({ taxonomyId }) => taxonomyNamed(taxonomyId),
    run: ({ params, body, guard }) => {
      sameId(body, params.taxonomyId, 'taxonomy');
      return saveTaxonomy(body, guard);
    },
  }),
  operation({
    ...{
      ...at('DELETE /taxonomies/{taxonomyId}'),
      id: 'deleteTaxonomy',
      did: 'Deleted the taxonomy “{name}”',
      ...designs,
      summary: 'Deletes a taxonomy with its terms',
    },
    ...{ answers: 'Removal', status: 200 },
    current: ({ taxonomyId }) => taxonomyNamed(taxonomyId),
    run: ({ params, guard }) => deleteTaxonomy(params.taxonomyId ?? '', guard),
  }),
  operation<z.infer<typeof TermsAsked>, undefined>({
    ...{
      ...at('GET /terms'),
      id: 'listTerms',
      tag: 'Terms',
      who: 'reader',
      summary: 'Terms, each before those below it',
    },
    ...{ query: TermsAsked, answers: 'Term', lists: true, status: 200 },
    run: async ({ query }) => {
      const model = await readModel();
      const wanted = model.taxonomies.filter(({ id }) => !query.taxonomy || query.taxonomy === id);
      const all = wanted.flatMap(({ id }) => model.termsOf(id));
      return paged(all, query);
    },
  }),
  operation<never, { id?: string } | null>({
    ...{ ...at('POST /terms'), id: 'createTerm', did: 'Made the term “{name}”', ...edits, summary: 'A new term' },
    ...{ body: 'NewTerm', checkedBy: 'service', answers: 'Term', status: 201, refuses: [409] },
    run: ({ body }) => saveTerm({ ...body, id: body?.id || newId('term') }, refuseSecond('term')),
  }),
  operation({
    ...{ ...at('GET /terms/{termId}'), id: 'readTerm', tag: 'Terms', who: 'reader', summary: 'One term' },
    ...{ answers: 'Term', status: 200 },
    run: ({ params }) => termNamed(params.termId),
  }),
  operation({
    ...{
      ...at('PUT /terms/{termId}'),
      id: 'saveTerm',
      did: 'Changed the term “{name}”',
      ...edits,
      summary: 'A term in another state',
    },
    ...{ body: 'Term', checkedBy: 'service', answers: 'Term', status: 200, refuses: [409] },
    current: ({ termId }) => termNamed(termId),
    run: ({ params, body, guard }) => {
      sameId(body, params.termId, 'term');
      return saveTerm(body, guard);
    },
  }),
  operation<{ records?: string }, undefined>({
    ...{
      ...at('DELETE /terms/{termId}'),
      id: 'deleteTerm',
      did: 'Deleted the term “{name}”',
      ...edits,
      summary: 'Deletes a term',
    },
    description: 'Terms below move up; its records go to the term named in `records`, or lose it.',
    query: z.object({ records: z.string().max(40).optional() }),
    ...{ answers: 'Removal', status: 200 },
    current: ({ termId }) => termNamed(termId),
    run: ({ params, query, guard }) => deleteTerm(params.termId ?? '', { records: query.records ?? null }, guard),
  }),
  operation<never, { into: string }>({
    ...{
      ...at('POST /terms/{termId}/merge'),
      id: 'mergeTerm',
      did: 'Merged a term into another one',
      ...edits,
      summary: 'Makes one term of two',
    },
    ...{ body: 'TermMergeAsked', answers: 'Removal', status: 200 },
    run: ({ params, body }) => mergeTerms(params.termId ?? '', body.into),
  }),
  operation({
    ...{
      ...at('POST /terms/{termId}/move'),
      id: 'moveTerm',
      did: 'Moved a term',
      ...edits,
      summary: 'Moves a term with all below it',
    },
    ...{ body: 'TermMoveAsked', checkedBy: 'service', status: 204 },
    run: ({ params, body }) => moveTerm(params.termId ?? '', body),
  }),
  operation<Pages, undefined>({
    ...{ ...at('GET /authors'), id: 'listAuthors', tag: 'Authors', who: 'reader', summary: 'Who writes' },
    ...{ query: Pages, answers: 'Author', lists: true, status: 200 },
    run: async ({ query }) => paged((await readModel()).authors, query),
  }),
  operation<never, object>({
    ...{
      ...at('POST /authors'),
      id: 'createAuthor',
      did: 'Made the author “{name}”',
      ...authors_,
      summary: 'A new author',
    },
    ...{ body: 'NewAuthor', checkedBy: 'service', answers: 'Author', status: 201, refuses: [409] },
    run: ({ body }) => saveAuthor({ ...body, id: undefined }),
  }),
  operation({
    ...{ ...at('GET /authors/{authorId}'), id: 'readAuthor', tag: 'Authors', who: 'reader', summary: 'One author' },
    ...{ answers: 'Author', status: 200 },
    run: ({ params }) => authorNumbered(params.authorId),
  }),
  operation<never, object>({
    ...{
      ...at('PUT /authors/{authorId}'),
      id: 'saveAuthor',
      did: 'Changed the author “{name}”',
      ...authors_,
      summary: 'An author in another state',
    },
    ...{ body: 'NewAuthor', checkedBy: 'service', answers: 'Author', status: 200, refuses: [409] },
    current: ({ authorId }) => authorNumbered(authorId),
    run: ({ params, body, guard }) => saveAuthor({ ...body, id: numberOf(params.authorId ?? '') }, guard),
  }),
  operation({
    ...{
      ...at('DELETE /authors/{authorId}'),
      id: 'deleteAuthor',
      did: 'Deleted the author “{name}”',
      ...authors_,
      summary: 'Deletes an author; records stay, by nobody',
    },
    ...{ answers: 'Removal', status: 200 },
    current: ({ authorId }) => authorNumbered(authorId),
    run: ({ params, guard }) => deleteAuthor(numberOf(params.authorId ?? ''), guard),
  }),
];
