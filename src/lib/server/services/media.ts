import type { Transaction } from 'sequelize';
import { open, readFile, rm, writeFile } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { fileTypeFromBuffer } from 'file-type';
import sharp from 'sharp';
import { z } from 'zod';
import type { Media } from '../../core/schema/record';
import { problem } from '../../core/base/result';
import { WIDTHS } from '../../core/model/media';
import { inTransaction } from '../database/connect';
import { likePart } from '../queries/sql';
import {
  filesKnown,
  firstMedia,
  insertMedia,
  loadMedia,
  lockMedia,
  mediaWithHash,
  searchMedia,
  storedMedia,
  takePicturesOff,
  updateMedia,
} from '../queries/media';
import { placesOfMedia } from '../queries/record-parts';
import { modelMoved } from '../queries/site';
import { notFound, Refusal, type Guard } from '../base/refusal';
import { cleanSvg } from './html';
import { megabytes, receive } from '../files/local';
import { files } from '../files/store';
import { renditionName, tidyFiles, type Tidied } from '../files/tidy';
import { readModel } from './model';
import { coloursOf, type PictureColours } from './picture-colours';
import { readTheme } from './theme';
import { typefaceIn, WOFF2 } from './typefaces';
import { forgetTargets } from './record-removal';
import { beginRemoval, sweep } from './removal';

/** Formats that renditions are made of, as sharp names them, with the types that files of them have. */
const PICTURES: Record<string, string> = {
  'image/jpeg': 'jpeg',
  'image/png': 'png',
  'image/webp': 'webp',
  'image/gif': 'gif',
  'image/avif': 'avif',
};
/** Other files that are kept. Whatever a browser might run is not among them. */
const FILES = new Set([
  'application/pdf',
  'application/zip',
  'application/gpx+xml',
  'text/plain',
  'text/csv',
  'audio/mpeg',
  'audio/ogg',
  'audio/wav',
  'video/mp4',
  'video/webm',
  'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
  'application/vnd.openxmlformats-officedocument.spreadsheetml.sheet',
  'application/vnd.oasis.opendocument.text',
  'application/vnd.oasis.opendocument.spreadsheet',
]);
const MOST_PIXELS = 60_000_000;
/** Bytes. */
export const MOST_BYTES = { picture: 25_000_000, drawing: 2_000_000, file: 100_000_000 };

/** What a file is, by its content; its name is not asked. */
async function typeOf(head: Buffer, whole: () => Promise<Buffer>): Promise<string | undefined> {
  const found = await fileTypeFromBuffer(head);
  if (found && found.mime !== 'application/xml')
    return found.mime === 'audio/ogg; codecs=opus' ? 'audio/ogg' : found.mime;
  const text = head
    .toString('utf8')
    .replace(/^\uFEFF/, '')
    .trimStart();
  const start = text.replace(/^(<\?xml[^>]*\?>|<!--[\s\S]*?-->|<!DOCTYPE svg[^>]*>|\s)+/i, '');
  if (/^<svg[\s>]/i.test(start)) return 'image/svg+xml';
  if (/^<gpx[\s>]/i.test(start)) return 'application/gpx+xml';
  if (/^</.test(start)) return undefined;
  try {
    const all = new TextDecoder('utf-8', { fatal: true }).decode(await whole());
    return all.includes('\0') ? undefined : 'text/plain';
  } catch {
    return undefined;
  }
}

interface Known {
  mime: string;
  width: number;
  height: number;
  /** What is kept instead of what came. */
  instead?: Buffer;
  /** Of a picture. */
  colours?: PictureColours;
}

