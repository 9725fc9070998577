import { z } from 'zod';
import { defineElement, pick } from './element';

export const box = defineElement({
  name: 'box',
  label: 'Box',
  about: 'Holds elements together, one below the other, in a row or in a grid.',
  glyph: '▢',
  holds: true,
  props: z.object({
    as: z.enum(['div', 'section', 'article', 'aside']).default('div'),
    flow: z.enum(['stack', 'row', 'grid']).default('stack'),
    gap: z.enum(['none', 's', 'm', 'l']).default('m'),
    pad: z.enum(['none', 's', 'm', 'l']).default('none'),
    ground: z.enum(['none', 'tint', 'deep', 'notice', 'lined']).default('none'),
  }),
  controls: [
    {
      name: 'flow',
      label: 'Arrange',
      as: 'pick',
      options: pick('stack', 'Below each other', 'row', 'In a row', 'grid', 'In a grid'),
    },
    { name: 'gap', label: 'Gap', as: 'pick', options: pick('none', 'None', 's', 'Small', 'm', 'Medium', 'l', 'Large') },
    {
      name: 'pad',
      label: 'Padding',
      as: 'pick',
      options: pick('none', 'None', 's', 'Small', 'm', 'Medium', 'l', 'Large'),
    },
    {
      name: 'ground',
      label: 'Ground',
      as: 'pick',
      options: pick('none', 'None', 'tint', 'Tint', 'deep', 'Deep', 'notice', 'Notice', 'lined', 'Outlined'),
    },
    {
      name: 'as',
      label: 'Stands for',
      as: 'pick',
      options: pick('div', 'Nothing more', 'section', 'A section', 'article', 'An article', 'aside', 'An aside'),
    },
  ],
  slots: {},
  draw: ({ props, children, childCount, attributes, studio, blank }) => {
    const classes = [props.flow, `gap-${props.gap}`];
    if (props.pad !== 'none') classes.push(`pad-${props.pad}`);
    if (props.ground !== 'none') classes.push(`ground-${props.ground}`);
    const open = `<${props.as}${attributes(...classes)}>`;
    const close = `</${props.as}>`;
    if (!childCount && studio) return () => blank('Empty box');
    return (env) => {
      const inner = children(env);
      return inner && open + inner + close;
    };
  },
});
