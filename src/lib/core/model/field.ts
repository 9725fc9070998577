import type { Field } from '../schema/field';
import { z } from 'zod';
import { fail, ok, problem, problemsOf, type Problem, type Result } from '../base/result';
import type { ShownAs } from './family';
import { roleOf, type FieldKind, type JsonSchema } from './kinds/kind';
import { kindNamed } from './kinds/registry';

interface Known {
  kind: FieldKind;
  settings: unknown;
  many: boolean;
}

/** The kind of a field and its settings as that kind reads them; undefined for a kind or settings that do not exist. */
export function kindOf(field: Field): Known | undefined {
  const known = kindCache.get(field);
  if (known !== undefined) return known ?? undefined;
  const kind = kindNamed(field.kind);
  const settings = kind?.settings.safeParse(field.settings);
  const found =
    kind && settings?.success ? { kind, settings: settings.data, many: kind.many?.(settings.data) ?? false } : null;
  kindCache.set(field, found);
  return found ?? undefined;
}
const kindCache = new WeakMap<Field, Known | null>();

/** What one value has to be, made once for each field. */
function schemaOf(known: Known): ReturnType<FieldKind['value']> {
  let schema = schemaCache.get(known);
  if (!schema) schemaCache.set(known, (schema = known.kind.value(known.settings)));
  return schema;
}
const schemaCache = new WeakMap<Known, ReturnType<FieldKind['value']>>();

/** Whether records hold a list for this field. Relations are lists of ids even where they take one. */
export const isList = ({ kind, many }: Pick<Known, 'kind' | 'many'>): boolean => many || kind.family.listed === true;

/** Whether a field leads on: to records, to the entries of rows, or nowhere. Also of one that is not set up yet. */
export const leadsOf = (field: Pick<Field, 'kind'>): 'record' | 'entry' | undefined =>
  kindNamed(field.kind)?.family.leads;

/** The sub-fields of a field that holds rows; undefined for every other. */
export function subFieldsOf(field: Field): Field[] | undefined {
  const known = kindOf(field);
  return known?.kind.family.leads === 'entry' ? known.kind.family.entries?.fields(known.settings) : undefined;
}

/** One side of what relates the records of content types. */
export interface RelationSide {
  /** The same on both sides. */
  relationId: string;
  side: 'a' | 'b';
  many: boolean;
  typeIds: string[];
}

/** What a field relates; undefined for one that does not lead to records. */
export function relationOf(field: Field): RelationSide | undefined {
  const known = kindOf(field);
  return known?.kind.family.leads === 'record' ? (known.settings as RelationSide) : undefined;
}

/** What shows the value of a field at its best; undefined for a kind or settings that do not exist. */
export const roleOfField = (field: Field): ShownAs | undefined => {
  const known = kindOf(field);
  return known && roleOf(known.kind, known.many);
};

/** How many values a field may hold without a limit of its own. */
const MOST_ENTRIES = 10_000;

/** One field's value as records hold it: undefined where empty. Relations are lists of record ids. */
export function parseValue(field: Field, input: unknown, at: string): Result<unknown> {
  const known = kindOf(field);
  if (!known)
    return fail(
      problem(at, `“${field.label}” has a kind or settings that do not exist.`, 'Mend the field in the content type.'),
    );
  if (input === null || input === undefined) return ok(undefined);
  const { kind, settings } = known;
  const schema = schemaOf(known);
  if (isList(known)) {
    const { least = 0, most = MOST_ENTRIES } = kind.limits?.(settings) ?? {};
    // Before any of them is looked at; empty ones among them do not count, but nobody sends so many.
    if (Array.isArray(input) && input.length > Math.max(most, MOST_ENTRIES))
      return fail(problem(at, `“${field.label}” takes ${most} at most; these are ${input.length}.`, 'Take some away.'));
    const parsed = z.array(schema, { error: `“${field.label}” is a list.` }).safeParse(input);
    if (!parsed.success) return fail(...problemsOf(parsed.error, at));
    const values = parsed.data.filter((value) => !kind.isEmpty(value));
    const unique = kind.family.repeats ? values : [...new Set(values)];
    if (unique.length > most)
      return fail(problem(at, `“${field.label}” takes ${most === 1 ? 'one' : `${most} at most`}.`, 'Take some away.'));
    if (unique.length && unique.length < least)
      return fail(problem(at, `“${field.label}” takes ${least} at least.`, 'Add some, or leave it empty.'));
    const tidy = kind.tidy?.(unique, settings) ?? unique;
    return ok(tidy.length ? tidy : undefined);
  }
  if (typeof input === 'string' && input.trim() === '') return ok(undefined);
  const parsed = schema.safeParse(input);
  if (!parsed.success) return fail(...problemsOf(parsed.error, at));
  return ok(kind.isEmpty(parsed.data) ? undefined : parsed.data);
}

/** Checks the fields of one type or of one field of rows: keys, kinds, settings and starting values. */
export function parseFields(fields: Field[], at: string): Result<Field[]> {
  const problems: Problem[] = [];
  const keys = new Set<string>();
  const ids = new Set<string>();
  const parsed = fields.map((field, i): Field => {
    const place = [at, i].filter((part) => part !== '').join('.');
    if (keys.has(field.key))
      problems.push(problem(`${place}.key`, `Two fields have the key “${field.key}”.`, 'Give one another key.'));
    keys.add(field.key);
    if (ids.has(field.id)) problems.push(problem(`${place}.id`, `Two fields have the id “${field.id}”.`));
    ids.add(field.id);
    const kind = kindNamed(field.kind);
    if (!kind?.forFields) {
      problems.push(
        problem(
          `${place}.kind`,
          `There is no kind of field named “${field.kind}”.`,
          'Choose one of the kinds offered.',
        ),
      );
      return field;
    }
    const settings = kind.settings.safeParse(field.settings);
    if (!settings.success) {
      problems.push(...problemsOf(settings.error, `${place}.settings`));
      return field;
    }
    const whole: Field = { ...field, settings: settings.data as Record<string, unknown> };
    if (field.initial !== undefined && field.initial !== null) {
      const initial = parseValue(whole, field.initial, `${place}.initial`);
      if (!initial.ok) problems.push(...initial.problems);
    }
    return whole;
  });
  return problems.length ? fail(...problems) : ok(parsed);
}

/** A field's value as JSON Schema (2020-12), with what only this application knows under `x-plum-thread`. */
export function fieldSchema(field: Field): JsonSchema {
  const known = kindOf(field);
  if (!known) return {};
  const { kind, settings } = known;
  const { least, most } = kind.limits?.(settings) ?? {};
  const one = kind.schema(settings);
  const { id, kind: name, required, unique, tab, help } = field;
  return {
    title: field.label,
    ...(field.help ? { description: field.help } : {}),
    ...(isList(known)
      ? {
          type: 'array',
          items: one,
          ...(kind.family.repeats ? {} : { uniqueItems: true }),
          ...(least ? { minItems: least } : {}),
          maxItems: most ?? MOST_ENTRIES,
        }
      : one),
    ...(field.initial === undefined || field.initial === null ? {} : { default: field.initial }),
    'x-plum-thread': { id, kind: name, help, required, unique, tab, settings: field.settings },
  };
}

/** A field of a kind with nothing said of it but its label, for values that no content type has. */
export const plainField = (id: string, label: string, kind: string, settings: Record<string, unknown> = {}): Field => ({
  id,
  key: id,
  label,
  kind,
  help: '',
  required: false,
  unique: false,
  tab: '',
  settings,
});
