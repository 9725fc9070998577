import { create } from 'fontkitten';
import { readFileSync } from 'node:fs';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { pointsOf } from '../../src/lib/core/theme/ranges';
import { facesCss, typefaceAddress } from '../../src/lib/core/theme/typefaces';
import { BUILT_IN } from '../../src/lib/core/theme/theme';
import type { Theme } from '../../src/lib/core/schema/theme';
import { Refusal } from '../../src/lib/server/base/refusal';
import { addBytes, deleteMedia, usesOfMedia } from '../../src/lib/server/services/media';
import { readTheme } from '../../src/lib/server/services/theme';
import { filesMissing, readTypeface, typefaceIn, typefacePiece } from '../../src/lib/server/services/typefaces';
import { addressForSigns, partedFaces, rareSigns, sheetForSigns } from '../../src/lib/server/site/faces';
import { freshDatabase } from '../support/database';
import { saveTheme } from '../support/services';

/** Fraunces as it ships (OFL): its Latin letters, all weights. */
const shipped = (file: string) => readFileSync(`node_modules/@fontsource-variable/${file}`);
const FRAUNCES = shipped('fraunces/files/fraunces-latin-wght-normal.woff2');
const ITALIC = shipped('fraunces/files/fraunces-latin-wght-italic.woff2');

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
});
afterAll(() => drop());

const refused = async (bytes: Buffer): Promise<string> => {
  const error: unknown = await typefaceIn('a.woff2', bytes, '').catch((one: unknown) => one);
  expect(error).toBeInstanceOf(Refusal);
  return (error as Refusal).problems.map(({ what }) => what).join(' ');
};

describe('a typeface that is brought', () => {
  it('says its weights, signs, measures and licence, and is served in pieces that have these signs and no others', async () => {
    const { id, mime } = await addBytes('fraunces.woff2', FRAUNCES);
    expect(mime).toBe('font/woff2');
    const read = await readTypeface(id);
    expect(read).toMatchObject({
      family: 'Fraunces',
      face: { weight: [100, 900], italic: false },
      // As its maker says them: units in an em, and what is above and below the line.
      metrics: { unitsPerEm: 2000, ascent: 1956, descent: -510 },
    });
    expect(read.licence).toContain('sil.org/OFL');
    const all: number[] = [];
    for (const [piece, range] of read.face.ranges.entries()) {
      const font = create(await typefacePiece(read.face.file, piece));
      const signs = font.isCollection ? [] : font.characterSet;
      expect(signs.filter((point) => point >= 0x20 && point < 0xffff)).toEqual(pointsOf(range));
      expect(!font.isCollection && font.variationAxes.wght).toMatchObject({ min: 100, max: 900 });
      all.push(...pointsOf(range));
    }
    const whole = create(FRAUNCES);
    expect([...all].sort((a, b) => a - b)).toEqual(
      whole.isCollection ? [] : whole.characterSet.filter((point) => point >= 0x20 && point < 0xffff),
    );
    expect((await readTypeface((await addBytes('italic.woff2', ITALIC)).id)).face.italic).toBe(true);
    await expect(typefacePiece(read.face.file, 99)).rejects.toThrow('piece of this typeface');
    await expect(typefacePiece('0'.repeat(64), 0)).rejects.toThrow('typeface of this name');
  });

  it('stands in the theme, in its style sheet, and is told where its file is gone', async () => {
    const { id } = await addBytes('fraunces.woff2', FRAUNCES);
    const { family, face, metrics, licence } = await readTypeface(id);
    const { version } = await readTheme();
    const theme: Theme = {
      ...BUILT_IN,
      font: BUILT_IN.font.map((font) => (font.key === 'body' ? { ...font, value: [family, 'serif'] } : font)),
      typefaces: [{ family, faces: [face], metrics, licence }],
    };
    await saveTheme({ theme, version });
    expect((await readTheme()).theme.typefaces).toEqual(theme.typefaces);
    const css = facesCss(theme);
    for (const [piece, range] of face.ranges.entries()) {
      expect(css).toContain(`url(${typefaceAddress(face.file, piece)})`);
      expect(css).toContain(`unicode-range:${range}`);
    }
    // It is set in the place of an installed serif as wide as it is.
    expect(css).toContain('"Fraunces Fallback: DejaVu Serif"');
    expect(await usesOfMedia(id)).toEqual([{ what: 'Fraunces (typeface of the theme)', href: '/studio/theme' }]);
    expect(await filesMissing(theme)).toEqual([]);
    await deleteMedia([id]);
    expect(await filesMissing(theme)).toEqual([face.file]);
  });

  it('is refused with words where it is none, cut off, or would be far larger than it is', async () => {
    expect(await refused(Buffer.from('no typeface at all, only a few words of text in a file'))).toContain(
      'format WOFF2',
    );
    expect(await refused(FRAUNCES.subarray(0, 9000))).toContain('cut off');
    const grown = Buffer.from(FRAUNCES);
    grown.writeUInt32BE(2_000_000_000, 16);
    expect(await refused(grown)).toContain('30 MB');
    const hollow = Buffer.from(FRAUNCES);
    hollow.fill(7, 400);
    expect(await refused(hollow)).toMatch(/cannot be (unpacked|read)/);
    await expect(addBytes('hollow.woff2', hollow)).rejects.toBeInstanceOf(Refusal);
  });
});

