import sign from 'lucide/dist/esm/icons/split.mjs';
import { z } from 'zod';
import type { Env } from '../paths/env';
import { defineElement } from './element';

export const alternatives = defineElement({
  name: 'alternatives',
  label: 'Alternatives',
  about: 'Shows exactly one of what it holds: the first whose rule holds.',
  sign,
  group: 'Repeats and pieces',
  holds: true,
  props: z.object({}),
  controls: [],
  slots: {},
  draw: ({ branches, childCount, attributes, studio, blank }) => {
    if (!childCount && studio) return () => blank('Alternatives without a branch');
    const own = attributes('alternatives');
    const shownIn = (env: Env) =>
      (env.held && branches.find(({ id }) => env.held?.has(id))) ?? branches.find((branch) => branch.holds(env));
    return (env) => {
      const inner = shownIn(env)?.draw(env) ?? '';
      // Only the canvas needs something to find it by; own looks need something to hold them.
      return inner && (own !== ' class="alternatives"' ? `<div${own}>${inner}</div>` : inner);
    };
  },
});