async function inspect(name: string, path: string, size: number): Promise<Known> {
  const file = await open(path);
  const head = Buffer.alloc(Math.min(size, 4200));
  await file.read(head, 0, head.length, 0).finally(() => file.close());
  const mime = await typeOf(head, () => readFile(path));
  const tooLarge = (most: number, what: string) => {
    if (size > most)
      throw new Refusal(413, `“${name}” is ${megabytes(size)}; ${what} takes ${megabytes(most)} at most.`);
  };
  if (mime === 'image/svg+xml') {
    tooLarge(MOST_BYTES.drawing, 'a drawing');
    const instead = Buffer.from(cleanSvg(await readFile(path, 'utf8')));
    const seen = await sharp(instead)
      .metadata()
      .catch(() => undefined);
    if (!seen) throw new Refusal(415, `“${name}” is a drawing that cannot be read.`);
    return { mime, width: seen.width, height: seen.height, instead, colours: await coloursOf(instead) };
  }
  if (mime && PICTURES[mime]) {
    tooLarge(MOST_BYTES.picture, 'a picture');
    // Drawn once small, since a file that is cut off still has a sound beginning.
    const seen = await sharp(path, { limitInputPixels: MOST_PIXELS })
      .resize(16)
      .toBuffer()
      .then(() => sharp(path).metadata())
      .catch((error: Error) => error);
    if (seen instanceof Error)
      throw new Refusal(
        415,
        /pixel limit/.test(seen.message)
          ? `“${name}” has more than ${MOST_PIXELS / 1_000_000} million pixels.`
          : `“${name}” is a picture that cannot be read; it may be cut off.`,
      );
    // As it is looked at: a picture whose EXIF says that it lies on its side is as wide as it is high.
    const turned = (seen.orientation ?? 1) >= 5;
    const [width, height] = turned ? [seen.height, seen.width] : [seen.width, seen.height];
    return { mime, width, height, colours: await coloursOf(path) };
  }
  if (mime === WOFF2) await typefaceIn(name, await readFile(path), '');
  else if (!mime || !FILES.has(mime))
    throw new Refusal(
      415,
      `“${name}” is ${mime ? `of the type ${mime}` : 'of no type that is known'}, and is not kept. Use a picture (JPEG, PNG, WebP, GIF, AVIF, SVG), PDF, text, an office document, sound, film, zip, or a typeface (WOFF2).`,
    );
  tooLarge(MOST_BYTES.file, 'a file');
  return { mime, width: 0, height: 0 };
}

/** Keeps a file that comes piece by piece. The same content is kept once; `again` says that it was here already. */
export async function addMedia(
  name: string,
  content: AsyncIterable<Uint8Array>,
  alt = '',
): Promise<Media & { again: boolean }> {
  const { path: aside, size, hash: key } = await receive(name, content, MOST_BYTES.file);
  try {
    const known = await mediaWithHash(key);
    if (known) return { ...known, again: true };
    const { mime, width, height, instead, colours } = await inspect(name, aside, size);
    if (instead) await writeFile(aside, instead);
    const kept = `${key}.${PICTURES[mime] ?? (mime === 'image/svg+xml' ? 'svg' : 'bin')}`;
    try {
      const id = await inTransaction(async (transaction) => {
        const made = await insertMedia(
          [
            name,
            mime,
            width,
            height,
            alt,
            kept,
            instead?.length ?? size,
            key,
            new Date(),
            colours?.lightest ?? null,
            colours?.darkest ?? null,
          ],
          transaction,
        );
        await files().take(aside, kept);
        return made;
      });
      return {
        id,
        name,
        mime,
        width,
        height,
        alt,
        size: instead?.length ?? size,
        focalX: 0.5,
        focalY: 0.5,
        ...colours,
        again: false,
      };
    } catch (error) {
      // The same file may have come twice at the same time.
      const first = await mediaWithHash(key);
      if (first) return { ...first, again: true };
      throw error;
    }
  } finally {
    await rm(aside, { force: true });
  }
}

/** Keeps a file that is at hand as a whole. */
export const addBytes = (name: string, bytes: Uint8Array, alt = ''): Promise<Media & { again: boolean }> =>
  addMedia(
    name,
    (async function* () {
      yield bytes;
    })(),
    alt,
  );

/** Puts the store of files in order; see `tidyFiles`. Run when starting. What was removed may come back with its row. */
export const tidyMedia = async (): Promise<Tidied> => tidyFiles(await filesKnown());

export interface MediaList {
  media: Media[];
  total: number;
}

/** Media with the newest first: those whose name or alternative text contains `search`, pictures only where asked. */
export async function listMedia({ search = '', pictures = false, limit = 60, offset = 0 } = {}): Promise<MediaList> {
  const part = `%${likePart(search)}%`;
  return searchMedia(part, { pictures, limit, offset });
}

/** Everything in the library, for the workbench. */
export const readAllMedia = (): Promise<Media[]> => firstMedia(5000);

export async function readMedia(id: number, transaction?: Transaction): Promise<Media> {
  const [media] = await loadMedia([id], transaction);
  if (!media) throw notFound('picture or file with this number');
  return media;
}

export const MediaChange = z.strictObject({
  name: z.string().trim().min(1, { error: 'A file has a name.' }).max(200).optional(),
  alt: z.string().trim().max(500, { error: 'Alternative text takes 500 characters at most.' }).optional(),
  focalX: z.number().min(0).max(1).optional(),
  focalY: z.number().min(0).max(1).optional(),
});

