import { createHash, createHmac } from 'node:crypto';
import { LRUCache } from 'lru-cache';
import { pointsOf, rangeOf } from '../../core/theme/ranges';
import { latinFilesOf } from '../../core/theme/typefaces';
import type { Theme } from '../../core/schema/theme';
import { cutOut } from '../services/typefaces';
import { configuration, perServer } from '../base/server';

const FACE = /@font-face\s*\{[^}]*\}\s*/g;
const familyOf = (face: string): string => /font-family:\s*["']?([^;"']+)/.exec(face)?.[1]?.trim() ?? '';
const fileOf = (face: string): string | undefined => /url\(["']?([^"')]+\.woff2)/.exec(face)?.[1];
const rangeIn = (face: string): string | undefined => /unicode-range:\s*([^;}]+)/i.exec(face)?.[1];
/** A typeface in more pieces than this is one for Chinese, Japanese or Korean, which come in about a hundred. */
const MOST_PIECES = 40;

/** A style sheet without the faces of typefaces for scripts with thousands of signs, and those by themselves. */
export function partedFaces(base: string): { often: string; rare: string } {
  const pieces = new Map<string, number>();
  for (const [face] of base.matchAll(FACE)) pieces.set(familyOf(face), (pieces.get(familyOf(face)) ?? 0) + 1);
  const rare: string[] = [];
  const often = base.replace(FACE, (face) => {
    if ((pieces.get(familyOf(face)) ?? 0) <= MOST_PIECES) return face;
    rare.push(face);
    return '';
  });
  return { often, rare: rare.join('') };
}

/** The files with the Latin letters of the typefaces for text and for headings: of each the upright one. */
export function facesOfPages(base: string, theme: Theme): string[] {
  const wanted = new Set(
    ['body', 'display'].flatMap((key) => theme.font.find((font) => font.key === key)?.value[0] ?? []),
  );
  const files = [...base.matchAll(FACE)].flatMap(([face]) => {
    const latin = /unicode-range:\s*U\+(\?\?|0000-00FF|0-FF)\b/i.test(face.replace('??', '0000-00FF'));
    const upright = /font-style:\s*normal/.test(face);
    const file = fileOf(face);
    return file && latin && upright && wanted.has(familyOf(face)) ? [file] : [];
  });
  return [...new Set([...files, ...[...wanted].flatMap((family) => latinFilesOf(family, theme))])];
}

const RARE = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}、。・「」『』]/gu;
/** Of no more signs than this a page has a typeface of its own, within its style sheet; else the pieces that it needs. */
const FEW = 56;
/** A name of a file has 255 bytes at most, nearly everywhere. */
const LONGEST = 224;

/** The signs of a page's HTML that such typefaces are for (Unicode, Scripts.txt), each once and in order. */
export const rareSigns = (html: string): string => [...new Set(html.match(RARE) ?? [])].sort().join('');

/**
 * Shows that an address is one of ours, since to make such a sheet is work: for what stands on no page nobody has it done.
 * The key is what every process over one database has in common and nobody else knows.
 */
function markOf(signs: string, rare: string): string {
  const { password, pathname } = new URL(configuration().database ?? 'mariadb://localhost/');
  return createHmac('sha256', password + pathname)
    .update(createHash('sha256').update(rare).digest())
    .update(signs)
    .digest('hex')
    .slice(0, 16);
}

/** The address of a style sheet with a typeface for these signs alone; none where they are too many. */
export function addressForSigns(signs: string, rare: string): string | undefined {
  const written = Buffer.from(signs).toString('base64url');
  if ([...signs].length > FEW || written.length > LONGEST) return undefined;
  return `/styles/faces-${markOf(signs, rare)}-${written}.css`;
}

/** Style sheets by their addresses; what was asked for last. */
const MOST_MADE = 200;
const cutSheets = perServer(() => new LRUCache<string, Promise<string>>({ max: MOST_MADE }));

/**
 * The style sheet at such an address: the faces of those signs, cut out of the files that have them. Undefined where the
 * address is none that `addressForSigns` gives. `fileAt` reads what is built with the application.
 */
export async function sheetForSigns(
  file: string,
  base: string,
  fileAt: (address: string) => Promise<Buffer>,
): Promise<string | undefined> {
  const [, written] = /^faces-[0-9a-f]{16}-([\w-]{1,224})\.css$/.exec(file) ?? [];
  if (!written) return undefined;
  const { rare } = partedFaces(base);
  const signs = Buffer.from(written, 'base64url').toString();
  if (rareSigns(signs) !== signs || addressForSigns(signs, rare) !== `/styles/${file}`) return undefined;
  const sheets = cutSheets();
  let sheet = sheets.get(file);
  if (!sheet) {
    sheet = drawSheet(signs, rare, fileAt);
    sheets.set(file, sheet);
    sheet.catch(() => sheets.delete(file));
  }
  return sheet;
}

async function drawSheet(signs: string, rare: string, fileAt: (address: string) => Promise<Buffer>): Promise<string> {
  const wanted = new Set([...signs].map((sign) => sign.codePointAt(0) as number));
  const faces: string[] = [];
  for (const [face] of rare.matchAll(FACE)) {
    const address = fileOf(face);
    const here = pointsOf(rangeIn(face) ?? '').filter((point) => wanted.has(point));
    if (!address || !here.length) continue;
    const cut = await cutOut(await fileAt(address), here);
    faces.push(
      face
        .replace(/url\([^)]*\)/, `url(data:font/woff2;base64,${cut.toString('base64')})`)
        .replace(/unicode-range:[^;}]*/i, `unicode-range:${rangeOf(here)}`),
    );
  }
  return faces.join('');
}
