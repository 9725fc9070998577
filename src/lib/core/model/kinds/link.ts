import { z } from 'zod';
import { fold, safeUrl } from '../../text';
import { defineKind } from './kind';

export const link = defineKind({
  name: 'link',
  label: 'Link',
  glyph: '↗',
  family: 'link',
  forFields: true,
  control: 'link',
  settings: z.object({}),
  settingControls: [],
  value: () =>
    z.object(
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
  index: (value) => ({ text: fold(value.url) }),
});
