import sign from 'lucide/dist/esm/icons/image.mjs';
import { z } from 'zod';
import { altOf, drawImage, imagePlace, SHAPE, PICTURE_SHAPES, withoutMarkup } from './common';
import { atMost } from '../styles/available-width';
import { CAPTION, CUT, face, SURFACE, WORDS } from '../styles/boxes';
import { defineElement, pick } from './element';

/** The most that each width is, in rem. */
const MOST = { full: Infinity, half: 36, fifth: 15, icon: 6 };

export const picture = defineElement({
  name: 'picture',
  label: 'Picture',
  about: 'One picture, in its own shape or cut to one around its focal point; it may lead somewhere.',
  sign,
  group: 'Pictures',
  holds: false,
  props: z.object({
    shape: z.enum(PICTURE_SHAPES).default('own'),
    width: z.enum(['full', 'half', 'fifth', 'icon']).default('full'),
    keep: z.enum(['focus', 'top', 'middle', 'bottom']).default('focus'),
    most: z.union([z.literal(0), z.literal(320), z.literal(640), z.literal(960), z.literal(1280)]).default(0),
  }),
  controls: [
    SHAPE,
    {
      name: 'keep',
      label: 'Where cut, keep',
      as: 'pick',
      options: pick('focus', 'The focal point', 'top', 'The top', 'middle', 'The middle', 'bottom', 'The bottom'),
      when: { name: 'shape', is: ['wide', 'landscape', 'square', 'tall', 'round'] },
    },
    {
      name: 'most',
      label: 'Widest file',
      as: 'pick',
      options: [
        { value: 0, label: 'As needed' },
        ...[320, 640, 960, 1280].map((value) => ({ value, label: `${value} px` })),
      ],
    },
  ],
  slots: {
    source: { label: 'Picture', shape: 'picture', required: true },
    alt: { label: 'Alternative text', shape: 'inline' },
    caption: { label: 'Caption', shape: 'inline' },
    link: { label: 'Leads to', shape: 'url' },
  },
  brings: { roles: ['picture'], slot: 'source' },
  boxes: [face('& img', [...SURFACE, 'ratio'], { css: CUT }), CAPTION],
  never: [...WORDS, 'text', 'hyphens', 'wrap'],
  brought: {
    width: { full: {}, half: { maxWidth: '36rem' }, fifth: { maxWidth: '15rem' }, icon: { maxWidth: '6rem' } },
  },
  draw: ({ props, slot, attributes, studio, blank, room }) => {
    const place = imagePlace(atMost(room, MOST[props.width]));
    const [source, alt, caption, link] = [slot('source'), slot('alt'), slot('caption'), slot('link')];
    const keeps = props.keep === 'focus' || props.shape === 'own' ? '' : `keep-${props.keep}`;
    const open = `<figure${attributes('picture', `shape-${props.shape}`, `width-${props.width}`, keeps)}>`;
    const none = studio && !source.bound ? blank('Picture without a source') : '';
    return (env) => {
      const id = source.picture(env);
      const media = id === undefined ? undefined : env.pool.media(id);
      if (!media) return none;
      const image = drawImage(media, env, {
        alt: withoutMarkup(alt.inline(env)) || altOf(media),
        ...place,
        // What has its own shape may be cut by its looks.
        cut: props.keep === 'focus' || props.shape === 'own',
        most: props.most || undefined,
      });
      const url = link.url(env);
      const words = caption.inline(env);
      return `${open}${url ? `<a href="${url}">${image}</a>` : image}${words && `<figcaption>${words}</figcaption>`}</figure>`;
    };
  },
});
