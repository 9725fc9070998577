import { formerOptionsIn, hasOptions, optionsIn } from '../model/settings';
import { z } from 'zod';
import { subFieldsOf } from '../model/field';
import type { Field } from '../schema/field';
import type { ContentType } from '../schema/model';
import type { Option } from '../model/kinds/choice';

/** A field of choices, and the fields of rows that it stands in, outermost first. */
export interface ChoiceField {
  within: Field[];
  field: Field;
}

const optionsOf = ({ settings }: Field): Option[] => optionsIn(settings);
/** Options that are no longer offered, but that records may still have. */
export const goneOptions = ({ settings }: Pick<Field, 'settings'>): Option[] => formerOptionsIn(settings);

/** The fields with options of a type, those of rows too. */
function choiceFields(fields: readonly Field[], within: Field[] = []): ChoiceField[] {
  return fields.flatMap((field) => [
    ...(hasOptions(field.settings) ? [{ within, field }] : []),
    ...choiceFields(subFieldsOf(field) ?? [], [...within, field]),
  ]);
}

/** An option that a change takes away. */
export interface GoneOption extends ChoiceField {
  /** The field as it will be. */
  after: Field;
  option: Option;
}

/** The options that are taken away from fields which stay what they are. */
export function optionsGone(before: ContentType, after: ContentType): GoneOption[] {
  const now = new Map(choiceFields(after.fields).map((one) => [one.field.id, one.field]));
  return choiceFields(before.fields).flatMap(({ within, field }) => {
    const own = now.get(field.id);
    if (!own || own.kind !== field.kind) return [];
    const kept = new Set(optionsOf(own).map(({ key }) => key));
    return optionsOf(field)
      .filter(({ key }) => !kept.has(key))
      .map((option) => ({ within, field, after: own, option }));
  });
}

/**
 * What becomes of the values of an option that is taken away: another option of the field, nothing, or they stay what they
 * are, and say that their option is gone.
 */
export const BecomesSchema = z.union([
  z.strictObject({ to: z.string().max(60) }),
  z.strictObject({ empty: z.literal(true) }),
  z.strictObject({ stay: z.literal(true) }),
]);
export type Becomes = z.infer<typeof BecomesSchema>;

/** What is said to become of the values of one option, by the ids of its field and its own key. */
export const OptionAnswerSchema = z.strictObject({
  field: z.string().max(40),
  option: z.string().max(60),
  becomes: BecomesSchema,
});
export type OptionAnswer = z.infer<typeof OptionAnswerSchema>;

/** An option that would go, with what has it and what names it. */
export interface OptionGoing {
  field: string;
  fieldLabel: string;
  option: string;
  label: string;
  /** How many records have it, and the titles of some. */
  records: number;
  titles: string[];
  uses: { what: string; href?: string }[];
}

/** The same, with the pages that visitors see now and that read its field, by template. */
export type OptionGoingSeen = OptionGoing & { released: { template: string; pages: number }[] };

/** A field with what becomes of its options: those whose values stay are remembered by their words. */
export function withGone(field: Field, left: readonly Option[]): Field {
  const offered = new Set(optionsOf(field).map(({ key }) => key));
  const all = new Map([...goneOptions(field), ...left].map((option) => [option.key, option]));
  const gone = [...all.values()].filter(({ key }) => !offered.has(key));
  const { gone: _, ...settings } = field.settings;
  return { ...field, settings: gone.length ? { ...settings, gone } : settings };
}

const mapRows = (value: unknown, change: (row: Record<string, unknown>) => Record<string, unknown>): unknown =>
  Array.isArray(value) ? (value as Record<string, unknown>[]).map(change) : value;

/** Values with each one that is an option changed; `undefined` takes it away. The same object where nothing has it. */
export function changeOption(
  values: Record<string, unknown>,
  { within, field }: ChoiceField,
  key: string,
  to: string | undefined,
): Record<string, unknown> {
  const [outer, ...rest] = within;
  if (outer) {
    const value = values[outer.id];
    const next = mapRows(value, (row) => changeOption(row, { within: rest, field }, key, to));
    const same = Array.isArray(value) && (value as unknown[]).every((row, i) => row === (next as unknown[])[i]);
    return value === undefined || same ? values : { ...values, [outer.id]: next };
  }
  const value = values[field.id];
  if (Array.isArray(value) ? !value.includes(key) : value !== key) return values;
  const { [field.id]: _, ...others } = values;
  if (!Array.isArray(value)) return to === undefined ? others : { ...others, [field.id]: to };
  const list = [...new Set((value as string[]).flatMap((one) => (one === key ? (to ?? []) : one)))];
  return list.length ? { ...others, [field.id]: list } : others;
}

/** Whether values have an option. */
export const hasOption = (values: Record<string, unknown>, at: ChoiceField, key: string): boolean =>
  changeOption(values, at, key, undefined) !== values;

/**
 * In how many places of anything that is designed, as plain data, an option is named: tests and branches that ask for it,
 * and whatever else says it beside a path that ends in its field.
 */
export function namesOption(node: unknown, fieldId: string, key: string): number {
  if (Array.isArray(node))
    return (node as unknown[]).reduce<number>((sum, one) => sum + namesOption(one, fieldId, key), 0);
  if (typeof node !== 'object' || node === null) return 0;
  const all = node as Record<string, unknown>;
  const steps = (all.path as { steps?: unknown[] } | undefined)?.steps;
  if (Array.isArray(steps) && steps.at(-1) === fieldId && 'operand' in all) {
    const { operand } = all;
    return (Array.isArray(operand) ? operand.includes(key) : operand === key) ? 1 : 0;
  }
  return Object.values(all).reduce<number>((sum, one) => sum + namesOption(one, fieldId, key), 0);
}
