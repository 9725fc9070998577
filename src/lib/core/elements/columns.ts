import sign from 'lucide/dist/esm/icons/columns-2.mjs';
import { z } from 'zod';
import { GAP_BROUGHT } from './common';
import { GAPS, parted } from '../styles/available-width';
import { defineElement, pick } from './element';

export const columns = defineElement({
  name: 'columns',
  label: 'Columns',
  about: 'Puts each element it holds into a column; on narrow screens they stand below each other.',
  sign,
  group: 'Layout',
  holds: true,
  fills: true,
  props: z.object({
    share: z.enum(['equal', 'wide-first', 'wide-last', 'facts', 'own']).default('equal'),
    /** How many parts each column has, with `own`; a column for which nothing is said has one. */
    shares: z.array(z.number().int().min(1).max(12)).max(12).default([]),
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
          'own',
          'Shares of their own',
        ],
      ),
    },
    { name: 'shares', label: 'Shares', as: 'shares', when: { name: 'share', is: ['own'] } },
    { name: 'reversed', label: 'Last one on top where narrow', as: 'switch' },
  ],
  slots: {},
  css: ({ share, shares }) =>
    share === 'own' && shares.length ? `--shares:${shares.map((parts) => `minmax(0,${parts}fr)`).join(' ')}` : '',
  rooms: ({ share, shares: own, gap }, room, at, count) => {
    const parts = Array.from({ length: count }, (_, i) => own[i] ?? 1);
    const shares: Record<typeof share, number> = {
      equal: count,
      'wide-first': at === 0 ? (count + 1) / 2 : count + 1,
      'wide-last': at % 2 ? 3 / 2 : 3,
      facts: 2,
      own: parts.reduce((sum, one) => sum + one, 0) / (parts[at] ?? 1),
    };
    const inRow = share === 'wide-last' || share === 'facts' ? 2 : count;
    return parted(room, [{ from: 48, of: count === 1 ? 1 : shares[share], gaps: GAPS[gap] * (inRow - 1) }]);
  },
  never: ['spread'],
  brought: GAP_BROUGHT,
  draw: ({ props, children, childCount, attributes, studio, blank }) => {
    if (!childCount && studio) return () => blank('Empty columns');
    const own = attributes('columns', `share-${props.share}`, `gap-${props.gap}`, props.reversed ? 'reversed' : '');
    return (env) => {
      const inner = children(env);
      return inner && `<div${own}>${inner}</div>`;
    };
  },
});
