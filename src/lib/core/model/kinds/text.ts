import { isText } from './schema-node';
import sign from 'lucide/dist/esm/icons/type.mjs';
import { z } from 'zod';
import { text as family } from '../families/text';
import { defineKind } from './kind';
import { Language, languageControl } from './language';
import { lengthControls, Lengths, lengthSchema, textOf } from './limits';

const MOST = 10_000;

export const text = defineKind({
  name: 'text',
  label: 'Text',
  sign,
  family,
  forFields: true,
  control: 'line',
  settings: z.object({ ...Lengths, language: Language }),
  settingControls: [...lengthControls, languageControl],
  value: (settings) =>
    textOf(settings, MOST, 'This is a line of text.').refine((value) => !/[\r\n]/.test(value), {
      error: 'This is one line; take the line breaks out.',
    }),
  isEmpty: (value) => value.trim() === '',
  text: (value) => value,
  words: (value) => value,
  schema: (settings) => ({ ...lengthSchema(settings, MOST), pattern: '^[^\\r\\n]*$' }),
  last: true,
  fromSchema: (node) =>
    isText(node) && (node.maxLength ?? 0) <= 500 ? { minLength: node.minLength, maxLength: node.maxLength } : undefined,
  invent: (make, { minLength = 0, maxLength = 80 }) =>
    make.sentence().slice(0, maxLength).trim().padEnd(minLength, '.'),
});
