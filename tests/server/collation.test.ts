import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { collationKey, compareText, sortText } from '../../src/lib/core/base/collation';
import { run, select } from '../../src/lib/server/database/connect';
import { freshDatabase } from '../support/database';

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase();
  await run(
    'CREATE TABLE texts (id INT PRIMARY KEY, sort VARCHAR(191) CHARACTER SET utf8mb4 COLLATE utf8mb4_uca1400_nopad_as_cs)',
    [],
  );
});
afterAll(() => drop());

/** Texts in the order of the database, of the core, and of ICU as it is. */
async function orders(texts: string[]) {
  await run('DELETE FROM texts', []);
  for (let i = 0; i < texts.length; i += 2000)
    await run('INSERT INTO texts VALUES ?', [texts.slice(i, i + 2000).map((text, j) => [i + j, sortText(text)])]);
  const rows = await select<{ id: number }>('SELECT id FROM texts ORDER BY sort, id');
  const all = texts.map((_, i) => i);
  const key = texts.map(collationKey);
  const icu = new Intl.Collator('en');
  return {
    database: rows.map((row) => texts[row.id]),
    core: [...all].sort((a, b) => compareText(key[a]!, key[b]!) || a - b).map((i) => texts[i]),
    icu: [...all].sort((a, b) => icu.compare(texts[a]!, texts[b]!) || a - b).map((i) => texts[i]),
  };
}

const every = (re: RegExp): string[] => {
  const found: string[] = [];
  for (let code = 0x20; code < 0x10000; code++) {
    const char = String.fromCharCode(code);
    if ((code < 0xd800 || code > 0xdfff) && re.test(char) && !NEWER.includes(char)) found.push(char);
  }
  return found;
};

/**
 * Characters that ICU 78 (Unicode 17) has in another place than MariaDB 10.11, whose uca1400 is that of Unicode 14: rare
 * letters for phonetics and old scripts, most of them newer than Unicode 14.
 */
const NEWER = 'ↅↆꟚꟛꟜƛ꟱ꟋꟌꟍ꟎꟏꟒꟔ᲉᲊɤꟐꟑꟓꟕᶉ';

describe('the order of text', () => {
  it.each<[string, RegExp]>([
    ['Latin', /^\p{Script=Latin}$/u],
    ['Greek', /^\p{Script=Greek}$/u],
    ['Cyrillic', /^\p{Script=Cyrillic}$/u],
    ['Japanese syllables', /^[\p{Script=Hiragana}\p{Script=Katakana}]$/u],
    ['digits of every script', /^\p{Nd}$/u],
    ['ASCII', /^[\x20-\x7e]$/],
  ])('of %s is that of ICU and of the database', async (_name, re) => {
    const { database, core, icu } = await orders(every(re));
    expect(core).toEqual(icu);
    expect(core).toEqual(database);
  });

  it('of Han characters is that of the algorithm’s table, not the CLDR’s by radical', async () => {
    const { database, core, icu } = await orders(every(/^[\u3400-\u4dbf\u4e00-\u9fff]$/));
    expect(core).toEqual(database);
    expect(core).not.toEqual(icu);
    // UTS #10, 10.1.3: the unified ideographs of the first block before those of the extensions, by code point.
    const code = (char: string) => char.codePointAt(0)! + (char < '\u4e00' ? 0x40000 : 0);
    expect(core).toEqual([...core].sort((a, b) => code(a!) - code(b!)));
  });

  it('of words with accents, case, signs and pairs of letters is the same everywhere', async () => {
    const parts = [
      'a',
      'A',
      'á',
      'a\u0301',
      'ä',
      'b',
      'ß',
      'ss',
      'S',
      'z',
      'ω',
      'Ώ',
      '霧',
      '小',
      ' ',
      '-',
      '1',
      '2',
      '_',
      '%',
      'æ',
      'Æ',
      'ø',
      'đ',
      'İ',
      'ı',
      'ﬁ',
      '’',
    ];
    let seed = 7;
    const random = (below: number) => (seed = (seed * 1103515245 + 12345) & 0x7fffffff) % below;
    const words = Array.from({ length: 3000 }, () =>
      Array.from({ length: 1 + random(5) }, () => parts[random(parts.length)]).join(''),
    );
    const { database, core, icu } = await orders(words);
    expect(core).toEqual(database);
    const latin = (list: (string | undefined)[]) => list.filter((word) => !/[霧小]/.test(word!));
    expect(latin(core)).toEqual(latin(icu));
  });

  it('goes by the first 191 units of a text, in memory as in the index', async () => {
    const long = 'x'.repeat(190);
    const texts = [`${long}ab`, `${long}aa`, `${long}😀`, `${long}`, `${long}é`, `${long}e\u0301`];
    const { database, core } = await orders(texts);
    expect(core).toEqual(database);
    expect(core.indexOf(texts[0])).toBeLessThan(core.indexOf(texts[1]));
  });
});
