import { z } from 'zod';
import type { Media } from '../schema/record';
import { isDrawing, mediaAddress, WIDTHS } from '../model/media';
import type { Env } from '../paths/env';
import { tintOver } from '../theme/tint';
import { onColour, onBackgroundCss } from '../theme/background';
import { escapeHtml } from '../base/text';
import { acrossOf, isPageWide, SCREEN_WIDTH, sizesOf, widestOf, type AvailableWidth } from '../styles/available-width';
import { elementFor } from './sectioning';
import { pick, type ElementKind, type Making, type PropControl, type SlotDefinition } from './element';

/** Props and controls that everything which holds others has: arrangement, gap, padding and ground. */
export const holderProps = {
  gap: z.enum(['none', 's', 'm', 'l']).default('m'),
  pad: z.enum(['none', 's', 'm', 'l']).default('none'),
  ground: z.enum(['none', 'tint', 'deep', 'notice', 'lined']).default('none'),
  tint: z.enum(['none', 'light', 'dark', 'deep']).default('dark'),
  stays: z.boolean().default(false),
};
export const holderControls: PropControl[] = [
  {
    name: 'tint',
    label: 'Over its picture',
    as: 'pick',
    whenFilled: 'background',
    options: pick('none', 'Nothing', 'light', 'A light tint', 'dark', 'A dark tint', 'deep', 'A deep tint'),
  },
  { name: 'stays', label: 'Stays when empty', as: 'switch' },
];
export const holderSlots: Record<string, SlotDefinition> = {
  background: { label: 'Background picture', shape: 'picture', drops: false },
  colour: { label: 'Background colour', shape: 'colour', drops: false },
};

/** Looks that the gap, the padding and the ground of a holder bring. */
export const GAP_BROUGHT: ElementKind['brought'] = {
  gap: { none: { gap: 'none' }, s: { gap: 's' }, m: { gap: 'm' }, l: { gap: 'l' } },
};
export const HOLDER_BROUGHT: ElementKind['brought'] = {
  ...GAP_BROUGHT,
  pad: { none: {}, s: { padding: 's' }, m: { padding: '1.5rem' }, l: { padding: 'xl' } },
  ground: {
    none: {},
    tint: { ground: 'tint' },
    deep: { ground: 'deep' },
    notice: { ground: 'notice' },
    lined: { border: '1px', borderColour: 'line' },
  },
};

export const PICTURE_SHAPES = ['own', 'wide', 'landscape', 'square', 'tall', 'round'] as const;
export const SHAPE: PropControl = {
  name: 'shape',
  label: 'Shape',
  as: 'pick',
  options: pick(
    ...[
      'own',
      'Its own',
      'wide',
      'Wide',
      'landscape',
      'Landscape',
      'square',
      'Square',
      'tall',
      'Tall',
      'round',
      'Round',
    ],
  ),
};

/** Classes that keep the focal point in sight where the picture is cut, in steps of a tenth. */
function focal({ focalX, focalY }: Media, cut: boolean): string {
  const [x, y] = [Math.round(focalX * 10), Math.round(focalY * 10)];
  return !cut || (x === 5 && y === 5) ? '' : `focal-x-${x} focal-y-${y}`;
}

/** Pictures that may be as wide, in rem, are what a page is waited for. */
const LARGE = 28;

/** How a picture is loaded, by the room it may take. */
export const imagePlace = (room: AvailableWidth): { sizes: string; large: boolean; across: number } => ({
  sizes: sizesOf(room),
  large: widestOf(room) >= LARGE,
  across: acrossOf(room),
});

/**
 * Which pictures are fetched at once: the first, those beside it in its row on wide screens, and the first large one before
 * anything else of the page.
 */
function urgency(large: boolean, across: number, env: Env): string {
  const first = env.pictures++ < across;
  if (large && !env.lead) {
    env.lead = true;
    return ' fetchpriority="high"';
  }
  return first ? '' : ' loading="lazy"';
}

interface ImageOptions {
  alt: string;
  sizes: string;
  large: boolean;
  /** How many such fit beside each other on wide screens. */
  across: number;
  /** Whether it may lose its edges, so that the focal point matters. */
  cut: boolean;
  className?: string;
  /** The widest rendition that is served, in pixels. */
  most?: number;
}

