import sign from 'lucide/dist/esm/icons/link.mjs';
import { z } from 'zod';
import { linkWords } from './common';
import { AFTER, BEFORE, face, PADDING, STATES, SURFACE, WORDS } from '../styles/boxes';
import { defineElement, pick } from './element';

export const link = defineElement({
  name: 'link',
  label: 'Link',
  about: 'Words that lead to an address.',
  sign,
  group: 'Words',
  holds: false,
  // The looks of a button were here before there was an element for it, and are still drawn.
  props: z.object({ look: z.enum(['plain', 'quiet', 'button', 'outline']).default('plain') }),
  controls: [{ name: 'look', label: 'Look', as: 'pick', options: pick('plain', 'Underlined', 'quiet', 'Quiet') }],
  slots: {
    label: { label: 'Words', shape: 'inline', required: true },
    link: { label: 'Leads to', shape: 'url', required: true },
  },
  starts: { label: { fixed: 'Read more' } },
  brings: { roles: ['link'], slot: 'link', words: { slot: 'label', as: 'value' } },
  boxes: [face('& a', [...SURFACE, ...PADDING, ...WORDS, 'change'], { states: STATES }), BEFORE, AFTER],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [label, target] = [slot('label'), slot('link')];
    const open = `<p${attributes('link', `look-${props.look}`)}><a href="`;
    const none = studio && !target.bound ? blank('Link that leads nowhere yet') : '';
    return (env) => {
      const url = target.url(env);
      const words = linkWords(url, label.inline(env));
      return url && words ? `${open}${url}">${words}</a></p>` : none;
    };
  },
});
