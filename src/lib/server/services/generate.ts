import { recordIdsAfter, recordIdsOfType } from '../queries/records';
import { newestMedia } from '../queries/media';
import { z } from 'zod';
import type { Inventor } from '../../core/model/kinds/kind';
import { inventValue } from '../../core/model/kinds/rows';
import { dayNumber, localDay } from '../../core/base/write';
import type { Field } from '../../core/model/model';
import { inTransaction } from '../database/connect';
import { notFound, Refusal } from '../base/refusal';
import { leadsOf, relationOf } from '../../core/model/field';
import { otherSide } from './links';
import { readModel } from './model';
import { stillSo } from './record-checks';
import { insertRecords } from './records';
import { removeRecords } from './record-removal';
import { beginRemoval } from './removal';
import { SlugBook } from './slugs';
import { inventor } from '../../core/content/invent';

export const SampleRequest = z.strictObject({
  count: z
    .number({ error: 'Say how many.' })
    .int()
    .min(1, { error: 'Make one at least.' })
    .max(5000, { error: 'Make 5,000 at most in one go.' }),
  status: z.enum(['draft', 'published']).default('published'),
  /** The same seed makes the same records up. */
  seed: z.number().int().optional(),
});

/** Fills a type with made-up records, marked as such. */
export async function generateRecords(
  typeId: string,
  input: z.output<typeof SampleRequest>,
): Promise<{ made: number }> {
  const { count, status, seed = Date.now() } = input;
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const [pictures, files] = await Promise.all([newestMedia('pictures', 300), newestMedia('files', 100)]);
  const ofType = new Map<string, number[]>();
  for (const { id } of model.types) ofType.set(id, await recordIdsAfter(id, 0, 500));
  const make: Inventor = {
    ...inventor(seed),
    today: dayNumber(localDay(new Date(), model.site.timeZone)),
    pictures,
    files,
    records: (typeIds) => typeIds.flatMap((id) => ofType.get(id) ?? []),
  };
  const terms = type.taxonomyIds.map((id) => model.terms.filter((term) => term.taxonomyId === id));
  const single = (field: Field) => {
    const other = otherSide(model, field);
    return other !== undefined && !relationOf(other)?.many;
  };
  const inputs = Array.from({ length: count }, () => ({
    title: make.name(),
    status,
    authorId: model.authors.length ? model.authors[Math.floor(make.random() * model.authors.length)]?.id : null,
    terms: terms.flatMap((list) =>
      list.length && make.random() < 0.9 ? [list[Math.floor(make.random() * list.length)]!.id] : [],
    ),
    // One value in eight is left empty, as in real content; required ones never are.
    values: Object.fromEntries(
      type.fields.flatMap((field) => {
        // Where the other side takes one, a made-up record would take a real one's place there.
        if (leadsOf(field) === 'record' && single(field)) return [];
        if (!field.required && make.random() < 0.125) return [];
        const value = inventValue(field, make);
        return value === undefined
          ? []
          : [[field.id, field.unique && typeof value === 'string' ? `${value} ${make.words(1)}` : value]];
      }),
    ),
  }));
  await inTransaction(async (transaction) => {
    const book = new SlugBook(typeId);
    for (let i = 0; i < inputs.length; i += 250) {
      const { problems } = await insertRecords(model, type, inputs.slice(i, i + 250), transaction, book, {
        generated: true,
      });
      if (problems.length)
        throw new Refusal(
          422,
          'No plausible values could be made up for this type.',
          problems.slice(0, 5).map(({ index: _, ...p }) => p),
        );
    }
    await stillSo(type, transaction);
  });
  return { made: count };
}

/** Takes all made-up records of a type away again. */
export async function removeGenerated(typeId: string): Promise<{ removal: string; deleted: number }> {
  const type = (await readModel()).type(typeId);
  if (!type) throw notFound('content type with this id');
  return inTransaction(async (transaction) => {
    const ids = await recordIdsOfType(typeId, { madeUp: true }, transaction);
    if (!ids.length) throw new Refusal(404, `There are no made-up ${type.plural.toLowerCase()}.`);
    const removal = await beginRemoval(`${ids.length} made-up ${type.plural.toLowerCase()}`, transaction);
    return removeRecords(ids, undefined, transaction, removal);
  });
}
