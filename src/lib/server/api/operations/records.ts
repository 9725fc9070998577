import { titlesOf } from '../../queries/records';
import { z } from 'zod';
import { notFound, Refusal } from '../../base/refusal';
import { findTitles, moreRecords, recordsSeen, recordTable, workbenchRecords } from '../../services/lists';
import { readAllMedia } from '../../services/media';
import { listsOfCanvas } from '../../site/canvas-lists';
import { plainModel } from '../../services/model';
import { changeRecord, createRecord, readRecord } from '../../services/records';
import { changeRecords } from '../../services/records-in-bulk';
import { readProposals, readSharing, propose, refusePublishing, shareWith } from '../../services/sharing';
import { saveRetention, readRemoved } from '../../services/removed';
import { deleteRecords, undoRemoval } from '../../services/record-removal';
import { readTheme } from '../../services/theme';
import { templateExample } from '../examples';
import { operation } from '../operation';
import { schemas } from '../schemas';
import { listIn, Pages } from './common';

const recordNumbered = async (id: number) => {
  const record = await readRecord(id);
  if (!record) throw notFound(`record ${id}`);
  return record;
};
const shared = { tag: 'Records', requiredRole: 'author', touches: 'content' } as const;
const reads = { tag: 'Records', requiredRole: 'reader' } as const;

const RecordsQuery = Pages.extend({
  type: z.string({ error: 'Say of which type.' }).max(40),
  search: z.string().max(200).default(''),
  /** A step, such as `@title` or a field’s id; `-` before it for downwards. */
  sort: z.string().max(81).default('@title'),
  /** A rule as JSON, whose paths start at `loop:table`. */
  filter: z
    .string()
    .max(20_000)
    .transform((text, context) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        context.addIssue({ code: 'custom', message: 'The filter is not JSON.' });
        return z.NEVER;
      }
    })
    .optional(),
});
const MoreQuery = z.object({
  type: z.string().max(40).default(''),
  after: z.coerce.number().int().min(0).default(0),
  ids: z
    .string()
    .max(6000)
    .regex(/^[\d,]*$/, { error: 'Give numbers of records, parted by commas.' })
    .default(''),
});
const TitlesAsked = z.object({
  ids: z.string().max(12_000).default(''),
  types: z.string().max(2500).default(''),
  search: z.string().max(200).default(''),
});

