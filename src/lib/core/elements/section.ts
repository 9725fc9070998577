import sign from 'lucide/dist/esm/icons/rows-2.mjs';
import { z } from 'zod';
import { drawHolder, HOLDER_BROUGHT, holderControls, holderProps, holderSlots } from './common';
import { atMost, isPageWide, SCREEN_WIDTH } from '../styles/available-width';
import { propertyNamed } from '../styles/properties';
import { face } from '../styles/boxes';
import { defineElement, pick } from './element';

export const section = defineElement({
  name: 'section',
  label: 'Section',
  about: 'A band of the page: its ground reaches from edge to edge, what it holds keeps to a width.',
  sign,
  group: 'Layout',
  holds: true,
  fills: true,
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
        ? SCREEN_WIDTH
        : room
      : atMost(room, { page: 73, narrow: 62.5, text: 44 }[inner]),
  boxes: [
    face('& > .stack', ['gap', 'items', 'spread']),
    // Narrower than the screen it stands in the middle.
    face('&', ['width', 'maxWidth'], {
      css: {
        width: (value) => `${propertyNamed('width')?.css(value)};margin-inline:auto`,
        maxWidth: (value) => `max-width:${value};margin-inline:auto`,
      },
    }),
  ],
  brought: HOLDER_BROUGHT,
  draw: (making) =>
    drawHolder(
      making,
      'section',
      ['band'],
      'Empty section',
      (inner) => `<div class="stack gap-${making.props.gap} inner-${making.props.inner}">${inner}</div>`,
    ),
});