/** Changes what is said of a picture or file: name, alternative text, focal point. */
export async function changeMedia(id: number, input: z.output<typeof MediaChange>, guard?: Guard): Promise<Media> {
  return inTransaction(async (transaction) => {
    await lockMedia([id], transaction);
    const before = await readMedia(id, transaction);
    guard?.(before);
    const { name, alt, focalX, focalY } = { ...before, ...input };
    await updateMedia(id, { name, alt, focalX, focalY }, transaction);
    return readMedia(id, transaction);
  });
}

/** What uses a picture or file: records, terms and authors, with their place in the studio. */
export async function usesOfMedia(id: number): Promise<{ what: string; href: string }[]> {
  const model = await readModel();
  const [records, stored, { theme }] = await Promise.all([placesOfMedia(id), storedMedia(id), readTheme()]);
  const hash = stored?.file.replace(/\.\w+$/, '');
  return [
    ...theme.typefaces
      .filter(({ faces }) => faces.some(({ file }) => file === hash))
      .map(({ family }) => ({ what: `${family} (typeface of the theme)`, href: '/studio/theme' })),
    ...records.map((row) => ({
      what: `${row.title} (${model.type(row.typeId)?.name ?? 'record'}, ${model.field(row.fieldId)?.field.label ?? 'a deleted field'})`,
      href: `/studio/content/${row.typeId}/${row.id}`,
    })),
    ...model.terms
      .filter((term) => term.pictureId === id)
      .map((term) => ({
        what: `${term.name} (${model.taxonomy(term.taxonomyId)?.name ?? 'term'})`,
        href: `/studio/terms/${term.taxonomyId}`,
      })),
    ...model.authors
      .filter((author) => author.pictureId === id)
      .map((author) => ({ what: `${author.name} (author)`, href: '/studio/authors' })),
  ];
}

/** Deletes pictures and files, and takes them out of everything that uses them. Told is how to undo it. */
export async function deleteMedia(ids: number[]): Promise<{ removal: string }> {
  if (!ids.length) throw new Refusal(422, 'Nothing is chosen.', [problem('ids', 'Choose a picture or file first.')]);
  return inTransaction(async (transaction) => {
    const rows = await lockMedia(ids, transaction);
    if (!rows.length) throw notFound('picture or file with this number');
    const own = rows.map((row) => row.id);
    const removal = await beginRemoval(rows.length === 1 ? `“${rows[0]?.name}”` : `${rows.length} files`, transaction);
    await forgetTargets('media', own, removal, transaction);
    await sweep(
      removal,
      [
        { table: 'terms', column: 'picture_id', values: own, stay: true },
        { table: 'authors', column: 'picture_id', values: own, stay: true },
        { table: 'media', column: 'id', values: own },
      ],
      transaction,
    );
    await takePicturesOff(own, transaction);
    await modelMoved(transaction);
    return { removal };
  });
}

interface Sent {
  content: Readable;
  mime: string;
  size: number;
  name: string;
}

const MISSING = () => notFound('content of this file; it is missing from the place where files are kept');

/** A picture or file as it was kept. */
export async function readOriginal(id: number): Promise<Sent> {
  const row = await storedMedia(id);
  if (!row) throw notFound('picture or file with this number');
  const found = await files().read(row.file);
  if (!found) throw MISSING();
  return { ...found, mime: row.mime, name: row.name };
}

/**
 * A picture's rendition at one of the kept widths, as WebP or in the original's format, turned as its EXIF says. Made
 * when it is first asked for.
 */
export async function readRendition(
  id: number,
  width: number,
  format: string,
): Promise<{ bytes: Buffer; mime: string }> {
  const row = await storedMedia(id);
  const own = row && PICTURES[row.mime];
  if (!row || !own) throw notFound('picture with this number');
  if (format !== 'webp' && format !== own) throw notFound('rendition in this format');
  if (!(WIDTHS as readonly number[]).includes(width) || (width > row.width && width !== WIDTHS[0]))
    throw notFound('rendition of this width');
  const mime = `image/${format}`;
  const made = renditionName(row.file, width, format);
  const kept = await files().bytes(made);
  if (kept) return { bytes: kept, mime };
  const original = await files().bytes(row.file);
  if (!original) throw MISSING();
  const image = sharp(original, { animated: format === 'gif' })
    .rotate()
    .resize({ width, withoutEnlargement: true });
  const bytes = await (format === 'webp' ? image.webp({ quality: 80 }) : image.toFormat(format as 'jpeg')).toBuffer();
  await files().put(made, bytes);
  return { bytes, mime };
}
