import { z } from 'zod';
import { escapeHtml, fold } from '../../text';
import { defineKind } from './kind';

/** A blank line parts paragraphs, a single break is a line break. */
export function paragraphs(value: string): string {
  return value
    .replace(/\r\n?/g, '\n')
    .split(/\n[ \t]*\n\s*/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => `<p>${escapeHtml(part).replace(/\n/g, '<br>')}</p>`)
    .join('');
}

export const longText = defineKind({
  name: 'longtext',
  label: 'Long text',
  glyph: '¶',
  family: 'text',
  forFields: true,
  control: 'area',
  settings: z.object({ maxLength: z.number().int().positive().optional() }),
  settingControls: [{ name: 'maxLength', label: 'Longest, in characters', as: 'number' }],
  value: ({ maxLength }) =>
    z
      .string({ error: 'This is text.' })
      .max(maxLength ?? 200_000, { error: `This takes ${maxLength ?? 200_000} characters at most.` }),
  isEmpty: (value) => value.trim() === '',
  text: (value) => value,
  blocks: paragraphs,
  index: (value) => ({ text: fold(value) }),
});
