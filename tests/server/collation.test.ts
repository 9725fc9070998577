import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { collationKey, compareText, sortText } from '../../src/lib/core/base/collation';
import { run, select } from '../../src/lib/server/database/connect';
import { recordTable } from '../../src/lib/server/services/lists';
import { createRecord } from '../../src/lib/server/services/records';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';

let drop: () => Promise<void>;
beforeAll(async () => {
  drop = await freshDatabase(undefined, 'latin1');
  await run('CREATE TABLE texts (id INT PRIMARY KEY, sort VARCHAR(191) CHARACTER SET utf8mb4 COLLATE utf8mb4_bin)', []);
});
afterAll(() => drop());

/** Texts in the order of the core for a language, and in that of the database's own tailoring, which is another program's. */
async function orders(texts: string[], locale = 'en', tailoring = '') {
  await run('DELETE FROM texts', []);
  for (let i = 0; i < texts.length; i += 2000)
    await run('INSERT INTO texts VALUES ?', [texts.slice(i, i + 2000).map((text, j) => [i + j, sortText(text)])]);
  const rows = await select<{ id: number }>(
    `SELECT id FROM texts ORDER BY sort COLLATE utf8mb4_uca1400${tailoring && `_${tailoring}`}_nopad_as_cs, id`,
  );
  const key = texts.map(collationKey);
  return {
    database: rows.map((row) => texts[row.id]),
    core: texts
      .map((_, i) => i)
      .sort((a, b) => compareText(key[a]!, key[b]!, locale) || a - b)
      .map((i) => texts[i]),
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

let seed = 7;
const random = (below: number) => (seed = (seed * 1103515245 + 12345) & 0x7fffffff) % below;
const wordsOf = (parts: readonly string[], count: number): string[] =>
  Array.from({ length: count }, () =>
    Array.from({ length: 1 + random(5) }, () => parts[random(parts.length)]).join(''),
  );

/** Letters that all of these languages have. */
const COMMON = [...'abcdehilnostuyz '];

describe('the order of text', () => {
  it.each<[string, RegExp]>([
    ['Latin', /^\p{Script=Latin}$/u],
    ['Greek', /^\p{Script=Greek}$/u],
    ['Cyrillic', /^\p{Script=Cyrillic}$/u],
    ['Japanese syllables', /^[\p{Script=Hiragana}\p{Script=Katakana}]$/u],
    ['ASCII', /^[\x20-\x7e]$/],
  ])('of %s is that of the Unicode Collation Algorithm as the database has it', async (_name, re) => {
    const { database, core } = await orders(every(re));
    expect(core).toEqual(database);
  });

  // With the letters that each puts elsewhere than the common order: for those of others the two programs know different
  // ways. Without capitals, which the CLDR has first in Danish and the database has not.
  it.each([
    ['sv-SE', 'swedish', [...'åäö']],
    ['da-DK', 'danish', [...'åæøé', 'aa']],
    ['es-ES', 'spanish', [...'ñáéíóúü', 'll', 'ch']],
    ['cs-CZ', 'czech', [...'čďéěíňóřšťúůýž', 'ch']],
    ['sk-SK', 'slovak', [...'áäčďéíĺľňóôŕšťúýž', 'ch', 'dz']],
    ['pl-PL', 'polish', [...'ąćęłńóśźż']],
    ['tr-TR', 'turkish', [...'çğıöşü']],
    ['et-EE', 'estonian', [...'šžõäöü']],
    ['hr-HR', 'croatian', [...'čćđšž', 'dž', 'lj', 'nj']],
    ['de-DE-u-co-phonebk', 'german2', [...'äöüß', 'ae', 'ss']],
  ])('in %s is that of the database’s %s', async (locale, tailoring, own) => {
    // Where two pairs of letters share one, the two programs part them differently.
    const words = wordsOf([...COMMON, ...own], 1500).filter((word) => !/aå|a{3}|([csgzdlnt])\1[szy]/i.test(word));
    const { database, core } = await orders(words, locale, tailoring);
    expect(core).toEqual(database);
  });

  it('has numbers within text by their value, as the database’s natural keys have them', async () => {
    const texts = wordsOf(['a', 'b', '-', '1', '2', '9', '10', '100', '7', '12345678901'], 2000);
    await run('DELETE FROM texts', []);
    await run('INSERT INTO texts VALUES ?', [texts.map((text, i) => [i, text])]);
    const rows = await select<{ id: number }>('SELECT id FROM texts ORDER BY NATURAL_SORT_KEY(sort), id');
    // Its keys are compared by code; of these signs the order is the same in both.
    const core = [...texts.keys()].sort(
      (a, b) => compareText(collationKey(texts[a]!), collationKey(texts[b]!), 'en') || a - b,
    );
    expect(core.map((i) => texts[i])).toEqual(rows.map(({ id }) => texts[id]));
  });

  it('has digits of every script by their value, and nought before them changes nothing', () => {
    const digits = every(/^\p{Nd}$/u);
    expect(digits.length).toBeGreaterThan(300);
    for (const char of digits) {
      // UTS #10, 10.1: each has the primary weight of the digit that it is a form of.
      const value = [...'0123456789'].find(
        (digit) => !new Intl.Collator('en', { sensitivity: 'base' }).compare(digit, char),
      );
      expect(collationKey(`x${char}`), char).toBe(collationKey(`x${value}`));
    }
    expect(collationKey('𝟗𝟎')).toBe(collationKey('90'));
    expect(compareText(collationKey('Hut 007'), collationKey('Hut 7'), 'en')).toBe(0);
    expect(compareText(collationKey('Hut ١٠'), collationKey('Hut 9'), 'en')).toBeGreaterThan(0);
    const long = (length: number) => collationKey('9'.repeat(length));
    for (let length = 2; length < 190; length++)
      expect(compareText(long(length), long(length - 1), 'en'), String(length)).toBeGreaterThan(0);
  });

  it('goes by the first 191 units of a text, in memory as in the index', async () => {
    const long = 'x'.repeat(190);
    const texts = [`${long}ab`, `${long}aa`, `${long}😀`, `${long}`, `${long}é`, `${long}e\u0301`];
    const { database, core } = await orders(texts);
    expect(core).toEqual(database);
    expect(core.indexOf(texts[0])).toBeLessThan(core.indexOf(texts[1]));
  });
});

it('is kept whatever characters a database was made with', async () => {
  await saveModel();
  await createRecord('house', { title: 'Λευκό σπίτι 霧' });
  expect((await recordTable('house')).records.map(({ title }) => title)).toEqual(['Λευκό σπίτι 霧']);
});
