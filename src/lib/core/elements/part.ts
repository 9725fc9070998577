import sign from 'lucide/dist/esm/icons/puzzle.mjs';
import { z } from 'zod';
import { PathSchema } from '../schema/path';
import { defineElement } from './element';

export const part = defineElement({
  name: 'part',
  label: 'Part',
  about: 'A piece that several templates share; it shows a record of the place it stands in.',
  sign,
  group: 'Repeats and pieces',
  holds: false,
  props: z.object({
    part: z.string().max(60).default(''),
    /** The record it shows; by itself the nearest that fits. */
    about: PathSchema.optional(),
  }),
  controls: [
    { name: 'part', label: 'Part', as: 'part' },
    { name: 'about', label: 'Shows', as: 'about' },
  ],
  slots: {},
  draw: ({ props, part: find, attributes, studio, blank }) => {
    const draw = find(props.part, props.about);
    const none = studio ? blank(props.part ? 'This part cannot be shown here' : 'Part not chosen yet') : '';
    if (!draw) return () => none;
    const open = `<div${attributes('part')}>`;
    return (env) => {
      const inner = draw(env);
      return inner && `${open}${inner}</div>`;
    };
  },
});
