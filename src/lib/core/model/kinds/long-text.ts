import { isText } from './schema-node';
import sign from 'lucide/dist/esm/icons/text-align-start.mjs';
import { z } from 'zod';
import { text as family } from '../families/text';
import { escapeHtml } from '../../base/text';
import { defineKind } from './kind';
import { Language, languageControl } from './language';
import { lengthControls, Lengths, lengthSchema, textOf } from './limits';

const BREAKS = /[\r\n]/;
/** Text that stands in a paragraph as it is: no markup, no breaks, no white space at either end. */
const NOT_PLAIN = /[&<>"'\r\n]|^\s|\s$/;

/**
 * Text as HTML: a blank line parts paragraphs, a single break is a line break. `attributes` go to the one paragraph, or
 * to a `div` around several. '' for nothing but white space.
 */
export function paragraphs(value: string, attributes = ''): string {
  if (!NOT_PLAIN.test(value)) return value && `<p${attributes}>${value}</p>`;
  if (!BREAKS.test(value)) {
    const line = value.trim();
    return line && `<p${attributes}>${escapeHtml(line)}</p>`;
  }
  const parts = value
    .replace(/\r\n?/g, '\n')
    .split(/\n[ \t]*\n\s*/)
    .map((part) => part.trim())
    .filter(Boolean)
    .map((part) => escapeHtml(part).replace(/\n/g, '<br>'));
  if (parts.length === 1) return `<p${attributes}>${parts[0]}</p>`;
  const inner = parts.map((part) => `<p>${part}</p>`).join('');
  return inner && attributes ? `<div${attributes}>${inner}</div>` : inner;
}

const MOST = 200_000;

export const longText = defineKind({
  name: 'longtext',
  label: 'Long text',
  sign,
  family,
  role: 'story',
  forFields: true,
  control: 'area',
  settings: z.object({ ...Lengths, language: Language }),
  settingControls: [...lengthControls, languageControl],
  value: (settings) => textOf(settings, MOST),
  isEmpty: (value) => value.trim() === '',
  text: (value) => value,
  words: (value) => value,
  schema: (settings) => lengthSchema(settings, MOST),
  last: true,
  fromSchema: (node) => (isText(node) ? { minLength: node.minLength, maxLength: node.maxLength } : undefined),
  invent: (make, { minLength = 0, maxLength = 2000 }) =>
    `${make.sentence()} ${make.sentence()}\n\n${make.sentence()}`.slice(0, maxLength).trim().padEnd(minLength, '.'),
});
