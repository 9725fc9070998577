import sign from 'lucide/dist/esm/icons/star.mjs';
import { z } from 'zod';
import { writeNumber } from '../base/write';
import { box } from '../styles/boxes';
import { defineElement, pick } from './element';

/** Outlines in a box of 24 by 24. */
const SIGNS = {
  star: '<path d="M12 2.6l2.9 6 6.6.9-4.8 4.6 1.2 6.6-5.9-3.2-5.9 3.2 1.2-6.6L2.5 9.5l6.6-.9z"/>',
  disc: '<circle cx="12" cy="12" r="8"/>',
  peak: '<path d="M12 4l9.5 16h-19z"/>',
};

export const rating = defineElement({
  name: 'rating',
  label: 'Rating',
  about: 'A number as signs filled in a row, in halves where the number has them.',
  sign,
  group: 'Values',
  holds: false,
  props: z.object({
    of: z.number().int().min(1).max(20).default(5),
    sign: z.enum(['star', 'disc', 'peak']).default('star'),
    figure: z.boolean().default(false),
  }),
  controls: [
    { name: 'of', label: 'Out of', as: 'number', min: 1, max: 20 },
    { name: 'sign', label: 'Sign', as: 'pick', options: pick('star', 'Stars', 'disc', 'Discs', 'peak', 'Peaks') },
    { name: 'figure', label: 'With the number', as: 'switch' },
  ],
  slots: {
    value: { label: 'Number', shape: 'number', required: true },
    label: { label: 'Words before', shape: 'inline' },
  },
  boxes: [box('signs', 'Signs', '& .signs', ['size', 'colour'])],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [source, label] = [slot('value'), slot('label')];
    const open = `<p${attributes('rating')}>`;
    const none = studio && !source.bound ? blank('Rating without a number') : '';
    const sign = SIGNS[props.sign];
    const part = (state: string, inner = '') =>
      `<svg class="${state}" viewBox="0 0 24 24" aria-hidden="true">${sign}${inner}</svg>`;
    const [full, half, empty] = [
      part('full'),
      part('half', `<g clip-path="inset(0 50% 0 0)">${sign}</g>`),
      part('none'),
    ];
    return (env) => {
      const value = source.found(env)?.value as number | undefined;
      if (value === undefined) return none;
      const halves = Math.round(Math.min(props.of, Math.max(0, value)) * 2);
      const [whole, broken] = [Math.floor(halves / 2), halves % 2];
      const signs = full.repeat(whole) + (broken ? half : '') + empty.repeat(props.of - whole - broken);
      const figure = writeNumber(value, env.model.site.locale, { maximumFractionDigits: 1 });
      const words = label.inline(env);
      return `${open}${words && `${words} `}<span class="signs" role="img" aria-label="${figure}/${props.of}">${signs}</span>${props.figure ? ` <span aria-hidden="true">${figure}</span>` : ''}</p>`;
    };
  },
});
