import { lockRows, readRows, recordIdsAfter, writeValues } from '../queries/records';
import { clearFields } from '../queries/record-parts';
import type { Transaction } from 'sequelize';
import { parseContentType, kindOf, type Field } from '../../core/model/model';
import type { ContentType } from '../../core/schema/model';
import { isList, leadsOf } from '../../core/model/field';
import { problem } from '../../core/base/result';
import { notFound, Refusal } from '../base/refusal';
import { convertValue } from '../../core/content/convert';
import { readModel } from './model';
import { reindex, writeUnique } from './record-parts';

/** Brings records after their fields: converts values, and writes anew what follows from changed fields. */
export async function followFields(type: ContentType, former: ContentType, transaction: Transaction): Promise<void> {
  const was = (field: Field) => former.fields.find((f) => f.id === field.id);
  const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);
  const changed = type.fields.filter((field) => {
    const before = was(field);
    return !before || before.kind !== field.kind || !same(before.settings, field.settings);
  });
  const converted = changed.filter((field) => was(field) && was(field)?.kind !== field.kind);
  for (const field of converted) {
    const before = was(field) as Field;
    if (leadsOf(before) === 'record' || leadsOf(field) === 'record')
      throw new Refusal(422, 'A relation cannot become another kind, nor another kind a relation.', [
        problem(`fields.${type.fields.indexOf(field)}.kind`, 'Relations stay relations.', 'Add another field instead.'),
      ]);
    await eachBatch(type.id, transaction, async (ids) => {
      for (const record of await lockRows(ids, transaction)) {
        if (record.values[field.id] === undefined) continue;
        const value = convertValue(before, field, record.values[field.id]);
        if (value === undefined) delete record.values[field.id];
        else record.values[field.id] = value;
        await writeValues(record, transaction);
      }
    });
  }
  const unique = type.fields.filter((field) => field.unique && !was(field)?.unique);
  if (unique.length)
    await eachBatch(type.id, transaction, async (ids) => {
      const [problem] = await writeUnique({ ...type, fields: unique }, await readRows(ids, transaction), transaction);
      if (problem)
        throw new Refusal(422, 'Two records have the same value already.', [{ at: problem.at, what: problem.what }]);
    });
  const dropped = type.fields.filter((field) => !field.unique && was(field)?.unique).map((field) => field.id);
  if (dropped.length) await clearFields('unique_values', dropped, transaction);
  if (changed.length) await reindex(type, transaction, new Set(changed.map((field) => field.id)));
}

export async function eachBatch(
  typeId: string,
  transaction: Transaction | undefined,
  body: (ids: number[]) => Promise<void>,
): Promise<void> {
  for (let after = 0; ;) {
    const ids = await recordIdsAfter(typeId, after, 500, transaction);
    const last = ids.at(-1);
    if (last === undefined) return;
    after = last;
    await body(ids);
  }
}

/** Where texts of values need nothing beside the value and the model. */
const NOBODY = { record: () => undefined, media: () => undefined, addressOf: () => '', termAddress: () => '' };

export interface KindPreview {
  kept: number;
  lost: number;
  empty: number;
  /** A few values, as they are and as they would be. */
  examples: { title: string; before: string; after: string | null }[];
}

/** What becomes of a field's values if its kind or settings change so; nothing is written. */
export async function previewKind(typeId: string, input: unknown): Promise<KindPreview> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const wanted = input as Field;
  const before = type.fields.find((field) => field.id === wanted?.id);
  if (!before) throw notFound('field with this id');
  const parsed = parseContentType({ ...type, fields: [wanted] });
  if (!parsed.ok) throw new Refusal(422, 'The field is not complete.', parsed.problems);
  const after = parsed.value.fields[0] as Field;
  const out: KindPreview = { kept: 0, lost: 0, empty: 0, examples: [] };
  if (leadsOf(before) === 'record' || leadsOf(after) === 'record') return out;
  const show = (field: Field, value: unknown): string => {
    const known = kindOf(field);
    if (!known) return '';
    return (isList(known) ? (value as unknown[]) : [value])
      .map((one) => (known.kind.pointsAt ? String(one) : known.kind.text(one, known.settings, { ...NOBODY, model })))
      .join(', ')
      .slice(0, 120);
  };
  await eachBatch(typeId, undefined, async (ids) => {
    for (const record of await readRows(ids)) {
      const value = record.values[before.id];
      if (value === undefined) {
        out.empty++;
        continue;
      }
      const converted = convertValue(before, after, value);
      if (converted === undefined) out.lost++;
      else out.kept++;
      const lostSoFar = out.examples.filter((example) => example.after === null).length;
      if (converted === undefined ? lostSoFar < 5 : out.examples.length - lostSoFar < 3)
        out.examples.push({
          title: record.title,
          before: show(before, value),
          after: converted === undefined ? null : show(after, converted),
        });
    }
  });
  return out;
}
