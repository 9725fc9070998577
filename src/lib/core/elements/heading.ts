import sign from 'lucide/dist/esm/icons/letter-h.mjs';
import { z } from 'zod';
import { withoutLinks } from './common';
import { AFTER, BEFORE, face, pointed } from '../styles/boxes';
import { defineElement } from './element';

export const heading = defineElement({
  name: 'heading',
  label: 'Heading',
  about: 'A heading of level 1 to 6; it may lead somewhere.',
  sign,
  group: 'Words',
  holds: false,
  props: z.object({
    level: z.number().int().min(1).max(6).default(2),
    size: z.enum(['auto', 's', 'm', 'l', 'xl']).default('auto'),
  }),
  controls: [
    {
      name: 'level',
      label: 'Level',
      as: 'pick',
      options: [1, 2, 3, 4, 5, 6].map((value) => ({ value, label: String(value) })),
    },
  ],
  slots: {
    text: { label: 'Text', shape: 'inline', required: true },
    link: { label: 'Leads to', shape: 'url' },
  },
  // A page has one heading of the first level, and it is the first.
  startProps: (there) => (there.some(({ kind, props }) => kind === 'heading' && props.level === 1) ? {} : { level: 1 }),
  starts: { text: { fixed: 'Heading' } },
  boxes: [face('&', ['lines']), BEFORE, AFTER, pointed('link', 'Its link', '& a')],
  brought: {
    size: { auto: {}, s: { size: '1.15rem' }, m: { size: '1.4rem' }, l: { size: '1.9rem' }, xl: { size: 'huge' } },
  },
  draw: ({ props, slot, attributes, studio, blank }) => {
    const text = slot('text');
    const link = slot('link');
    const open = `<h${props.level}${attributes(...(props.size === 'auto' ? [] : [`size-${props.size}`]))}>`;
    const close = `</h${props.level}>`;
    const none = studio && !text.bound ? blank('Heading without text') : '';
    return (env) => {
      const words = text.inline(env);
      if (!words) return none;
      const url = link.url(env);
      return url ? `${open}<a href="${url}">${withoutLinks(words)}</a>${close}` : open + words + close;
    };
  },
});
