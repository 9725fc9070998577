import { createRequire } from 'node:module';
import { fromBuffer } from '@capsizecss/unpack';
import { create } from 'fontkitten';
import { piecesOf, pointsOf, rangeOf } from '../../core/theme/ranges';
import type { Theme, Typeface } from '../../core/schema/theme';
import { mediaWithHash, storedMedia } from '../queries/media';
import { notFound, Refusal } from '../base/refusal';
import { files } from '../files/store';

const require = createRequire(import.meta.url);
const subsetFont = require('subset-font') as (
  font: Buffer,
  text: string,
  options: { targetFormat: 'woff2' | 'truetype' },
) => Promise<Buffer>;
const { convert } = require('fontverter') as { convert(font: Buffer, format: 'truetype'): Promise<Buffer> };

export const WOFF2 = 'font/woff2';
/** Bytes of a file, and of what is packed in it. */
const MOST_PACKED = 5_000_000;
const MOST_UNPACKED = 30_000_000;

/** What a typeface's file says of itself; `family` is what it calls itself. */
export interface ReadTypeface {
  family: string;
  face: Typeface['faces'][number];
  metrics: Typeface['metrics'];
  licence: string;
}

const bad = (name: string, why: string): Refusal =>
  new Refusal(415, `“${name}” is no typeface that can be used.`, [
    { at: '', what: `It ${why}`, fix: 'Choose a file in the format WOFF2, as its maker offers it for the web.' },
  ]);

/** A WOFF2 file unpacked. What it says of its size is looked at first (W3C, WOFF File Format 2.0, 4.1). */
async function unpacked(name: string, bytes: Buffer): Promise<Buffer> {
  if (bytes.length > MOST_PACKED) throw bad(name, 'is larger than 5 MB.');
  if (bytes.length < 48 || bytes.toString('latin1', 0, 4) !== 'wOF2') throw bad(name, 'is not in the format WOFF2.');
  if (bytes.readUInt32BE(8) !== bytes.length) throw bad(name, 'is cut off, or has something after its end.');
  if (bytes.readUInt32BE(16) > MOST_UNPACKED) throw bad(name, 'would be larger than 30 MB unpacked.');
  try {
    return await convert(bytes, 'truetype');
  } catch {
    throw bad(name, 'cannot be unpacked.');
  }
}

/** A weight as CSS has them, 1 to 1000 (CSS Fonts 4, 2.2). */
const weightOf = (said: number): number => Math.min(1000, Math.max(1, said));

/** Reads a typeface's file: its weights, signs, measures and licence. Refused with the reason where it is none. */
export async function typefaceIn(name: string, bytes: Buffer, hash: string): Promise<ReadTypeface> {
  const plain = await unpacked(name, bytes);
  try {
    const font = create(plain);
    if (font.isCollection) throw bad(name, 'has several typefaces in it.');
    const points = font.characterSet.filter((point) => point >= 0x20 && point !== 0xffff && point < 0x110000);
    if (!points.length) throw bad(name, 'has no signs.');
    const { ascent, descent, lineGap, unitsPerEm, xWidthAvg } = await fromBuffer(plain);
    const axis = font.variationAxes.wght;
    const own = font['OS/2'].usWeightClass || 400;
    const said = [font.getName('copyright'), font.getName('license'), font.getName('licenseURL')];
    const family = (font.getName('preferredFamily') ?? font.familyName).replace(/["'\\;{}<>()\p{Cc}]/gu, ' ').trim();
    return {
      family: family.slice(0, 80) || 'A typeface',
      face: {
        weight: axis ? [weightOf(axis.min), weightOf(axis.max)] : [weightOf(own), weightOf(own)],
        italic: font.italicAngle !== 0 || /italic|oblique/i.test(font.subfamilyName),
        file: hash,
        ranges: piecesOf(points).map(rangeOf),
      },
      // Without Latin letters there is no mean of their widths; half an em is common practice.
      metrics: { ascent, descent, lineGap, unitsPerEm, xWidthAvg: xWidthAvg > 0 ? xWidthAvg : unitsPerEm / 2 },
      licence: said.filter(Boolean).join('\n').slice(0, 40_000),
    };
  } catch (error) {
    if (error instanceof Refusal) throw error;
    throw bad(name, 'has tables that cannot be read.');
  }
}

const missing = () => notFound('content of this file; it is missing from the place where files are kept');

/** A typeface among the media. */
export async function readTypeface(id: number): Promise<ReadTypeface> {
  const row = await storedMedia(id);
  if (!row) throw notFound('file with this number');
  if (row.mime !== WOFF2) throw bad(row.name, 'is not in the format WOFF2.');
  const bytes = await files().bytes(row.file);
  if (!bytes) throw missing();
  return typefaceIn(row.name, bytes, row.file.replace(/\.\w+$/, ''));
}

/** Files of a theme's typefaces, by their SHA-256, that are not among the media. */
export async function filesMissing(theme: Theme): Promise<string[]> {
  const files = theme.typefaces.flatMap(({ faces }) => faces.map(({ file }) => file));
  const there = await Promise.all(files.map(mediaWithHash));
  return files.filter((_, at) => there[at]?.mime !== WOFF2);
}

/** A piece of a typeface that was brought, as WOFF2; made when it is first asked for. */
export async function typefacePiece(hash: string, piece: number): Promise<Buffer> {
  const media = await mediaWithHash(hash);
  const row = media && (await storedMedia(media.id));
  if (row?.mime !== WOFF2) throw notFound('typeface of this name');
  const made = `${hash}-${piece}.woff2`;
  const kept = await files().bytes(made);
  if (kept) return kept;
  const bytes = await files().bytes(row.file);
  if (!bytes) throw missing();
  const { face } = await typefaceIn(row.name, bytes, hash);
  const range = face.ranges[piece];
  if (!range) throw notFound('piece of this typeface');
  const cut = await cutOut(bytes, pointsOf(range));
  await files().put(made, cut);
  return cut;
}

/** A typeface with these signs alone, as WOFF2. */
export const cutOut = (font: Buffer, points: readonly number[]): Promise<Buffer> =>
  subsetFont(font, points.map((point) => String.fromCodePoint(point)).join(''), { targetFormat: 'woff2' });
