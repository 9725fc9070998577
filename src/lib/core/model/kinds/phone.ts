import sign from 'lucide/dist/esm/icons/phone.mjs';
import { z } from 'zod';
import { link as family } from '../families/link';
import { defineKind } from './kind';

/** Digits with the visual separators of RFC 3966 (5.1.1) and spaces; a plus before global numbers. */
const PHONE = '^\\+?[0-9 ().\\-]*[0-9][0-9 ().\\-]*(?: ?(?:x|ext\\.?) ?[0-9]{1,6})?$';

export const phone = defineKind({
  name: 'phone',
  label: 'Telephone number',
  sign,
  family,
  role: 'link',
  forFields: true,
  control: 'line',
  input: 'tel',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z
      .string({ error: 'This is a telephone number.' })
      .max(40, { error: 'A telephone number takes 40 characters at most.', abort: true })
      .regex(new RegExp(PHONE), {
        error: 'This is a telephone number: digits, spaces and hyphens, + in front if global.',
      }),
  isEmpty: (value) => value.trim() === '',
  text: (value) => value,
  url: (value) => {
    const [number = '', extension] = value.split(/x|ext\.?/);
    return `tel:${number.replace(/[^0-9+]/g, '')}${extension ? `;ext=${extension.trim()}` : ''}`;
  },
  schema: () => ({ type: 'string', maxLength: 40, pattern: PHONE }),
  fromCell: (cell) => cell.trim(),
  invent: (make) => `01632 960${String(Math.floor(make.random() * 1000)).padStart(3, '0')}`,
});
