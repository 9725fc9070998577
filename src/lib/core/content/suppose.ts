import { relationOf } from '../model/field';
import type { ModelIndex } from '../model/model-index';
import type { ContentRecord } from '../schema/record';

/**
 * Values that are taken to be otherwise: of a record, by its number, the value of a step of paths, such as a field's id or
 * `@title`. Undefined is an empty one. Nothing of it is stored.
 */
export type Supposed = ReadonlyMap<number, Readonly<Record<string, unknown>>>;

/** The number of a made-up record, where there is none to suppose values of. */
export const INVENTED_ID = -1;

const TERMS = '@terms:';

/** Whether the value of a step can be supposed: those of fields, the title, terms, and when it was published. */
export const canSuppose = (step: string, model: ModelIndex): boolean =>
  step === '@title' || step === '@published' || step.startsWith(TERMS) || Boolean(model.field(step));

/** A record of a type that is made up: with a title and nothing else. */
export const inventedRecord = (typeId: string, model: ModelIndex): ContentRecord => ({
  id: INVENTED_ID,
  typeId,
  title: `A made-up ${(model.type(typeId)?.name ?? 'record').toLowerCase()}`,
  slug: 'made-up',
  status: 'published',
  created: '2026-01-01T12:00:00.000Z',
  changed: '2026-01-01T12:00:00.000Z',
  published: '2026-01-01T12:00:00.000Z',
  values: {},
  terms: [],
  authorId: null,
  generated: true,
  version: 1,
});

function withValue(record: ContentRecord, step: string, value: unknown, model: ModelIndex): ContentRecord {
  if (step === '@title') return { ...record, title: typeof value === 'string' ? value : '' };
  if (step === '@published') return { ...record, published: typeof value === 'string' ? value : null };
  if (step.startsWith(TERMS)) {
    const taxonomyId = step.slice(TERMS.length);
    const others = record.terms.filter((id) => model.term(id)?.taxonomyId !== taxonomyId);
    return { ...record, terms: [...others, ...(Array.isArray(value) ? (value as string[]) : [])] };
  }
  const { [step]: _, ...values } = record.values;
  return { ...record, values: value === undefined || value === null ? values : { ...values, [step]: value } };
}

/** The fields at the other side of a relation. */
function otherSides(fieldId: string, model: ModelIndex): { id: string; typeId: string; many: boolean }[] {
  const own = model.field(fieldId)?.field;
  const relation = own && relationOf(own);
  if (!relation) return [];
  return model.types.flatMap((type) =>
    type.fields.flatMap((field) => {
      const other = relationOf(field);
      const is = other?.relationId === relation.relationId && other.side !== relation.side;
      return is ? [{ id: field.id, typeId: type.id, many: other.many }] : [];
    }),
  );
}

const idsIn = (value: unknown): number[] => (Array.isArray(value) ? (value as number[]) : []);

/**
 * The records that are otherwise, by their number. A supposed relation is one fact: those it leads to lead back, and those
 * it no longer leads to do not.
 */
export function supposedRecords(
  supposed: Supposed,
  recordOf: (id: number) => ContentRecord | undefined,
  model: ModelIndex,
): Map<number, ContentRecord> {
  const out = new Map<number, ContentRecord>();
  const now = (id: number) => out.get(id) ?? recordOf(id);
  for (const [id, values] of supposed)
    for (const [step, value] of Object.entries(values)) {
      const before = now(id);
      if (!before) continue;
      out.set(id, withValue(before, step, value, model));
      const [was, is] = [idsIn(before.values[step]), idsIn(value)];
      for (const { id: back, typeId, many } of otherSides(step, model))
        for (const other of new Set([...was, ...is])) {
          const record = now(other);
          if (record?.typeId !== typeId) continue;
          const own = idsIn(record.values[back]);
          const led = own.includes(id);
          if (is.includes(other) === led) continue;
          const next = led ? own.filter((one) => one !== id) : many ? [...own, id] : [id];
          out.set(other, withValue(record, back, next.length ? next : undefined, model));
        }
    }
  return out;
}

/** The same, as all records with these in their place; a made-up one comes last. */
export function supposing(
  records: readonly ContentRecord[],
  supposed: Supposed,
  model: ModelIndex,
  made?: ContentRecord,
): ContentRecord[] {
  const all = made && !records.includes(made) ? [...records, made] : [...records];
  if (!supposed.size) return all;
  const byId = new Map(all.map((record) => [record.id, record]));
  const changed = supposedRecords(supposed, (id) => byId.get(id), model);
  return all.map((record) => changed.get(record.id) ?? record);
}
