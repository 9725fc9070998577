import type { Media } from '../schema/record';

/** Widths in pixels at which pictures are kept. */
export const WIDTHS = [320, 640, 960, 1280, 1920] as const;

/** Drawings (SVG) are sharp at any width, and have no renditions. */
export const isDrawing = (media: Pick<Media, 'mime'>): boolean => media.mime === 'image/svg+xml';

/** The address of a picture at one of `WIDTHS`, or of the original. */
export function mediaAddress(media: Pick<Media, 'id' | 'mime'>, width?: number): string {
  const fitting = width === undefined ? undefined : WIDTHS.findLast((w) => w <= width);
  return fitting && !isDrawing(media) ? `/media/${media.id}/${fitting}.webp` : `/media/${media.id}/original`;
}

/** The address of a picture where it stands for a page elsewhere: large, and no larger than it is. */
export const cardAddress = (media: Pick<Media, 'id' | 'mime' | 'width'>): string =>
  mediaAddress(media, Math.min(1280, media.width));

/** Its width and height there, in pixels. */
export function cardSize({ mime, width, height }: Pick<Media, 'mime' | 'width' | 'height'>): [number, number] {
  const fitting = WIDTHS.findLast((w) => w <= Math.min(1280, width));
  return fitting && !isDrawing({ mime }) ? [fitting, Math.round((height * fitting) / width)] : [width, height];
}

/** The address of a file to be taken home, with a name that people recognise. */
export const fileAddress = (media: Pick<Media, 'id' | 'name'>): string =>
  `/media/${media.id}/file/${encodeURIComponent(media.name)}`;
