import { typeOfNode } from './schema-node';
import sign from 'lucide/dist/esm/icons/rows-3.mjs';
import { z } from 'zod';
import { rows as family } from '../families/rows';
import { FieldSchema, type Field } from '../../schema/field';
import { fieldSchema, isList, kindOf, parseFields, parseValue } from '../field';
import { defineKind, type Refs } from './kind';
import { Limits, limitControls } from './limits';

/** One entry: values by the id of their sub-field; empties are absent. */
type Row = Record<string, unknown>;

const each = (fields: Field[], row: Row) =>
  fields.flatMap((field) => {
    const known = kindOf(field);
    const value = row[field.id];
    return known && value !== undefined ? [{ field, value, ...known }] : [];
  });

/** Ids in `gone` taken out of one field's value, whatever its kind; undefined where nothing is left. */
export function withoutRefs(field: Field, value: unknown, gone: Refs): unknown {
  const known = kindOf(field);
  if (!known) return value;
  const { kind, settings } = known;
  const one = (v: unknown): unknown => {
    if (kind.pointsAt)
      return gone[kind.pointsAt === 'record' ? 'records' : 'media'].includes(v as number) ? undefined : v;
    return kind.without ? kind.without(v, settings, gone) : v;
  };
  if (!Array.isArray(value)) return one(value);
  const left = value.map(one).filter((v) => v !== undefined);
  return left.length ? left : undefined;
}

/** What one field's value points at, whatever its kind. */
export function refsOf(field: Field, value: unknown): Refs {
  const known = kindOf(field);
  const refs: Refs = { records: [], media: [] };
  if (!known || value === undefined) return refs;
  const { kind, settings } = known;
  for (const one of Array.isArray(value) ? (value as unknown[]) : [value]) {
    if (kind.pointsAt) refs[kind.pointsAt === 'record' ? 'records' : 'media'].push(one as number);
    const inner = kind.refs?.(one, settings);
    if (inner) {
      refs.records.push(...inner.records);
      refs.media.push(...inner.media);
    }
  }
  return refs;
}

/** A repeating group of sub-fields of any kind; rows may hold rows. */
export const rows = defineKind({
  name: 'rows',
  label: 'Rows',
  sign,
  family,
  forFields: true,
  control: 'rows',
  starts: () => ({ fields: [] }),
  unset: 'Rows have sub-fields of their own, so no value can be kept.',
  settings: z.object({
    fields: z
      .array(z.lazy(() => FieldSchema))
      .min(1, { error: 'Rows have at least one sub-field.' })
      .max(60)
      .superRefine((fields, context) => {
        const parsed = parseFields(fields, '');
        if (!parsed.ok)
          for (const { at, what } of parsed.problems)
            context.addIssue({ code: 'custom', message: what, path: at.split('.').filter(Boolean) });
      }),
    ...Limits,
  }),
  settingControls: [{ name: 'fields', label: 'Sub-fields', as: 'fields' }, ...limitControls],
  many: () => true,
  limits: ({ least, most }) => ({ least, most }),
  value: ({ fields }) =>
    z.record(z.string(), z.unknown(), { error: 'This is a row: values by sub-field.' }).transform((input, context) => {
      const row: Row = {};
      for (const [id, given] of Object.entries(input)) {
        const field = fields.find((f) => f.id === id);
        if (!field) {
          context.addIssue({ code: 'custom', message: `There is no sub-field “${id}”.`, path: [id] });
          continue;
        }
        const parsed = parseValue(field, given, '');
        if (parsed.ok) {
          if (parsed.value !== undefined) row[id] = parsed.value;
        } else
          for (const { at, what } of parsed.problems)
            context.addIssue({ code: 'custom', message: what, path: [id, ...at.split('.').filter(Boolean)] });
      }
      for (const field of fields)
        if (field.required && row[field.id] === undefined && Object.keys(row).length)
          context.addIssue({ code: 'custom', message: `“${field.label}” is required in each row.`, path: [field.id] });
      return row;
    }),
  isEmpty: (row) => Object.keys(row).length === 0,
  text: (row, { fields }, reader) =>
    each(fields, row)
      .map(({ value, kind, settings, many }) => {
        if (kind.family.leads === 'entry') return `${(value as unknown[]).length}`;
        return many || Array.isArray(value)
          ? (value as unknown[]).map((v) => kind.text(v, settings, reader)).join(', ')
          : kind.text(value, settings, reader);
      })
      .filter(Boolean)
      .join(', '),
  words: (row, { fields }) =>
    each(fields, row)
      .flatMap(({ value, kind, settings }) =>
        (Array.isArray(value) ? (value as unknown[]) : [value]).map((one) => kind.words?.(one, settings) ?? ''),
      )
      .join('\n'),
  schema: ({ fields }) => ({
    type: 'object',
    properties: Object.fromEntries(fields.map((field) => [field.key, fieldSchema(field)])),
    required: fields.filter((field) => field.required).map((field) => field.key),
    additionalProperties: false,
  }),
  last: true,
  fromSchema: (node, { fields, value }) => {
    const type = typeOfNode(node);
    if (type === 'object') return node.properties && { fields: fields(node), most: 1 };
    if (type !== 'array' || !node.items) return undefined;
    const { minItems: least, maxItems: most, items } = node;
    const one =
      items.type === 'object' || items.properties ? fields(items) : [value(items)].filter((v) => v !== undefined);
    return one.length ? { fields: one, least, most } : undefined;
  },
  refs: (row, { fields }) => {
    const all = each(fields, row).map(({ field, value }) => refsOf(field, value));
    return { records: all.flatMap((r) => r.records), media: all.flatMap((r) => r.media) };
  },
  without: (row, { fields }, gone) => {
    const left: Row = {};
    for (const { field, value } of each(fields, row)) {
      const kept = withoutRefs(field, value, gone);
      if (kept !== undefined) left[field.id] = kept;
    }
    return Object.keys(left).length ? left : undefined;
  },
  invent: (make, { fields }) =>
    Object.fromEntries(
      fields.flatMap((field) => {
        const value = inventValue(field, make);
        return value === undefined ? [] : [[field.id, value]];
      }),
    ),
});

/** A plausible value for a field: one, or a few for fields that hold several, within their limits. */
export function inventValue(field: Field, make: Parameters<typeof rows.invent>[0]): unknown {
  const known = kindOf(field);
  if (!known) return undefined;
  const { kind, settings } = known;
  const list = isList(known);
  if (!list) return kind.invent(make, settings);
  const { least = 0, most = 4 } = kind.limits?.(settings) ?? {};
  const count = Math.max(least, Math.min(most, 1 + Math.floor(make.random() * 3)));
  const values: unknown[] = [];
  for (let tries = 0; tries < count * 6 && values.length < count; tries++) {
    const value = kind.invent(make, settings);
    if (value !== undefined && (typeof value === 'object' || !values.includes(value))) values.push(value);
  }
  const tidy = kind.tidy?.(values, settings) ?? values;
  return tidy.length ? tidy : undefined;
}
