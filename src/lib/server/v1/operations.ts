import { z } from 'zod';
import { newId } from '../../core/base/ids';
import type { ContentType, Term } from '../../core/schema/model';
import type { RecordChange } from '../../core/content/validate';
import type { Target } from '../../core/schema/target';
import type { Template, Purpose } from '../../core/schema/template';
import type { Tree } from '../../core/schema/element';
import { fileName, numberOf, pieces } from '../api';
import { notFound, Refusal } from '../refusal';
import { recordTable } from '../services/lists';
import { addMedia, changeMedia, deleteMedia, listMedia, readMedia } from '../services/media';
import { readModel } from '../services/model';
import { changeRecord, createRecord, deleteRecords, readRecord } from '../services/records';
import { goBack, readReleases, release } from '../services/releases';
import { deleteTerm, saveTerm } from '../services/taxonomies';
import { createTemplate, deleteTemplate, readTemplate, readTemplates, saveTemplate } from '../services/templates';
import { deleteContentType, saveContentType } from '../services/types';
import { answer } from '../site/respond';
import { operation, type Listed, type Operation } from './operation';

const Pages = z.object({
  page: z.coerce.number().int().min(1).max(200_000).default(1),
  per_page: z.coerce.number().int().min(1).max(200).default(50),
});
type Pages = z.infer<typeof Pages>;

/** A page of a list that is at hand as a whole. */
const paged = <T>(all: readonly T[], { page, per_page: perPage }: Pages): Listed => ({
  items: all.slice((page - 1) * perPage, page * perPage),
  total: all.length,
  page,
  perPage,
});

const typeNamed = async (id: string): Promise<ContentType> => {
  const type = (await readModel()).type(id);
  if (!type) throw notFound('content type with this id');
  return type;
};
const recordNumbered = async (id: string) => {
  const record = await readRecord(numberOf(id));
  if (!record) throw notFound(`record ${id}`);
  return record;
};
const termNamed = async (id: string): Promise<Term> => {
  const term = (await readModel()).term(id);
  if (!term) throw notFound('term with this id');
  return term;
};
const releaseNumbered = async (id: string) => {
  const found = (await readReleases(100_000)).find((one) => one.id === numberOf(id));
  if (!found) throw notFound('release with this number');
  return found;
};
const sameId = (own: string, given: string, what: string) => {
  if (own !== given) throw new Refusal(422, `The ${what} has another id than its address.`);
};

const types: Operation[] = [
  operation<Pages, undefined>({
    ...{ method: 'GET', path: '/types', id: 'listTypes', tag: 'Types', summary: 'The content types with their fields' },
    ...{ query: Pages, answers: 'ContentType', lists: true, status: 200 },
    run: async ({ query }) => paged((await readModel()).types, query),
  }),
  operation<never, ContentType>({
    ...{ method: 'POST', path: '/types', id: 'createType', tag: 'Types', summary: 'A new content type' },
    ...{ body: 'ContentType', answers: 'ContentType', status: 201, refuses: [409] },
    run: async ({ body }) => {
      if ((await readModel()).type(body.id)) throw new Refusal(409, 'There is a content type with this id already.');
      return saveContentType(body);
    },
  }),
  operation({
    ...{ method: 'GET', path: '/types/{typeId}', id: 'readType', tag: 'Types', summary: 'One content type' },
    ...{ answers: 'ContentType', status: 200 },
    run: ({ params }) => typeNamed(params.typeId ?? ''),
  }),
  operation<never, ContentType>({
    ...{
      method: 'PUT',
      path: '/types/{typeId}',
      id: 'saveType',
      tag: 'Types',
      summary: 'A content type in another state',
    },
    description:
      'Fields are known by id. Those left out are taken away; values of fields of another kind are converted.',
    ...{ body: 'ContentType', answers: 'ContentType', status: 200, refuses: [409] },
    current: ({ typeId }) => typeNamed(typeId ?? ''),
    run: ({ params, body }) => {
      sameId(params.typeId ?? '', body.id, 'content type');
      return saveContentType(body);
    },
  }),
  operation({
    ...{ method: 'DELETE', path: '/types/{typeId}', id: 'deleteType', tag: 'Types', status: 204 },
    summary: 'Deletes a content type with its records',
    current: ({ typeId }) => typeNamed(typeId ?? ''),
    run: ({ params }) => deleteContentType(params.typeId ?? ''),
  }),
];

