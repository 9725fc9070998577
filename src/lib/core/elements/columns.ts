import sign from 'lucide/dist/esm/icons/columns-2.mjs';
import { z } from 'zod';
import { GAP } from './common';
import { parted } from '../styles/room';
import { defineElement, pick } from './element';

export const columns = defineElement({
  name: 'columns',
  label: 'Columns',
  about: 'Puts each element it holds into a column; on narrow screens they stand below each other.',
  sign,
  group: 'Layout',
  holds: true,
  props: z.object({
    share: z.enum(['equal', 'wide-first', 'wide-last', 'facts']).default('equal'),
    gap: z.enum(['none', 's', 'm', 'l']).default('l'),
    reversed: z.boolean().default(false),
  }),
  controls: [
    {
      name: 'share',
      label: 'Widths',
      as: 'pick',
      options: pick(
        ...[
          'equal',
          'Equal',
          'wide-first',
          'First one wide',
          'wide-last',
          'Last one wide',
          'facts',
          'Two, filled row by row',
        ],
      ),
    },
    GAP,
    { name: 'reversed', label: 'Last one on top where narrow', as: 'switch' },
  ],
  slots: {},
  rooms: ({ share }, room, at, count) => {
    const shares: Record<typeof share, number> = {
      equal: count,
      'wide-first': at === 0 ? (count + 1) / 2 : count + 1,
      'wide-last': at % 2 ? 3 / 2 : 3,
      facts: 2,
    };
    return parted(room, [{ from: 48, of: count === 1 ? 1 : shares[share] }]);
  },
  draw: ({ props, children, childCount, attributes, studio, blank }) => {
    if (!childCount && studio) return () => blank('Empty columns');
    const own = attributes('columns', `share-${props.share}`, `gap-${props.gap}`, props.reversed ? 'reversed' : '');
    return (env) => {
      const inner = children(env);
      return inner && `<div${own}>${inner}</div>`;
    };
  },
});
