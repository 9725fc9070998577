import sign from 'lucide/dist/esm/icons/minus.mjs';
import { z } from 'zod';
import { face } from '../styles/boxes';
import { defineElement, pick } from './element';

export const divider = defineElement({
  name: 'divider',
  label: 'Divider',
  about: 'A line between what stands above and below.',
  sign,
  group: 'Layout',
  holds: false,
  fills: true,
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
  boxes: [
    face('&', ['border', 'borderColour'], {
      css: { border: (value) => `border-width:${value} 0 0;border-style:solid none none` },
    }),
  ],
  never: ['padding', 'paddingBlock', 'paddingInline', 'ground', 'radius', 'shadow', 'minHeight', 'ratio'],
  draw: ({ props, attributes }) => {
    const html = `<hr${attributes('divider', `divider-${props.look}`)}>`;
    return () => html;
  },
});
