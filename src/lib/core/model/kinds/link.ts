import { isText } from './schema-node';
import sign from 'lucide/dist/esm/icons/link.mjs';
import { z } from 'zod';
import { link as family } from '../families/link';
import { safeUrl } from '../../base/text';
import { defineKind } from './kind';

/** What `safeUrl` lets through, as JSON Schema can say it: one of four schemes, or none. */
export const ADDRESS =
  '^(\\s*$|[hH][tT][tT][pP][sS]?:|[mM][aA][iI][lL][tT][oO]:|[tT][eE][lL]:|(?!//|\\\\|/\\\\)[^:]*$|(?!//|\\\\|/\\\\)[^:]*[^A-Za-z0-9+.:-][^:]*:)';

export const link = defineKind({
  name: 'link',
  label: 'Link',
  sign,
  family,
  forFields: true,
  control: 'link',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z.strictObject(
      {
        url: z
          .string()
          .max(2000, { error: 'An address takes 2,000 characters at most.' })
          .refine((url) => url.trim() === '' || safeUrl(url) !== '', {
            error: 'An address starts with https://, http://, mailto:, tel: or /.',
          }),
        label: z.string().max(300).optional(),
      },
      { error: 'This is a link: an address and, if you like, words for it.' },
    ),
  isEmpty: (value) => value.url.trim() === '',
  text: (value) => value.label?.trim() || value.url.replace(/^https?:\/\/|^mailto:|^tel:|\/$/g, ''),
  url: (value) => safeUrl(value.url),
  schema: () => ({
    type: 'object',
    properties: {
      url: { type: 'string', maxLength: 2000, pattern: ADDRESS },
      label: { type: 'string', maxLength: 300 },
    },
    required: ['url'],
    additionalProperties: false,
  }),
  fromSchema: (node) => (isText(node, 'uri', 'iri', 'uri-reference') ? {} : undefined),
  fromCell: (cell) => {
    const both = /^(.*\S)\s*<([^<>]*)>$/s.exec(cell.trim());
    return both ? { url: both[2] as string, label: both[1] } : { url: cell.trim() };
  },
  toCell: ({ url, label }) => (label ? `${label} <${url}>` : url),
  invent: (make) => ({
    url: `https://${make.words(1).toLowerCase()}.example/${make.words(1).toLowerCase()}`,
    label: make.words(2),
  }),
});
