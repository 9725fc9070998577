import { fieldsIn, hasOptions, optionsIn } from '../../core/model/settings';
import type { Transaction } from 'sequelize';
import { problem, type Problem } from '../../core/base/result';
import {
  changeOption,
  hasOption,
  namesOption,
  optionsGone,
  withGone,
  type Becomes,
  type GoneOption,
  type OptionAnswer,
  type OptionGoing,
} from '../../core/content/options';
import { parseContentType } from '../../core/model/model';
import type { Field } from '../../core/model/model';
import type { ContentType } from '../../core/schema/model';
import { lockRows, readRows, writeValues } from '../queries/records';
import { notFound, Refusal } from '../base/refusal';
import { eachBatch } from './kind-changes';
import { readModel } from './model';
import { readTemplates } from './templates';
import type { TypeUse } from './type-uses';

/** So many records with an option are named. */
const MOST_NAMED = 5;

interface Held {
  records: number;
  titles: string[];
}

async function holders(typeId: string, gone: readonly GoneOption[], transaction?: Transaction): Promise<Held[]> {
  const held = gone.map((): Held => ({ records: 0, titles: [] }));
  if (!gone.length) return held;
  await eachBatch(typeId, transaction, async (ids) => {
    for (const { values, title } of await readRows(ids, transaction))
      for (const [i, one] of gone.entries()) {
        const own = held[i] as Held;
        if (!hasOption(values, one, one.option.key)) continue;
        own.records++;
        if (own.titles.length < MOST_NAMED) own.titles.push(title);
      }
  });
  return held;
}

/** The options that a type in another state would no longer have, and everything that has or names them. */
export async function previewOptions(typeId: string, input: unknown): Promise<OptionGoing[]> {
  const model = await readModel();
  const before = model.type(typeId);
  if (!before) throw notFound('content type with this id');
  const parsed = parseContentType(input);
  if (!parsed.ok) throw new Refusal(422, 'The content type is not complete.', parsed.problems);
  const gone = optionsGone(before, parsed.value);
  const held = await holders(typeId, gone);
  const templates = gone.length ? await readTemplates() : [];
  return gone.map(({ field, option }, i) => {
    const places = (count: number) => `in ${count} ${count === 1 ? 'place' : 'places'}`;
    const naming = <T>(list: readonly T[], use: (one: T, count: number) => TypeUse): TypeUse[] =>
      list.flatMap((one) => {
        const count = namesOption(one, field.id, option.key);
        return count ? [use(one, count)] : [];
      });
    return {
      field: field.id,
      fieldLabel: field.label,
      option: option.key,
      label: option.label,
      ...(held[i] as Held),
      uses: [
        ...naming(templates, ({ id, name }, count) => ({
          what: `Template “${name}”, ${places(count)}`,
          href: `/studio/workbench/${id}`,
        })),
        ...naming(model.rules, ({ name }, count) => ({
          what: `Rule “${name}”, ${places(count)}`,
          href: '/studio/rules',
        })),
      ],
    };
  });
}

/**
 * Brings records after options that are taken away, by what is said to become of them. Refused, with nothing changed,
 * where records have one of which nothing is said. Gives the type with its options that are gone but kept by records.
 */
export async function followOptions(
  type: ContentType,
  former: ContentType,
  answers: readonly OptionAnswer[],
  transaction: Transaction,
): Promise<ContentType> {
  const gone = optionsGone(former, type);
  const answerOf = ({ field, option }: GoneOption): Becomes | undefined =>
    answers.find((one) => one.field === field.id && one.option === option.key)?.becomes;
  const open = gone.filter((one) => !answerOf(one));
  const held = await holders(type.id, open, transaction);
  const at = ({ field, within }: GoneOption) =>
    `fields.${type.fields.findIndex(({ id }) => id === (within[0] ?? field).id)}.settings.options`;
  const problems: Problem[] = open.flatMap((one, i) => {
    const { records, titles } = held[i] as Held;
    return records
      ? [
          problem(
            at(one),
            `${records === 1 ? '1 record has' : `${records} records have`} “${one.option.label}” as ${one.field.label}: ${titles.join(', ')}${records > titles.length ? ' and others' : ''}.`,
            'Say what becomes of it: another option, nothing, or that it stays.',
          ),
        ]
      : [];
  });
  if (problems.length) throw new Refusal(409, 'Records have an option that would be gone.', problems);
  const moved = gone.flatMap((one) => {
    const becomes = answerOf(one);
    if (!becomes || 'stay' in becomes) return [];
    const to = 'to' in becomes ? becomes.to : undefined;
    if (to !== undefined && !optionsIn(one.after.settings).some(({ key }) => key === to))
      throw new Refusal(422, 'The content type is not complete.', [
        problem(
          at(one),
          `“${one.option.label}” cannot become “${to}”: there is no such option.`,
          'Choose one of the others.',
        ),
      ]);
    return [{ one, to }];
  });
  if (moved.length)
    await eachBatch(type.id, transaction, async (ids) => {
      for (const record of await lockRows(ids, transaction)) {
        const values = moved.reduce((now, { one, to }) => changeOption(now, one, one.option.key, to), record.values);
        if (values !== record.values) await writeValues({ id: record.id, values }, transaction);
      }
    });
  const stay = gone.filter((one) => 'stay' in (answerOf(one) ?? {}));
  const settle = (field: Field, before: Field | undefined): Field => {
    const fields = fieldsIn(field.settings);
    const formerFields = fieldsIn(before?.settings);
    const whole = fields.length
      ? {
          ...field,
          settings: {
            ...field.settings,
            fields: fields.map((one) =>
              settle(
                one,
                formerFields.find(({ id }) => id === one.id),
              ),
            ),
          },
        }
      : field;
    if (!hasOptions(field.settings)) return whole;
    const own = stay.filter(({ field: { id } }) => id === field.id).map(({ option }) => option);
    const known = before?.kind === field.kind ? ((before.settings.gone ?? []) as { key: string; label: string }[]) : [];
    return withGone(whole, [...known, ...own]);
  };
  return {
    ...type,
    fields: type.fields.map((field) =>
      settle(
        field,
        former.fields.find(({ id }) => id === field.id),
      ),
    ),
  };
}
