import { z } from 'zod';
import { defineElement, pick } from './element';

export const columns = defineElement({
  name: 'columns',
  label: 'Columns',
  about: 'Puts each element it holds into a column; on narrow screens they stand below each other.',
  glyph: '▥',
  holds: true,
  props: z.object({
    share: z.enum(['equal', 'wide-first', 'wide-last']).default('equal'),
    gap: z.enum(['s', 'm', 'l']).default('l'),
  }),
  controls: [
    {
      name: 'share',
      label: 'Widths',
      as: 'pick',
      options: pick('equal', 'Equal', 'wide-first', 'First one wide', 'wide-last', 'Last one wide'),
    },
    { name: 'gap', label: 'Gap', as: 'pick', options: pick('s', 'Small', 'm', 'Medium', 'l', 'Large') },
  ],
  slots: {},
  draw: ({ props, children, childCount, attributes, studio, blank }) => {
    if (!childCount && studio) return () => blank('Empty columns');
    const open = `<div${attributes('columns', `share-${props.share}`, `gap-${props.gap}`)}>`;
    return (env) => {
      const inner = children(env);
      return inner && `${open}${inner}</div>`;
    };
  },
});
