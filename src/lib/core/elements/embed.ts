import sign from 'lucide/dist/esm/icons/square-play.mjs';
import { z } from 'zod';
import { withoutMarkup } from './common';
import { CAPTION, CUT, face, SURFACE, WORDS } from '../styles/boxes';
import { defineElement } from './element';

export const embed = defineElement({
  name: 'embed',
  label: 'Player',
  about: 'A film or sound in a frame of its own, from the hosts that its field allows.',
  sign,
  group: 'Pictures',
  holds: false,
  fills: true,
  props: z.object({}),
  controls: [],
  slots: {
    source: { label: 'Player', shape: 'embed', required: true },
    title: { label: 'Title', shape: 'inline' },
    caption: { label: 'Caption', shape: 'inline' },
  },
  brings: { roles: ['player'], slot: 'source' },
  boxes: [face('& iframe', [...SURFACE, 'ratio'], { css: CUT }), CAPTION],
  never: [...WORDS, 'text', 'hyphens', 'wrap'],
  draw: ({ slot, attributes, studio, blank }) => {
    const [source, title, caption] = [slot('source'), slot('title'), slot('caption')];
    const open = `<figure${attributes('embed')}>`;
    const none = studio && !source.bound ? blank('Player without a film') : '';
    return (env) => {
      const found = source.found(env);
      const frame = found?.type.kind.blocks?.(found.value, found.type.settings);
      if (!frame) return none;
      const named = withoutMarkup(title.inline(env));
      const words = caption.inline(env);
      const inner = named ? frame.replace(/ title="[^"]*"/, () => ` title="${named}"`) : frame;
      return `${open}${inner}${words && `<figcaption>${words}</figcaption>`}</figure>`;
    };
  },
});
