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

interface Offered {
  options: Option[];
  gone?: Option[];
}

/** Options that are no longer offered, and whose values records may still have. */
export const Gone = z.array(Option).max(1000).optional();

/** What a value is called whose option is gone; undefined for the others. */
export const goneWords = (key: string, { options, gone = [] }: Offered): string | undefined =>
  options.some((option) => option.key === key)
    ? undefined
    : `${gone.find((option) => option.key === key)?.label ?? key} (no longer an option)`;

/** Accepts the key of one of the options, and of one that is gone: what a record has it keeps. */
export const oneOf = ({ options, gone = [] }: Offered) =>
  z
    .string({ error: 'This is one of the options.' })
    .refine((value) => [...options, ...gone].some((o) => o.key === value), {
      error: `This is one of: ${options.map((o) => o.key).join(', ')}.`,
    });

/** The words of an option, of one that is gone too: what visitors see does not change by it. */
export const labelOf = (key: string, { options, gone = [] }: Offered): string =>
  (options.find((option) => option.key === key) ?? gone.find((option) => option.key === key))?.label ?? '';

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
  settings: z.object({ options: Options, gone: Gone }),
  settingControls: [{ name: 'options', label: 'Options', as: 'options', help: 'One on each line.' }],
  value: oneOf,
  isEmpty: (value) => value === '',
  text: labelOf,
  called: goneWords,
  schema: ({ options }) => optionSchema(options),
  fromSchema: (node) => {
    const options = optionsIn(node);
    return options && { options };
  },
  fromCell: (cell, { options }) => keyFromCell(cell, options),
  invent: (make, { options }) => pickOne(make, options)?.key,
});
