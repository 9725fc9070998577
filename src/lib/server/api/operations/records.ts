import { titlesOf } from '../../queries/records';
import { z } from 'zod';
import { notFound, Refusal } from '../../refusal';
import { findTitles, moreRecords, recordsSeen, recordTable, workbenchRecords } from '../../services/lists';
import { readAllMedia } from '../../services/media';
import { listsOfCanvas } from '../../site/canvas-lists';
import { plainModel } from '../../services/model';
import { changeRecord, createRecord, readRecord } from '../../services/records';
import { changeRecords } from '../../services/records-in-bulk';
import { readProposals, readStanding, propose, refusePublishing, shareWith } from '../../services/standing';
import { keepDays, readRemoved } from '../../services/removed';
import { deleteRecords, undoRemoval } from '../../services/record-removal';
import { readTheme } from '../../services/theme';
import { numberOf } from '../http';
import { at, operation, type Operation } from '../operation';
import { listIn, Pages } from './common';

const recordNumbered = async (id: string | undefined) => {
  const record = await readRecord(numberOf(id ?? ''));
  if (!record) throw notFound(`record ${id}`);
  return record;
};
const shared = { tag: 'Records', who: 'author', touches: 'content' } as const;
const reads = { tag: 'Records', who: 'reader' } as const;