/** A picture of the library as responsive `img`. `alt` is escaped. */
export function drawImage(
  media: Media,
  env: Env,
  { alt, sizes, large, across, cut, className, most = Infinity }: ImageOptions,
): string {
  if (!env.leadPicture || (large && !env.lead)) env.leadPicture = media;
  const srcset = WIDTHS.filter((w) => w <= media.width && w <= most && !isDrawing(media)).map(
    (w) => `${mediaAddress(media, w)} ${w}w`,
  );
  const classes = [className, focal(media, cut)].filter(Boolean).join(' ');
  return (
    `<img src="${mediaAddress(media, srcset.length ? Math.min(960, media.width, most) : undefined)}"` +
    (srcset.length > 1 ? ` srcset="${srcset.join(', ')}" sizes="${sizes}"` : '') +
    (classes && ` class="${classes}"`) +
    ` width="${media.width}" height="${media.height}" alt="${alt}"${urgency(large, across, env)}>`
  );
}

/** Markup of a sentence without its links: one within another would end it. */
export const withoutLinks = (html: string): string => (html.includes('<a') ? html.replace(/<\/?a\b[^>]*>/g, '') : html);

/** Markup of a sentence as words, for attributes. */
export const withoutMarkup = (html: string): string => (html.includes('<') ? html.replace(/<[^>]*>/g, '') : html);

/** Words of a link; where it leads to a telephone, its number is not broken over lines. */
export const linkWords = (url: string, html: string): string => {
  const words = withoutLinks(html);
  return url.startsWith('tel:') ? words.replace(/ (?![^<]*>)/g, '\u00a0') : words;
};

/** Classes for what lies between a picture and the words over it: as much as that picture needs, or for any picture. */
function backing(media: Media, tint: string): string[] {
  const bound = tint === 'dark' ? media.lightest : tint === 'light' ? media.darkest : undefined;
  return ['backed', `tint-${tint}`, bound ? `tinted-${tintOver(bound, tint as 'dark' | 'light')}` : ''];
}

/** The class of a coloured ground; the page notes the colour, and has a rule for it. */
function colourClass(colour: string, env: Env): string {
  env.colours.add(colour);
  return `on-${colour.replace(/[^0-9a-z]/gi, '_')}`;
}

/** Rules for the coloured grounds of a page, with ink that reads well on each. */
export const coloursCss = (colours: ReadonlySet<string>): string =>
  [...colours]
    .map((one) => `.on-${one.replace(/[^0-9a-z]/gi, '_')}{background-color:${one};${onBackgroundCss(onColour(one))}}`)
    .join('');

export const altOf = (media: Media): string => escapeHtml(media.alt);

/**
 * What holders have in common: their element with its classes, and a picture or colour behind what they hold. Behind
 * text a picture is tinted, and on a colour the text is black or white, whichever reads better.
 */
export function drawHolder(
  making: Making<{ tint: string; gap: string; pad: string; ground: string; stays: boolean }>,
  tag: string,
  classes: string[],
  empty: string,
  wrap = (inner: string): string => inner,
): (env: Env) => string {
  const { props, children, childCount, attributes, studio, blank } = making;
  if (!childCount && studio && !props.stays) return () => blank(empty);
  const own = [...classes, `gap-${props.gap}`];
  if (props.pad !== 'none') own.push(`pad-${props.pad}`);
  if (props.ground !== 'none') own.push(`ground-${props.ground}`);
  const picture = making.slot('background');
  const colour = making.slot('colour');
  const place = imagePlace(tag === 'section' && isPageWide(making.room) ? SCREEN_WIDTH : making.room);
  const plain = attributes(...own);
  return (env) => {
    const inner = children(env);
    if (!inner && !props.stays) return '';
    const id = picture.picture(env);
    const media = id === undefined ? undefined : env.pool.media(id);
    const found = colour.found(env)?.value as string | undefined;
    const ground = found && /^[#\w\s.,%()/+-]+$/.test(found) ? found : undefined;
    const image = media ? drawImage(media, env, { alt: '', ...place, cut: true, className: 'backdrop' }) : '';
    const looks =
      ground || media
        ? attributes(...own, ...(media ? backing(media, props.tint) : []), ground ? colourClass(ground, env) : '')
        : plain;
    const element = elementFor(tag, inner, env);
    return `<${element}${looks}>${image}${wrap(inner)}</${element}>`;
  };
}
