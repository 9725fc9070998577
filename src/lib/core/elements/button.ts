import sign from 'lucide/dist/esm/icons/square-mouse-pointer.mjs';
import { z } from 'zod';
import { drawIcon } from '../base/icons';
import { linkWords } from './common';
import { AFTER, BEFORE, box, face, PADDING, STATES, SURFACE, WORDS } from '../styles/boxes';
import { defineElement, pick } from './element';

export const button = defineElement({
  name: 'button',
  label: 'Button',
  about: 'A call to do something that leads to an address, with an icon if you like.',
  sign,
  group: 'Words',
  holds: false,
  props: z.object({
    look: z.enum(['button', 'outline']).default('button'),
    size: z.enum(['s', 'm', 'l']).default('m'),
  }),
  controls: [
    { name: 'look', label: 'Look', as: 'pick', options: pick('button', 'Filled', 'outline', 'Outlined') },
    { name: 'size', label: 'How large', as: 'pick', options: pick('s', 'Small', 'm', 'Medium', 'l', 'Large') },
  ],
  slots: {
    label: { label: 'Words', shape: 'inline', required: true },
    link: { label: 'Leads to', shape: 'url', required: true },
    icon: { label: 'Icon', shape: 'icon' },
  },
  starts: { label: { fixed: 'Read more' } },
  brings: { roles: ['button'], slot: 'link', words: { slot: 'label', as: 'name' } },
  boxes: [
    face('& a', [...SURFACE, ...PADDING, ...WORDS, 'change'], { states: STATES }),
    box('icon', 'Icon', '& .icon', ['size', 'colour']),
    BEFORE,
    AFTER,
  ],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [label, target, icon] = [slot('label'), slot('link'), slot('icon')];
    const open = `<p${attributes('link', `look-${props.look}`, props.size === 'm' ? '' : `button-${props.size}`)}><a href="`;
    const none = studio && !target.bound ? blank('Button that leads nowhere yet') : '';
    return (env) => {
      const url = target.url(env);
      const words = linkWords(url, label.inline(env));
      const mark = icon.found(env)?.value;
      return url && words ? `${open}${url}">${mark ? `${drawIcon(mark as string)} ` : ''}${words}</a></p>` : none;
    };
  },
});