const RecordsAsked = Pages.extend({
  type: z.string().max(40),
  search: z.string().max(200).default(''),
  /** A step, such as `@title` or a field’s id; `-` before it for downwards. */
  sort: z.string().max(81).default('@title'),
});

const records: Operation[] = [
  operation<z.infer<typeof RecordsAsked>, undefined>({
    ...{ method: 'GET', path: '/records', id: 'listRecords', tag: 'Records', summary: 'Records of a type, drafts too' },
    ...{ query: RecordsAsked, answers: 'Record', lists: true, status: 200 },
    run: async ({ query: { type, search, sort, page, per_page: perPage } }) => {
      const order = { step: sort.replace(/^-/, ''), down: sort.startsWith('-') };
      const table = await recordTable(type, { search, order, limit: perPage, offset: (page - 1) * perPage });
      return { items: table.records, total: table.total, page, perPage };
    },
  }),
  operation<never, RecordChange & { typeId: string }>({
    ...{ method: 'POST', path: '/records', id: 'createRecord', tag: 'Records', summary: 'A new record' },
    ...{ body: 'NewRecord', answers: 'Record', status: 201, refuses: [409] },
    run: ({ body: { typeId, ...change } }) => createRecord(typeId, change),
  }),
  operation({
    ...{ method: 'GET', path: '/records/{recordId}', id: 'readRecord', tag: 'Records', summary: 'One record' },
    ...{ answers: 'Record', status: 200 },
    run: ({ params }) => recordNumbered(params.recordId ?? ''),
  }),
  operation<never, RecordChange>({
    ...{ method: 'PATCH', path: '/records/{recordId}', id: 'changeRecord', tag: 'Records', status: 200 },
    summary: 'Changes a record',
    description: 'What is left out stays as it is; null takes a value away.',
    ...{ body: 'RecordChange', answers: 'Record', refuses: [409] },
    current: ({ recordId }) => recordNumbered(recordId ?? ''),
    run: async ({ params, body }) => {
      const { id, version } = await recordNumbered(params.recordId ?? '');
      return changeRecord(id, { ...body, version });
    },
  }),
  operation({
    ...{ method: 'DELETE', path: '/records/{recordId}', id: 'deleteRecord', tag: 'Records', status: 204 },
    summary: 'Deletes a record, with every link to it',
    current: ({ recordId }) => recordNumbered(recordId ?? ''),
    run: ({ params }) => deleteRecords([numberOf(params.recordId ?? '')]),
  }),
];

const TermsAsked = Pages.extend({ taxonomy: z.string().max(40).optional() });

