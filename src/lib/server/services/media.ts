import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Media } from '../../core/content/record';
import { WIDTHS } from '../../core/render/media';
import { select } from '../database/connect';
import { table } from '../database/tables';
import { notFound, Refusal } from '../refusal';

const folder = () => process.env.PLUM_MEDIA ?? join('data', 'media');

/** Formats that are kept, as sharp names them; decided by the content, never by the name. */
const FORMATS = new Set(['jpeg', 'png', 'webp', 'gif']);
const MOST_PIXELS = 60_000_000;

/** Keeps a picture and what is known of it. Refuses what is no picture of the formats above. */
export async function addPicture(name: string, bytes: Buffer, alt: string): Promise<Media> {
  const image = sharp(bytes, { limitInputPixels: MOST_PIXELS });
  // Drawn once small, since a file that is cut off still has a sound beginning.
  const seen = await image
    .clone()
    .resize(16)
    .toBuffer()
    .then(() => image.metadata())
    .catch(() => undefined);
  if (!seen || !FORMATS.has(seen.format))
    throw new Refusal(415, `“${name}” is no picture that can be kept. Use JPEG, PNG, WebP or GIF.`);
  const { format } = seen;
  // As it is looked at: a picture whose EXIF says that it lies on its side is as wide as it is high.
  const turned = (seen.orientation ?? 1) >= 5;
  const [width, height] = turned ? [seen.height, seen.width] : [seen.width, seen.height];
  const row = await table('media').create({ name, mime: `image/${format}`, width, height, alt, file: '' });
  const id = row.get('id') as number;
  const file = `${id}.${format}`;
  await mkdir(folder(), { recursive: true });
  await writeFile(join(folder(), file), bytes);
  await row.update({ file });
  return { id, name, mime: `image/${format}`, width, height, alt };
}

export const readAllMedia = (): Promise<Media[]> =>
  select<Media>('SELECT id, name, mime, width, height, alt FROM media ORDER BY id');

/** The bytes of a picture, or of its rendition at one of the kept widths, which is made when first asked for. */
export async function readPicture(id: number, width?: number): Promise<{ bytes: Buffer; mime: string }> {
  const [row] = await select<Media & { file: string }>('SELECT * FROM media WHERE id = ?', [id]);
  if (!row) throw notFound('picture with this number');
  const original = join(folder(), row.file);
  if (width === undefined) return { bytes: await readFile(original), mime: row.mime };
  if (!(WIDTHS as readonly number[]).includes(width) || (width > row.width && width !== WIDTHS[0]))
    throw notFound('rendition of this width');
  const made = join(folder(), `${id}-${width}.webp`);
  const kept = await readFile(made).catch(() => undefined);
  if (kept) return { bytes: kept, mime: 'image/webp' };
  const bytes = await sharp(original)
    .rotate()
    .resize({ width, withoutEnlargement: true })
    .webp({ quality: 80 })
    .toBuffer();
  // Written aside and moved, so that no reader ever meets half a picture.
  const aside = `${made}.${process.pid}`;
  await writeFile(aside, bytes);
  await rename(aside, made);
  return { bytes, mime: 'image/webp' };
}
