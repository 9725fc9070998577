import { z } from 'zod';
import { defineElement } from './element';

export const alternatives = defineElement({
  name: 'alternatives',
  label: 'Alternatives',
  about: 'Shows exactly one of what it holds: the first whose rule holds.',
  glyph: 'Y',
  group: 'Repeats and pieces',
  holds: true,
  props: z.object({}),
  controls: [],
  slots: {},
  draw: ({ branches, childCount, attributes, studio, blank }) => {
    if (!childCount && studio) return () => blank('Alternatives without a branch');
    const own = attributes('alternatives');
    return (env) => {
      const inner = branches.find((branch) => branch.holds(env))?.draw(env) ?? '';
      // Only the canvas needs something to find it by; own looks need something to hold them.
      return inner && (own !== ' class="alternatives"' ? `<div${own}>${inner}</div>` : inner);
    };
  },
});
