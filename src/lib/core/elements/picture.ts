import { z } from 'zod';
import type { Media } from '../content/record';
import { isDrawing, mediaAddress, WIDTHS } from '../render/media';
import { escapeHtml } from '../text';
import { defineElement, pick } from './element';

/** Classes that keep the focal point in sight where the picture is cut, in steps of a tenth. */
function focal({ focalX, focalY }: Media, shape: string): string {
  const [x, y] = [Math.round(focalX * 10), Math.round(focalY * 10)];
  return shape === 'own' || (x === 5 && y === 5) ? '' : ` class="focal-x-${x} focal-y-${y}"`;
}

export const picture = defineElement({
  name: 'picture',
  label: 'Picture',
  about: 'One picture, in its own shape or cut to one; it may lead somewhere.',
  glyph: '▣',
  holds: false,
  props: z.object({
    shape: z.enum(['own', 'wide', 'landscape', 'square', 'round']).default('own'),
    width: z.enum(['full', 'half', 'fifth', 'icon']).default('full'),
  }),
  controls: [
    {
      name: 'shape',
      label: 'Shape',
      as: 'pick',
      options: pick('own', 'Its own', 'wide', 'Wide', 'landscape', 'Landscape', 'square', 'Square', 'round', 'Round'),
    },
    {
      name: 'width',
      label: 'Width',
      as: 'pick',
      options: pick('full', 'Full', 'half', 'Half', 'fifth', 'A fifth', 'icon', 'Very small'),
    },
  ],
  slots: {
    source: { label: 'Picture', shape: 'picture', required: true },
    alt: { label: 'Alternative text', shape: 'inline' },
    link: { label: 'Leads to', shape: 'url' },
  },
  brings: { families: ['picture'], slot: 'source' },
  draw: ({ props, slot, attributes, studio, blank }) => {
    const source = slot('source');
    const alt = slot('alt');
    const link = slot('link');
    const open = `<figure${attributes('picture', `shape-${props.shape}`, `width-${props.width}`)}>`;
    const sizes = {
      full: '(min-width: 72rem) 72rem, 100vw',
      half: '(min-width: 48rem) 36rem, 100vw',
      fifth: '15rem',
      icon: '6rem',
    }[props.width];
    const none = studio && !source.bound ? blank('Picture without a source') : '';
    return (env) => {
      const id = source.picture(env);
      const media = id === undefined ? undefined : env.pool.media(id);
      if (!media) return none;
      const words = alt.inline(env) || escapeHtml(media.alt);
      const srcset = WIDTHS.filter((w) => w <= media.width && !isDrawing(media)).map(
        (w) => `${mediaAddress(media, w)} ${w}w`,
      );
      const image =
        `<img src="${mediaAddress(media, srcset.length ? Math.min(960, media.width) : undefined)}"` +
        (srcset.length > 1 ? ` srcset="${srcset.join(', ')}" sizes="${sizes}"` : '') +
        focal(media, props.shape) +
        ` width="${media.width}" height="${media.height}" alt="${words}"${env.pictures++ ? ' loading="lazy"' : ''}>`;
      const url = link.url(env);
      return `${open}${url ? `<a href="${url}">${image}</a>` : image}</figure>`;
    };
  },
});
