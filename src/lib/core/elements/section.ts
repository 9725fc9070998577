import sign from 'lucide/dist/esm/icons/rows-2.mjs';
import { z } from 'zod';
import { drawHolder, holderControls, holderProps, holderSlots } from './common';
import { atMost, isPageWide, SCREEN_ROOM } from '../styles/room';
import { defineElement, pick } from './element';

export const section = defineElement({
  name: 'section',
  label: 'Section',
  about: 'A band of the page: its ground reaches from edge to edge, what it holds keeps to a width.',
  sign,
  group: 'Layout',
  holds: true,
  props: z.object({
    ...holderProps,
    pad: z.enum(['none', 's', 'm', 'l']).default('l'),
    inner: z.enum(['page', 'narrow', 'text', 'full']).default('page'),
  }),
  controls: [
    {
      name: 'inner',
      label: 'What it holds is',
      as: 'pick',
      options: pick(
        ...[
          'page',
          'As wide as the page',
          'narrow',
          '1000 px wide',
          'text',
          'As wide as a text',
          'full',
          'From edge to edge',
        ],
      ),
    },
    ...holderControls,
  ],
  slots: holderSlots,
  rooms: ({ inner }, room) =>
    inner === 'full'
      ? isPageWide(room)
        ? SCREEN_ROOM
        : room
      : atMost(room, { page: 73, narrow: 62.5, text: 44 }[inner]),
  draw: (making) =>
    drawHolder(
      making,
      'section',
      ['band'],
      'Empty section',
      (inner) => `<div class="stack gap-${making.props.gap} inner-${making.props.inner}">${inner}</div>`,
    ),
});
