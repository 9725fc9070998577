import sign from 'lucide/dist/esm/icons/minus.mjs';
import { z } from 'zod';
import { defineElement, pick } from './element';

export const divider = defineElement({
  name: 'divider',
  label: 'Divider',
  about: 'A line between what stands above and below.',
  sign,
  group: 'Layout',
  holds: false,
  wordless: true,
  props: z.object({ look: z.enum(['line', 'dots', 'short']).default('line') }),
  controls: [
    {
      name: 'look',
      label: 'Look',
      as: 'pick',
      options: pick('line', 'A line', 'dots', 'Dots', 'short', 'A short line'),
    },
  ],
  slots: {},
  draw: ({ props, attributes }) => {
    const html = `<hr${attributes('divider', `divider-${props.look}`)}>`;
    return () => html;
  },
});
