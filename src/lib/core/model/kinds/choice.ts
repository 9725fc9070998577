import { optionsIn } from './schema-node';
import sign from 'lucide/dist/esm/icons/circle-dot.mjs';
import { z } from 'zod';
import { choice as family } from '../families/choice';
import { fold } from '../../base/text';
import { defineKind, pickOne } from './kind';

const Option = z.object({ key: z.string().min(1).max(60), label: z.string().min(1).max(120) });
export type Option = z.infer<typeof Option>;

export const Options = z
  .array(Option)
  .min(1, { error: 'A choice has at least one option.' })
  .max(500, { error: 'A choice has 500 options at most.' })
  .refine((options) => new Set(options.map((o) => o.key)).size === options.length, {
    error: 'Two options have the same key.',
  });

/** Accepts the key of one of the options. */
export const oneOf = (options: Option[]) =>
  z.string({ error: 'This is one of the options.' }).refine((value) => options.some((o) => o.key === value), {
    error: `This is one of: ${options.map((o) => o.key).join(', ')}.`,
  });

export const labelOf = (key: string, options: Option[]): string =>
  options.find((option) => option.key === key)?.label ?? '';

/** The key that a cell means, by key or by label without case. */
export const keyFromCell = (cell: string, options: Option[]): string =>
  (options.find((o) => o.key === cell) ?? options.find((o) => fold(o.label) === fold(cell.trim())))?.key ?? cell;

export const optionSchema = (options: Option[]) => ({
  type: 'string',
  oneOf: options.map(({ key, label }) => ({ const: key, title: label })),
});

export const choice = defineKind({
  name: 'choice',
  label: 'Choice',
  sign,
  family,
  forFields: true,
  control: 'choice',
  starts: ({ options = [] }) => ({ options }),
  unset:
    'Give the options after the change; values that match one by its words are kept, the others would be lost when you save.',
  settings: z.object({ options: Options }),
  settingControls: [{ name: 'options', label: 'Options', as: 'options', help: 'One on each line.' }],
  value: ({ options }) => oneOf(options),
  isEmpty: (value) => value === '',
  text: (value, { options }) => labelOf(value, options),
  schema: ({ options }) => optionSchema(options),
  fromSchema: (node) => {
    const options = optionsIn(node);
    return options && { options };
  },
  fromCell: (cell, { options }) => keyFromCell(cell, options),
  invent: (make, { options }) => pickOne(make, options)?.key,
});
