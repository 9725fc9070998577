import { mkdir, readFile, rename, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import sharp from 'sharp';
import type { Media } from '../../core/content/record';
import { WIDTHS } from '../../core/render/media';
import { select } from '../database/connect';
import { table } from '../database/tables';
import { notFound } from '../refusal';

const folder = () => process.env.PLUM_MEDIA ?? join('data', 'media');

/** Keeps a picture and what is known of it. `bytes` are of a raster format that sharp reads. */
export async function addPicture(name: string, bytes: Buffer, alt: string): Promise<Media> {
  const { width, height, format } = await sharp(bytes).metadata();
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
  if (!(WIDTHS as readonly number[]).includes(width) || width > row.width) throw notFound('rendition of this width');
  const made = join(folder(), `${id}-${width}.webp`);
  const kept = await readFile(made).catch(() => undefined);
  if (kept) return { bytes: kept, mime: 'image/webp' };
  const bytes = await sharp(original).rotate().resize({ width }).webp({ quality: 80 }).toBuffer();
  // Written aside and moved, so that no reader ever meets half a picture.
  const aside = `${made}.${process.pid}`;
  await writeFile(aside, bytes);
  await rename(aside, made);
  return { bytes, mime: 'image/webp' };
}
