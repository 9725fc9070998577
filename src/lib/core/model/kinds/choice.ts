import { z } from 'zod';
import { defineKind } from './kind';

const Option = z.object({ key: z.string().min(1).max(60), label: z.string().min(1).max(120) });

export const choice = defineKind({
  name: 'choice',
  label: 'Choice',
  glyph: '◈',
  family: 'choice',
  forFields: true,
  control: 'choice',
  settings: z.object({
    options: z
      .array(Option)
      .min(1, { error: 'A choice has at least one option.' })
      .refine((options) => new Set(options.map((o) => o.key)).size === options.length, {
        error: 'Two options have the same key.',
      }),
  }),
  settingControls: [{ name: 'options', label: 'Options', as: 'options', help: 'One on each line.' }],
  value: ({ options }) =>
    z.string({ error: 'This is one of the options.' }).refine((value) => options.some((o) => o.key === value), {
      error: `This is one of: ${options.map((o) => o.key).join(', ')}.`,
    }),
  isEmpty: (value) => value === '',
  text: (value, { options }) => options.find((option) => option.key === value)?.label ?? '',
  index: (value) => ({ text: value }),
});
