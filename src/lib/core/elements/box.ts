import sign from 'lucide/dist/esm/icons/square.mjs';
import { z } from 'zod';
import { drawHolder, HOLDER_BROUGHT, holderControls, holderProps, holderSlots } from './common';
import { fitting, GAPS, PADS, within } from '../styles/available-width';
import { defineElement, pick } from './element';

export const box = defineElement({
  name: 'box',
  label: 'Box',
  about: 'Holds elements together: below each other, in a row, in a grid, or one over the other.',
  sign,
  group: 'Layout',
  holds: true,
  props: z.object({
    as: z.enum(['div', 'section', 'article', 'aside', 'header', 'footer', 'nav']).default('div'),
    flow: z.enum(['stack', 'row', 'grid', 'overlay']).default('stack'),
    ...holderProps,
  }),
  controls: [
    {
      name: 'flow',
      label: 'Arrange',
      as: 'pick',
      options: pick(
        ...['stack', 'Below each other', 'row', 'In a row', 'grid', 'In a grid', 'overlay', 'One over the other'],
      ),
    },
    ...holderControls,
    {
      name: 'as',
      label: 'Stands for',
      as: 'pick',
      options: pick(
        ...['div', 'Nothing more', 'section', 'A section', 'article', 'An article', 'aside', 'An aside'],
        ...['header', 'A header', 'footer', 'A footer', 'nav', 'Navigation'],
      ),
    },
  ],
  slots: holderSlots,
  rooms: ({ flow, gap, pad }, room) => {
    const inside = within(room, PADS[pad] * 2);
    return flow === 'grid' ? fitting(inside, 16, GAPS[gap]) : inside;
  },
  brought: HOLDER_BROUGHT,
  draw: (making) => drawHolder(making, making.props.as, [making.props.flow], 'Empty box'),
});
