import sign from 'lucide/dist/esm/icons/refresh-cw.mjs';
import { z } from 'zod';
import { defineElement, pick } from './element';

/** What a special turn stands for. */
export const ITERATION_ROLES = ['first', 'last', 'nth', 'rule', 'group', 'between', 'nothing'] as const;
export type IterationRole = (typeof ITERATION_ROLES)[number];

/** Drawn by the loop that holds it, at the turns it stands for; by itself it shows what it holds. */
export const turn = defineElement({
  name: 'turn',
  label: 'Special turn',
  about:
    'In a loop: another item for some turns, the head of a group, what stands between, or what there is instead of nothing.',
  sign,
  group: 'Repeats and pieces',
  holds: true,
  props: z.object({
    as: z.enum(ITERATION_ROLES).default('first'),
    every: z.number().int().min(2).max(100).default(3),
    from: z.number().int().min(1).max(1000).default(1),
  }),
  controls: [
    {
      name: 'as',
      label: 'Stands for',
      as: 'pick',
      options: pick(
        ...['first', 'The first item', 'last', 'The last item', 'nth', 'Every n-th item'],
        ...['rule', 'Items for which its rule holds', 'group', 'The head of each group'],
        ...['between', 'What stands between items', 'nothing', 'When there is nothing'],
      ),
    },
    { name: 'every', label: 'Every', as: 'number', min: 2, max: 100, when: { name: 'as', is: ['nth'] } },
    { name: 'from', label: 'Beginning at', as: 'number', min: 1, max: 1000, when: { name: 'as', is: ['nth'] } },
  ],
  slots: {},
  draw: ({ children, childCount, attributes, studio, blank }) => {
    if (!childCount && studio) return () => blank('Special turn without anything in it');
    const own = attributes();
    return (env) => {
      const inner = children(env);
      return inner && own ? `<div${own}>${inner}</div>` : inner;
    };
  },
});
