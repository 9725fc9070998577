import type { Media } from '../content/record';

/** Widths in pixels at which pictures are kept. */
export const WIDTHS = [320, 640, 960, 1280, 1920] as const;

/** The address of a picture at one of `WIDTHS`, or of the original. */
export function mediaAddress(media: Pick<Media, 'id' | 'mime'>, width?: number): string {
  const fitting = width === undefined ? undefined : WIDTHS.findLast((w) => w <= width);
  return fitting ? `/media/${media.id}/${fitting}.webp` : `/media/${media.id}/original`;
}