const RecordsAsked = Pages.extend({
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
const MoreAsked = z.object({
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

export const records: Operation[] = [
  operation<z.infer<typeof RecordsAsked>, undefined>({
    ...{ ...at('GET /records'), id: 'listRecords', ...reads, summary: 'Records of a type, drafts too' },
    ...{ query: RecordsAsked, answers: 'Record', lists: true, status: 200 },
    run: async ({ query: { type, search, sort, filter, page, per_page: perPage } }) => {
      const order = { step: sort.replace(/^-/, ''), down: sort.startsWith('-') };
      const asked = { search, order, filter, limit: perPage, offset: (page - 1) * perPage };
      const table = await recordTable(type, asked);
      return { items: table.records, total: table.total, page, perPage };
    },
  }),
  operation<never, { typeId?: unknown } | null>({
    ...{ ...at('POST /records'), id: 'createRecord', did: 'Wrote “{name}”', ...shared, summary: 'A new record' },
    ...{ body: 'NewRecord', checkedBy: 'service', answers: 'Record', status: 201, refuses: [409] },
    run: async ({ body, who }) => {
      if (typeof body !== 'object' || body === null || Array.isArray(body))
        throw new Refusal(422, 'This is no record.', [{ at: '', what: 'A record is an object of its parts.' }]);
      const { typeId, ...change } = body;
      refusePublishing(who, change);
      return createRecord(typeof typeId === 'string' ? typeId : '', change, { madeBy: who.id });
    },
  }),
  operation({
    ...{
      ...at('PATCH /records/bulk'),
      id: 'changeRecords',
      did: 'Changed {n} records at once',
      ...shared,
      who: 'editor',
      summary: 'Changes many records alike',
    },
    description: 'What they were before is kept, to be undone by the removal.',
    ...{ body: 'RecordsChange', checkedBy: 'service', answers: 'ChangedRecords', status: 200 },
    run: ({ body }) => changeRecords(body),
  }),
  operation<never, { ids: number[] }>({
    ...{
      ...at('DELETE /records/bulk'),
      id: 'deleteRecords',
      did: 'Deleted {n} records',
      ...shared,
      who: 'editor',
      summary: 'Deletes many records',
    },
    ...{ body: 'RecordIdsAsked', answers: 'Removal', status: 200 },
    run: ({ body }) => deleteRecords(body.ids),
  }),
  operation<z.infer<typeof TitlesAsked>, undefined>({
    ...{ ...at('GET /records/titles'), id: 'readTitles', ...reads, answers: 'Titles', status: 200 },
    summary: 'Titles of the records with these numbers, or of those of some types that contain some text',
    query: TitlesAsked,
    run: ({ query }) => {
      const ids = listIn(query.ids).map(Number).filter(Number.isInteger).slice(0, 1000);
      return ids.length ? titlesOf(ids) : findTitles(listIn(query.types).slice(0, 50), query.search);
    },
  }),
  operation({
    ...{ ...at('GET /records/{recordId}'), id: 'readRecord', ...reads, summary: 'One record' },
    ...{ answers: 'Record', status: 200 },
    run: ({ params }) => recordNumbered(params.recordId),
  }),
  operation<never, Record<string, unknown>>({
    ...{
      ...at('PATCH /records/{recordId}'),
      id: 'changeRecord',
      goesOn: true,
      over: 'record',
      did: 'Changed “{name}”',
      ...shared,
      summary: 'Changes a record',
    },
    description: 'What is left out stays as it is; null takes a value away.',
    ...{ body: 'RecordChange', checkedBy: 'service', answers: 'Record', status: 200, refuses: [409] },
    current: ({ recordId }) => recordNumbered(recordId),
    run: async ({ params, body, guard, who }) => {
      const before = await recordNumbered(params.recordId);
      guard(before);
      refusePublishing(who, body, before);
      // Compared once more under the lock.
      return changeRecord(before.id, { version: before.version, ...body });
    },
  }),
  operation({
    ...{
      ...at('DELETE /records/{recordId}'),
      id: 'deleteRecord',
      over: 'record',
      did: 'Deleted “{name}”',
      ...shared,
      summary: 'Deletes a record, with every link to it',
    },
    ...{ answers: 'Removal', status: 200 },
    current: ({ recordId }) => recordNumbered(recordId),
    run: async ({ params, who }) => {
      refusePublishing(who, {}, await recordNumbered(params.recordId));
      return deleteRecords([numberOf(params.recordId ?? '')]);
    },
  }),
  operation({
    ...{ ...at('GET /records/{recordId}/standing'), id: 'readStanding', ...reads, answers: 'Standing', status: 200 },
    summary: 'Who made a record, with whom it was shared, and whether it waits to be published',
    run: ({ params }) => readStanding(numberOf(params.recordId ?? '')),
  }),
  operation<never, { proposed: boolean }>({
    ...{ ...at('PUT /records/{recordId}/proposal'), id: 'proposeRecord', ...shared, over: 'record' },
    ...{ did: 'Proposed a record for publishing, or took that back', summary: 'Proposes a draft for publishing' },
    ...{ body: 'ProposalChange', answers: 'Standing', status: 200 },
    run: ({ params, body }) => propose(numberOf(params.recordId ?? ''), body.proposed),
  }),
  operation<never, { accounts: number[] }>({
    ...{ ...at('PUT /records/{recordId}/people'), id: 'shareRecord', ...shared, over: 'record' },
    ...{ did: 'Changed with whom a record is shared', summary: 'Which authors may write a record too' },
    ...{ body: 'RecordPeopleChange', answers: 'Standing', status: 200 },
    run: ({ params, body, who }) => shareWith(who, numberOf(params.recordId ?? ''), body.accounts),
  }),
  operation({
    ...{ ...at('GET /proposals'), id: 'listProposals', ...reads, who: 'editor', answers: 'Proposals', status: 200 },
    summary: 'Drafts that wait to be published, those that wait longest first',
    run: () => readProposals(),
  }),
  operation<{ search: string; page: number }, undefined>({
    ...{ ...at('GET /removals'), id: 'listRemovals', ...reads, who: 'editor', answers: 'Removed', status: 200 },
    summary: 'What was deleted, and can be brought back',
    query: z.object({
      search: z.string().max(200).default(''),
      page: z.coerce.number().int().min(1).max(10_000).default(1),
    }),
    run: ({ query }) => readRemoved(query.search, 50, (query.page - 1) * 50),
  }),
  operation<never, { days: number }>({
    ...{
      ...at('PUT /removals/days'),
      id: 'keepRemovals',
      did: 'Set for how many days what is removed is kept',
      tag: 'Site',
      who: 'owner',
      touches: 'site',
    },
    ...{ summary: 'For how many days what was deleted is kept', body: 'DaysKept', answers: 'DaysKept', status: 200 },
    run: ({ body }) => keepDays(body),
  }),
  operation({
    ...{
      ...at('POST /removals/{removalId}/undo'),
      id: 'undoRemoval',
      over: 'removal',
      did: 'Brought back {what}',
      ...shared,
    },
    ...{ summary: 'Puts everything back that a removal took', answers: 'Undone', status: 200 },
    run: ({ params }) => undoRemoval(params.removalId ?? ''),
  }),
  operation<{ whole?: string }, undefined>({
    ...{ ...at('GET /workbench'), id: 'readWorkbench', tag: 'Templates', who: 'reader' },
    ...{ summary: 'The records and pictures that templates are designed with', answers: 'Anything', status: 200 },
    query: z.object({ whole: z.string().max(10).optional() }),
    run: async ({ query }) => {
      const [{ records: all, partial }, media] = await Promise.all([workbenchRecords(), readAllMedia()]);
      if (query.whole === undefined) return { records: all, media };
      const [model, { theme }] = await Promise.all([plainModel(), readTheme()]);
      return { model, records: all, partial, media, theme };
    },
  }),
  operation<z.infer<typeof MoreAsked>, undefined>({
    ...{ ...at('GET /workbench/records'), id: 'readMoreRecords', tag: 'Templates', who: 'reader' },
    ...{ summary: 'Records of a type after a number, a part at a time', answers: 'Anything', status: 200 },
    description: 'Or those with these numbers that visitors see, where numbers are given.',
    query: MoreAsked,
    run: async ({ query: { type, after, ids } }) => ({
      records: ids
        ? await recordsSeen(listIn(ids).map(Number).filter(Number.isSafeInteger).slice(0, 500))
        : await moreRecords(type, after),
    }),
  }),
  operation({
    ...{ ...at('POST /workbench/lists'), id: 'listsOfCanvas', tag: 'Templates', who: 'reader', asks: true },
    summary: 'What the lists of a page yield that is being designed, over all records',
    description: 'Nothing is kept of it. Records are those on the lists, and those that are looked up for them.',
    ...{ body: 'CanvasAsked', checkedBy: 'service', answers: 'Anything', status: 200 },
    run: ({ body }) => listsOfCanvas(body),
  }),
];