const terms: Operation[] = [
  operation<Pages, undefined>({
    ...{ method: 'GET', path: '/taxonomies', id: 'listTaxonomies', tag: 'Terms', summary: 'The taxonomies' },
    ...{ query: Pages, answers: 'Taxonomy', lists: true, status: 200 },
    run: async ({ query }) => paged((await readModel()).taxonomies, query),
  }),
  operation<z.infer<typeof TermsAsked>, undefined>({
    ...{ method: 'GET', path: '/terms', id: 'listTerms', tag: 'Terms', summary: 'Terms, each before those below it' },
    ...{ query: TermsAsked, answers: 'Term', lists: true, status: 200 },
    run: async ({ query }) => {
      const model = await readModel();
      const wanted = model.taxonomies.filter(({ id }) => !query.taxonomy || query.taxonomy === id);
      return paged(
        wanted.flatMap(({ id }) => model.termsOf(id)),
        query,
      );
    },
  }),
  operation<never, Term>({
    ...{ method: 'POST', path: '/terms', id: 'createTerm', tag: 'Terms', summary: 'A new term' },
    ...{ body: 'NewTerm', answers: 'Term', status: 201, refuses: [409] },
    run: async ({ body }) => {
      if ((await readModel()).term(body.id)) throw new Refusal(409, 'There is a term with this id already.');
      return saveTerm({ ...body, id: body.id || newId('term') });
    },
  }),
  operation({
    ...{ method: 'GET', path: '/terms/{termId}', id: 'readTerm', tag: 'Terms', summary: 'One term' },
    ...{ answers: 'Term', status: 200 },
    run: ({ params }) => termNamed(params.termId ?? ''),
  }),
  operation<never, Term>({
    ...{ method: 'PUT', path: '/terms/{termId}', id: 'saveTerm', tag: 'Terms', summary: 'A term in another state' },
    ...{ body: 'Term', answers: 'Term', status: 200, refuses: [409] },
    current: ({ termId }) => termNamed(termId ?? ''),
    run: ({ params, body }) => {
      sameId(params.termId ?? '', body.id, 'term');
      return saveTerm(body);
    },
  }),
  operation({
    ...{ method: 'DELETE', path: '/terms/{termId}', id: 'deleteTerm', tag: 'Terms', status: 204 },
    summary: 'Deletes a term; records lose it',
    current: ({ termId }) => termNamed(termId ?? ''),
    run: ({ params }) => deleteTerm(params.termId ?? '', {}),
  }),
];

const MediaAsked = Pages.extend({ search: z.string().max(200).default('') });

const media: Operation[] = [
  operation<z.infer<typeof MediaAsked>, undefined>({
    ...{
      method: 'GET',
      path: '/media',
      id: 'listMedia',
      tag: 'Media',
      summary: 'Pictures and files, the newest first',
    },
    ...{ query: MediaAsked, answers: 'Media', lists: true, status: 200 },
    run: async ({ query: { search, page, per_page: perPage } }) => {
      const found = await listMedia({ search, limit: perPage, offset: (page - 1) * perPage });
      return { items: found.media, total: found.total, page, perPage };
    },
  }),
  operation<{ name: string; alt: string }, undefined>({
    ...{ method: 'POST', path: '/media', id: 'addMedia', tag: 'Media', summary: 'A new picture or file' },
    description: 'The body is the file itself. The same content is kept once, under one number.',
    query: z.object({ name: z.string().min(1).max(200), alt: z.string().max(500).default('') }),
    ...{ body: 'file', answers: 'Media', status: 201, refuses: [413] },
    run: async ({ query, request }) => {
      const { again: _, ...kept } = await addMedia(
        fileName(new URL(request.url), query.name),
        pieces(request),
        query.alt,
      );
      return kept;
    },
  }),
  operation({
    ...{ method: 'GET', path: '/media/{mediaId}', id: 'readMedia', tag: 'Media', summary: 'What is known of one' },
    ...{ answers: 'Media', status: 200 },
    run: ({ params }) => readMedia(numberOf(params.mediaId ?? '')),
  }),
  operation({
    ...{ method: 'PATCH', path: '/media/{mediaId}', id: 'changeMedia', tag: 'Media', status: 200 },
    summary: 'Changes name, alternative text or focal point',
    ...{ body: 'MediaChange', answers: 'Media' },
    current: ({ mediaId }) => readMedia(numberOf(mediaId ?? '')),
    run: ({ params, body }) => changeMedia(numberOf(params.mediaId ?? ''), body),
  }),
  operation({
    ...{ method: 'DELETE', path: '/media/{mediaId}', id: 'deleteMedia', tag: 'Media', status: 204 },
    summary: 'Deletes one, and takes it out of the records that show it',
    current: ({ mediaId }) => readMedia(numberOf(mediaId ?? '')),
    run: ({ params }) => deleteMedia([numberOf(params.mediaId ?? '')]),
  }),
];

interface NewTemplate {
  name: string;
  purpose: Purpose;
  serves: Target[];
  except?: Target[];
  ready: boolean;
  tree?: Tree;
}