export const records = [
  operation('GET /records', {
    id: 'listRecords',
    ...reads,
    summary: 'Records of a type, drafts too',
    query: RecordsQuery,
    response: schemas.Record,
    lists: true,
    status: 200,
    run: async ({ query: { type, search, sort, filter, page, per_page: perPage } }) => {
      const order = { step: sort.replace(/^-/, ''), down: sort.startsWith('-') };
      const asked = { search, order, filter, limit: perPage, offset: (page - 1) * perPage };
      const table = await recordTable(type, asked);
      return { items: table.records, total: table.total, page, perPage };
    },
  }),
  operation('POST /records', {
    id: 'createRecord',
    activity: 'Wrote “{name}”',
    ...shared,
    summary: 'A new record',
    body: schemas.NewRecord,
    example: { typeId: 'hut', title: 'Ash Hut', status: 'published', values: { hut_beds: 24 }, terms: ['north'] },
    refusal: 'The record cannot be saved.',
    response: schemas.Record,
    status: 201,
    refuses: [409],
    run: async ({ body, principal }) => {
      if (typeof body !== 'object' || body === null || Array.isArray(body))
        throw new Refusal(422, 'This is no record.', [{ at: '', what: 'A record is an object of its parts.' }]);
      const { typeId, ...change } = body;
      refusePublishing(principal, change);
      return createRecord(typeof typeId === 'string' ? typeId : '', change, { madeBy: principal.id });
    },
  }),
  operation('PATCH /records/bulk', {
    id: 'changeRecords',
    activity: 'Changed {n} records at once',
    ...shared,
    requiredRole: 'editor',
    summary: 'Changes many records alike',
    description: 'What they were before is kept, to be undone by the removal.',
    body: schemas.RecordsChange,
    example: { ids: [7, 8], status: 'published', addTerms: ['north'] },
    refusal: 'These records cannot be changed so.',
    response: schemas.ChangedRecords,
    status: 200,
    run: ({ body }) => changeRecords(body),
  }),
  operation('DELETE /records/bulk', {
    id: 'deleteRecords',
    activity: 'Deleted {n} records',
    ...shared,
    requiredRole: 'editor',
    summary: 'Deletes many records',
    body: schemas.RecordIdsRequest,
    example: { ids: [7, 8] },
    response: schemas.RemovedRecords,
    status: 200,
    run: ({ body }) => deleteRecords(body.ids),
  }),
  operation('GET /records/titles', {
    id: 'readTitles',
    ...reads,
    response: schemas.Titles,
    status: 200,
    summary: 'Titles of the records with these numbers, or of those of some types that contain some text',
    query: TitlesAsked,
    run: ({ query }) => {
      const ids = listIn(query.ids).map(Number).filter(Number.isInteger).slice(0, 1000);
      return ids.length ? titlesOf(ids) : findTitles(listIn(query.types).slice(0, 50), query.search);
    },
  }),
  operation('GET /records/{recordId}', {
    id: 'readRecord',
    ...reads,
    summary: 'One record',
    response: schemas.Record,
    status: 200,
    run: ({ params }) => recordNumbered(params.recordId),
  }),
  operation('PATCH /records/{recordId}', {
    id: 'changeRecord',
    isContinuous: true,
    over: 'record',
    activity: 'Changed “{name}”',
    ...shared,
    summary: 'Changes a record',
    description: 'What is left out stays as it is; null takes a value away.',
    body: schemas.RecordChange,
    example: { version: 3, values: { hut_beds: 26, hut_note: null } },
    refusal: 'The record cannot be saved.',
    response: schemas.Record,
    status: 200,
    refuses: [409],
    current: ({ recordId }) => recordNumbered(recordId),
    run: async ({ params, body, guard, principal }) => {
      const before = await recordNumbered(params.recordId);
      guard(before);
      refusePublishing(principal, body, before);
      // Compared once more under the lock.
      return changeRecord(before.id, { version: before.version, ...body });
    },
  }),
  operation('DELETE /records/{recordId}', {
    id: 'deleteRecord',
    over: 'record',
    activity: 'Deleted “{name}”',
    ...shared,
    summary: 'Deletes a record, with every link to it',
    response: schemas.RemovedRecords,
    status: 200,
    current: ({ recordId }) => recordNumbered(recordId),
    run: async ({ params, principal }) => {
      refusePublishing(principal, {}, await recordNumbered(params.recordId));
      return deleteRecords([params.recordId]);
    },
  }),
  operation('GET /records/{recordId}/standing', {
    id: 'readStanding',
    ...reads,
    response: schemas.Standing,
    status: 200,
    summary: 'Who made a record, with whom it was shared, and whether it waits to be published',
    run: ({ params }) => readSharing(params.recordId),
  }),
  operation('PUT /records/{recordId}/proposal', {
    id: 'proposeRecord',
    ...shared,
    over: 'record',
    activity: 'Proposed a record for publishing, or took that back',
    summary: 'Proposes a draft for publishing',
    body: schemas.ProposalChange,
    example: { proposed: true },
    response: schemas.Standing,
    status: 200,
    run: ({ params, body }) => propose(params.recordId, body.proposed),
  }),
  operation('PUT /records/{recordId}/people', {
    id: 'shareRecord',
    ...shared,
    over: 'record',
    activity: 'Changed with whom a record is shared',
    summary: 'Which authors may write a record too',
    body: schemas.RecordPeopleChange,
    example: { accounts: [4] },
    response: schemas.Standing,
    status: 200,
    run: ({ params, body, principal }) => shareWith(principal, params.recordId, body.accounts),
  }),
  operation('GET /proposals', {
    id: 'listProposals',
    ...reads,
    requiredRole: 'editor',
    response: schemas.Proposals,
    status: 200,
    summary: 'Drafts that wait to be published, those that wait longest first',
    run: () => readProposals(),
  }),
  operation('GET /removals', {
    id: 'listRemovals',
    ...reads,
    requiredRole: 'editor',
    response: schemas.Removed,
    status: 200,
    summary: 'What was deleted, and can be brought back',
    query: z.object({
      search: z.string().max(200).default(''),
      page: z.coerce.number().int().min(1).max(10_000).default(1),
    }),
    run: ({ query }) => readRemoved(query.search, 50, (query.page - 1) * 50),
  }),
  operation('PUT /removals/days', {
    id: 'keepRemovals',
    activity: 'Set for how many days what is removed is kept',
    tag: 'Site',
    requiredRole: 'owner',
    touches: 'site',
    summary: 'For how many days what was deleted is kept',
    body: schemas.Retention,
    example: { days: 30 },
    response: schemas.Retention,
    status: 200,
    run: ({ body }) => saveRetention(body),
  }),
  operation('POST /removals/{removalId}/undo', {
    id: 'undoRemoval',
    over: 'removal',
    activity: 'Brought back {what}',
    ...shared,
    summary: 'Puts everything back that a removal took',
    response: schemas.Undone,
    status: 200,
    run: ({ params }) => undoRemoval(params.removalId),
  }),
  operation('GET /workbench', {
    id: 'readWorkbench',
    tag: 'Templates',
    requiredRole: 'reader',
    summary: 'The records and pictures that templates are designed with',
    response: schemas.Workbench,
    status: 200,
    run: async () => {
      const [{ records: all }, media] = await Promise.all([workbenchRecords(), readAllMedia()]);
      return { records: all, media };
    },
  }),
  operation('GET /workbench/site', {
    id: 'readSiteOfWorkbench',
    tag: 'Templates',
    requiredRole: 'reader',
    summary: 'The same with the model, the theme, and of how many records not all are there',
    response: schemas.WorkbenchSite,
    status: 200,
    run: async () => {
      const [{ records: all, partial }, media] = await Promise.all([workbenchRecords(), readAllMedia()]);
      const [model, { theme }] = await Promise.all([plainModel(), readTheme()]);
      return { model, records: all, partial, media, theme };
    },
  }),
  operation('GET /workbench/records', {
    id: 'readMoreRecords',
    tag: 'Templates',
    requiredRole: 'reader',
    summary: 'Records of a type after a number, a part at a time',
    response: schemas.MoreRecords,
    status: 200,
    description: 'Or those with these numbers that visitors see, where numbers are given.',
    query: MoreQuery,
    run: async ({ query: { type, after, ids } }) => ({
      records: ids
        ? await recordsSeen(listIn(ids).map(Number).filter(Number.isSafeInteger).slice(0, 500))
        : await moreRecords(type, after),
    }),
  }),
  operation('POST /workbench/lists', {
    id: 'listsOfCanvas',
    tag: 'Templates',
    requiredRole: 'reader',
    readsOnly: true,
    summary: 'What the lists of a page yield that is being designed, over all records',
    description: 'Nothing is kept of it. Records are those on the lists, and those that are looked up for them.',
    body: schemas.CanvasRequest,
    example: {
      template: templateExample,
      record: 7,
    },
    refusal: 'The page on the canvas cannot be read.',
    response: schemas.CanvasLists,
    status: 200,
    run: ({ body }) => listsOfCanvas(body),
  }),
] as const;
