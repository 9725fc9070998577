import sign from 'lucide/dist/esm/icons/shapes.mjs';
import { z } from 'zod';
import { drawIcon } from '../base/icons';
import { withoutLinks } from './common';
import { defineElement, pick } from './element';

export const icon = defineElement({
  name: 'icon',
  label: 'Icon',
  about: 'A sign of the shipped set, with words beside it if you like; it may lead somewhere.',
  sign,
  group: 'Pictures',
  holds: false,
  props: z.object({ size: z.enum(['s', 'm', 'l', 'xl']).default('m') }),
  controls: [
    {
      name: 'size',
      label: 'Size',
      as: 'pick',
      options: pick('s', 'As the text', 'm', 'Medium', 'l', 'Large', 'xl', 'Very large'),
    },
  ],
  slots: {
    icon: { label: 'Icon', shape: 'icon', required: true },
    label: { label: 'Words', shape: 'inline' },
    link: { label: 'Leads to', shape: 'url' },
  },
  brings: { roles: ['icon'], slot: 'icon' },
  face: { selector: '.icon', has: new Set(['size']) },
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [sign, label, link] = [slot('icon'), slot('label'), slot('link')];
    const open = `<p${attributes('icon-line', `icon-${props.size}`)}>`;
    const none = studio && !sign.bound ? blank('Icon not chosen yet') : '';
    return (env) => {
      const name = sign.found(env)?.value as string | undefined;
      if (!name) return none;
      const words = label.inline(env);
      const url = words ? link.url(env) : '';
      const inner = `${drawIcon(name)}${words && `<span>${url ? withoutLinks(words) : words}</span>`}`;
      return `${open}${url ? `<a href="${url}">${inner}</a>` : inner}</p>`;
    };
  },
});
