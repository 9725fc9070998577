import sign from 'lucide/dist/esm/icons/move-vertical.mjs';
import { z } from 'zod';
import { PADDING, SURFACE } from '../styles/boxes';
import { defineElement, pick } from './element';

export const spacer = defineElement({
  name: 'spacer',
  label: 'Spacer',
  about: 'Empty room; in a row it takes all that is left.',
  sign,
  group: 'Layout',
  holds: false,
  wordless: true,
  props: z.object({ size: z.enum(['s', 'm', 'l', 'xl']).default('m') }),
  controls: [
    {
      name: 'size',
      label: 'Size',
      as: 'pick',
      options: pick('s', 'Small', 'm', 'Medium', 'l', 'Large', 'xl', 'Very large'),
    },
  ],
  slots: {},
  never: [...SURFACE, ...PADDING, 'minHeight', 'ratio'],
  draw: ({ props, attributes }) => {
    const html = `<div${attributes('spacer', `spacer-${props.size}`)} aria-hidden="true"></div>`;
    return () => html;
  },
});