const templates: Operation[] = [
  operation<Pages, undefined>({
    ...{
      method: 'GET',
      path: '/templates',
      id: 'listTemplates',
      tag: 'Templates',
      summary: 'Templates in their order',
    },
    ...{ query: Pages, answers: 'Template', lists: true, status: 200 },
    run: async ({ query }) => paged(await readTemplates(), query),
  }),
  operation<never, NewTemplate>({
    ...{ method: 'POST', path: '/templates', id: 'createTemplate', tag: 'Templates', summary: 'A new template' },
    ...{ body: 'NewTemplate', answers: 'Template', status: 201 },
    run: ({ body }) => createTemplate(body),
  }),
  operation({
    ...{
      method: 'GET',
      path: '/templates/{templateId}',
      id: 'readTemplate',
      tag: 'Templates',
      summary: 'One template',
    },
    ...{ answers: 'Template', status: 200 },
    run: ({ params }) => readTemplate(params.templateId ?? ''),
  }),
  operation<never, Template>({
    ...{ method: 'PUT', path: '/templates/{templateId}', id: 'saveTemplate', tag: 'Templates', status: 200 },
    summary: 'A template in another state; visitors see it with the next release',
    ...{ body: 'Template', answers: 'Template', refuses: [409] },
    current: ({ templateId }) => readTemplate(templateId ?? ''),
    run: async ({ params, body }) => (await saveTemplate(params.templateId ?? '', body)).template,
  }),
  operation({
    ...{ method: 'DELETE', path: '/templates/{templateId}', id: 'deleteTemplate', tag: 'Templates', status: 204 },
    summary: 'Deletes a template',
    refuses: [409],
    current: ({ templateId }) => readTemplate(templateId ?? ''),
    run: ({ params }) => deleteTemplate(params.templateId ?? ''),
  }),
];

const releases: Operation[] = [
  operation<Pages, undefined>({
    ...{ method: 'GET', path: '/releases', id: 'listReleases', tag: 'Releases', summary: 'Releases, the newest first' },
    ...{ query: Pages, answers: 'Release', lists: true, status: 200 },
    run: async ({ query }) => paged(await readReleases(100_000), query),
  }),
  operation({
    ...{ method: 'POST', path: '/releases', id: 'release', tag: 'Releases', status: 201 },
    summary: 'Releases everything that was designed',
    ...{ body: 'NewRelease', answers: 'Release', refuses: [409] },
    run: ({ body }) => release(body),
  }),
  operation({
    ...{ method: 'GET', path: '/releases/{releaseId}', id: 'readRelease', tag: 'Releases', summary: 'One release' },
    ...{ answers: 'Release', status: 200 },
    run: ({ params }) => releaseNumbered(params.releaseId ?? ''),
  }),
  operation({
    ...{ method: 'POST', path: '/releases/{releaseId}/show', id: 'showRelease', tag: 'Releases', status: 200 },
    summary: 'Has visitors see this release',
    ...{ answers: 'Release', refuses: [409] },
    run: ({ params }) => goBack(numberOf(params.releaseId ?? '')),
  }),
];

const PageAsked = z.object({
  address: z
    .string()
    .regex(/^\/(?!\/)/, { error: 'An address of this site begins with a slash.' })
    .max(2000),
  state: z.enum(['released', 'draft']).default('released'),
});

/** `base` is the site's own style sheet. */
const pages = (base: string): Operation[] => [
  operation<z.infer<typeof PageAsked>, undefined>({
    ...{
      method: 'GET',
      path: '/pages',
      id: 'drawPage',
      tag: 'Pages',
      summary: 'A page as visitors see it, or as the draft has it',
    },
    ...{ query: PageAsked, answers: 'Page', status: 200 },
    run: async ({ query: { address, state }, origin }) => {
      const url = new URL(address, origin);
      const asked: Record<string, string[]> = {};
      for (const [key, value] of url.searchParams) (asked[key] ??= []).push(value);
      const path = url.pathname.split('/').map(decodeURIComponent).join('/');
      const { status, html, to } = await answer(path, { base, origin, which: state }, asked);
      return { address, state, status, html, ...(to && { to }) };
    },
  }),
];

/** Every operation of the API. */
export const operations = (base: string): Operation[] => [
  ...types,
  ...records,
  ...terms,
  ...media,
  ...templates,
  ...releases,
  ...pages(base),
];
