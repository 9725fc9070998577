import { recordsAtSlugs, type RecordRow } from '../queries/records';
import { shareLockModel } from '../queries/site';
import { leadsOf } from '../../core/model/field';
import type { Transaction } from 'sequelize';
import type { Status } from '../../core/schema/record';
import { missingValues, parseValues, RecordChangeSchema, type RecordChange } from '../../core/content/validate';
import type { ContentType } from '../../core/schema/model';
import type { Field } from '../../core/model/model';
import type { ModelIndex } from '../../core/model/model-index';
import { problem, problemsOf, type Problem } from '../../core/base/result';
import { compiledPattern, takenFirstParts } from '../../core/addresses/patterns';
import { notFound, Refusal } from '../base/refusal';
import { cleanValue } from './html';
import { linked } from './links';
import { readModel } from './model';
import { writeIndex, writeMentions, writeUnique } from './record-parts';

/** A change that has been checked on its own; what it points at has not. */
export interface Checked {
  change: RecordChange;
  values: Map<Field, unknown>;
}

/** A problem with one of several records, by its place among those given. */
export type RecordProblem = Problem & { index: number };

export function check(type: ContentType, input: unknown): Checked {
  const parsed = RecordChangeSchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The record cannot be saved.', problemsOf(parsed.error));
  const given = parsed.data.values ?? {};
  const cleaned = Object.fromEntries(
    Object.entries(given).map(([id, value]) => {
      const field = type.fields.find((f) => f.id === id);
      return [id, field ? cleanValue(field, value) : value];
    }),
  );
  const values = parseValues(type, cleaned);
  if (!values.ok) throw new Refusal(422, 'The record cannot be saved.', values.problems);
  return { change: parsed.data, values: values.value };
}

export const refusalOf = (problems: RecordProblem[]): Refusal => {
  const address = problems.every((p) => p.at === 'slug');
  return new Refusal(
    address ? 409 : 422,
    address ? 'The address is taken.' : 'The record cannot be saved.',
    problems.map(({ index: _, ...rest }) => rest),
  );
};

export async function typeNamed(
  typeId: string,
  transaction?: Transaction,
): Promise<{ type: ContentType; model: ModelIndex }> {
  const model = await readModel(transaction);
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  return { type, model };
}

/**
 * Refused where a content type is no longer what records were written by, and held to the end of the transaction where it
 * is. For work that takes too long to keep others from changing the model meanwhile.
 */
export async function stillSo(type: ContentType, transaction: Transaction): Promise<void> {
  await shareLockModel(transaction);
  const now = (await readModel(transaction)).type(type.id);
  if (JSON.stringify(now?.fields) !== JSON.stringify(type.fields))
    throw new Refusal(
      409,
      `The fields of ${type.plural.toLowerCase()} were changed while records were written; those that were being written are not kept. Begin again.`,
    );
}

/** A record whose moment has come is published already. */
export const settledStatus = (status: Status, moment: Date | undefined): Status =>
  status === 'scheduled' && moment && moment.getTime() <= Date.now() ? 'published' : status;

export const NO_MOMENT = problem(
  'published',
  'A scheduled record needs the moment at which it is published.',
  'Choose one.',
);

/** What is wrong with a slug that comes first in its address: something else may be there. */
export function reservedSlug(type: ContentType, slug: string, model: ModelIndex): Problem[] {
  const models = [model, ...(model.beside?.seen ? [model.beside.seen] : [])];
  const own = models.flatMap(({ types }) => types.find(({ id }) => id === type.id) ?? []);
  return own.some((one) => compiledPattern(one)?.slugFirst) && models.some((one) => takenFirstParts(one).has(slug))
    ? [problem('slug', `The address /${slug} belongs to something else.`, 'Choose another one.')]
    : [];
}

/** Records of these types that stand right at the top, where something new would take their place. */
export async function goingUnder(
  base: string,
  types: readonly ContentType[],
  transaction: Transaction,
): Promise<Problem[]> {
  const atTop = types.filter((type) => compiledPattern(type)?.slugFirst);
  const clashes = await Promise.all(atTop.map(({ id }) => recordsAtSlugs(id, [base], transaction)));
  return clashes
    .flatMap(([clash]) => clash ?? [])
    .map(({ title }) =>
      problem('', `“${title}” has the address /${base}.`, 'Choose another one, or change that of the record.'),
    );
}

export const slugTaken = (slug: string) =>
  problem('slug', `Another record has the address “${slug}”.`, 'Choose another one.');

/** Writes what follows from the values of these records, and tells what stands against it. Of `fresh` ones nothing is there yet. */
export async function settle(
  type: ContentType,
  records: RecordRow[],
  transaction: Transaction,
  fresh = false,
): Promise<(Problem & { recordId: number })[]> {
  const problems = [
    ...(await writeUnique(type, records, transaction, fresh)),
    ...(await lacking(
      type,
      records.filter((record) => record.status !== 'draft'),
      transaction,
    )),
  ];
  await writeIndex(type, records, transaction, { fresh });
  await writeMentions(type, records, transaction, fresh);
  return problems;
}

/** What these records lack to be published. */
export async function lacking(
  type: ContentType,
  records: RecordRow[],
  transaction: Transaction,
): Promise<(Problem & { recordId: number })[]> {
  const problems: (Problem & { recordId: number })[] = [];
  if (records.length && type.fields.some((field) => field.required)) {
    const required = type.fields.filter((field) => field.required && leadsOf(field) === 'record');
    const links = await Promise.all(
      required.map((field) =>
        linked(
          field,
          records.map((r) => r.id),
          transaction,
        ),
      ),
    );
    for (const record of records) {
      const present = { ...record.values };
      for (const [i, field] of required.entries()) if (links[i]?.has(record.id)) present[field.id] = true;
      problems.push(...missingValues(type, present).map((p) => ({ ...p, recordId: record.id })));
    }
  }
  return problems;
}

export function wrongTerms(model: ModelIndex, type: ContentType, terms: string[]): Problem[] {
  return terms
    .filter((term) => !type.taxonomyIds.includes(model.term(term)?.taxonomyId ?? ''))
    .map((term) =>
      problem(
        'terms',
        `${type.name} cannot be filed under “${model.term(term)?.name ?? term}”.`,
        'Choose a term of its taxonomies.',
      ),
    );
}
