import { z } from 'zod';
import { fold } from '../../text';
import { defineKind } from './kind';

export const text = defineKind({
  name: 'text',
  label: 'Text',
  glyph: 'T',
  family: 'text',
  forFields: true,
  control: 'line',
  settings: z.object({ maxLength: z.number().int().positive().optional() }),
  settingControls: [{ name: 'maxLength', label: 'Longest, in characters', as: 'number' }],
  value: ({ maxLength }) =>
    z
      .string({ error: 'This is a line of text.' })
      .max(maxLength ?? 10_000, { error: `This takes ${maxLength ?? 10_000} characters at most.` })
      .refine((value) => !/[\r\n]/.test(value), { error: 'This is one line; take the line breaks out.' }),
  isEmpty: (value) => value.trim() === '',
  text: (value) => value,
  index: (value) => ({ text: fold(value) }),
});
