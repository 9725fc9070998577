import sign from 'lucide/dist/esm/icons/map.mjs';
import { z } from 'zod';
import { drawMap, planMap, type MapPoint } from '../draw/map';
import { CAPTION, CUT, face, SURFACE, WORDS } from '../styles/boxes';
import { defineElement, pick } from './element';

const HEIGHTS = { wide: 240, landscape: 427, square: 640 };

export const map = defineElement({
  name: 'map',
  label: 'Map picture',
  about: 'Places drawn on a net of degrees with a scale, without anything from outside.',
  sign,
  group: 'Values',
  holds: false,
  fills: true,
  props: z.object({
    shape: z.enum(['wide', 'landscape', 'square']).default('landscape'),
    span: z.number().min(0.1).max(20_000).default(20),
  }),
  controls: [
    {
      name: 'shape',
      label: 'Shape',
      as: 'pick',
      options: pick('wide', 'Wide', 'landscape', 'Landscape', 'square', 'Square'),
    },
    { name: 'span', label: 'At least as wide as, km', as: 'number', min: 0.1, max: 20_000 },
  ],
  slots: {
    place: { label: 'Place', shape: 'places', required: true },
    caption: { label: 'Caption', shape: 'inline' },
  },
  brings: { roles: ['map'], slot: 'place' },
  boxes: [face('& svg', [...SURFACE, 'ratio'], { css: CUT }), CAPTION],
  never: [...WORDS, 'text', 'hyphens', 'wrap'],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [source, caption] = [slot('place'), slot('caption')];
    const open = `<figure${attributes('map')}>`;
    const none = studio && !source.bound ? blank('Map without a place') : '';
    return (env) => {
      const found = source.found(env);
      const points = (Array.isArray(found?.value) ? found.value : found ? [found.value] : []) as MapPoint[];
      const plan = planMap(points, 640, HEIGHTS[props.shape], props.span);
      if (!plan || !found) return none;
      const words = caption.inline(env);
      const title = points.map((point) => found.write(point, env)).join('; ');
      return `${open}${drawMap(plan, env.model.site.locale, title)}${words && `<figcaption>${words}</figcaption>`}</figure>`;
    };
  },
});