describe('typefaces for scripts of thousands of signs', () => {
  const folder = '/_app/assets/';
  const base = readFileSync('node_modules/@fontsource-variable/noto-sans-jp/index.css', 'utf8').replaceAll(
    './files/',
    folder,
  );
  const fileAt = (address: string) => Promise.resolve(shipped(`noto-sans-jp/files/${address.slice(folder.length)}`));
  const { rare } = partedFaces(base);

  it('are sent with the few signs that a page has, and no more', async () => {
    const signs = rareSigns('<h1>霧の小屋</h1> The hut in the mist, 霧');
    expect(signs).toBe([...'霧の小屋'].sort().join(''));
    const address = addressForSigns(signs, rare)!;
    const sheet = (await sheetForSigns(address.slice('/styles/'.length), base, fileAt))!;
    const has: number[] = [];
    for (const [, data = ''] of sheet.matchAll(/base64,([^)]+)\)/g)) {
      const font = create(Buffer.from(data, 'base64'));
      if (!font.isCollection) has.push(...font.characterSet.filter((point) => point > 0x7f && point < 0xffff));
    }
    expect(
      [...new Set(has)]
        .map((point) => String.fromCodePoint(point))
        .sort()
        .join(''),
    ).toBe(signs);
    // The pieces that have these signs would be so much more.
    const pieces = [...rare.matchAll(/@font-face\s*\{[^}]*\}/g)]
      .map(([face]) => ({ file: /url\(([^)]+)\)/.exec(face)![1]!, range: /unicode-range:([^;}]+)/.exec(face)![1]! }))
      .filter(({ range }) => pointsOf(range).some((point) => signs.includes(String.fromCodePoint(point))));
    const bytes = (await Promise.all(pieces.map(({ file }) => fileAt(file)))).reduce((n, one) => n + one.length, 0);
    expect(sheet.length).toBeLessThan(bytes / 10);
  });

  it('have an address only for such signs, in order, and not too many', async () => {
    const of = (signs: string) => addressForSigns(signs, rare)?.slice('/styles/'.length) ?? '';
    expect(of(rareSigns(Array.from({ length: 80 }, (_, i) => String.fromCodePoint(0x4e00 + i)).join('')))).toBe('');
    for (const file of [
      of('小の'),
      of('abc'),
      of('霧').replace(/faces-\w{16}/, 'faces-0123456789abcdef'),
      'faces-x.css',
    ])
      expect(await sheetForSigns(file, base, fileAt)).toBeUndefined();
    expect(await sheetForSigns(of('の小'), base, fileAt)).toContain('@font-face');
  });
});
