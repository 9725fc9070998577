import { z } from 'zod';
import { defineElement, pick } from './element';

export const link = defineElement({
  name: 'link',
  label: 'Button or link',
  about: 'Words that lead to an address, as a button or as a plain link.',
  glyph: '↗',
  holds: false,
  props: z.object({ look: z.enum(['button', 'outline', 'plain']).default('button') }),
  controls: [
    {
      name: 'look',
      label: 'Look',
      as: 'pick',
      options: pick('button', 'Button', 'outline', 'Outlined button', 'plain', 'Plain link'),
    },
  ],
  slots: {
    label: { label: 'Words', shape: 'inline', required: true },
    link: { label: 'Leads to', shape: 'url', required: true },
  },
  starts: { label: { fixed: 'Read more' } },
  brings: { families: ['link', 'relation'], slot: 'link' },
  draw: ({ props, slot, attributes, studio, blank }) => {
    const label = slot('label');
    const target = slot('link');
    const open = `<p${attributes('link', `look-${props.look}`)}><a href="`;
    const none = studio && !target.bound ? blank('Link that leads nowhere yet') : '';
    return (env) => {
      const url = target.url(env);
      const words = label.inline(env);
      return url && words ? `${open}${url}">${words}</a></p>` : none;
    };
  },
});
