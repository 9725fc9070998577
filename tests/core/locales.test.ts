import { readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { DateTime, Settings } from 'luxon';
import { describe, expect, it } from 'vitest';
import { directionOf, otherDirection, textDirection } from '../../src/lib/core/base/direction';
import { indexModel } from '../../src/lib/core/model/model';
import { compileTree } from '../../src/lib/core/render/compile';
import { drawPage } from '../../src/lib/core/render/page';
import type { ContentRecord } from '../../src/lib/core/schema/record';
import type { Tree } from '../../src/lib/core/schema/element';
import { boundTo, treeFrom } from '../../src/lib/core/templates/build';
import { envOf, houseScopes, model, record } from '../support/world';
import { number as format } from '../../src/lib/core/formats/number';
import { number as kind } from '../../src/lib/core/model/kinds/number';
import { dayNumber, dayOf, writeDatePattern, writeOrdinal, writeRelative } from '../../src/lib/core/base/write';

/** Languages of several calendars, digits and ways of grouping. */
const LOCALES = [
  'en-GB', 'de-DE', 'fr-FR', 'es-ES', 'pt-PT', 'it-IT', 'pl-PL', 'nl-NL', 'sv-SE', 'fi-FI', 'cs-CZ', 'tr-TR', 'ru-RU', 'el-GR',
  'ar-EG', 'fa-IR', 'he-IL', 'th-TH', 'ja-JP', 'hi-IN',
]; // prettier-ignore
const TIMES = 300;

const site = (locale: string) => ({
  site: { name: '', tagline: '', locale, timeZone: 'UTC' },
  today: '2026-12-01',
  settings: {},
});
const write = (value: number, options: object, settings: object, locale: string) =>
  format.write(value, format.options.parse(options), { ...site(locale), settings } as never);
const kindText = (value: number, settings: object, locale: string) =>
  kind.text(value as never, settings as never, { model: { site: site(locale).site } } as never);
const day = fc.integer({ min: dayNumber('1930-01-01'), max: dayNumber('2060-01-01') }).map(dayOf);
/** What a named style writes of a day, part by part. */
const parts = (of: string, locale: string, dateStyle: 'long' | 'short') =>
  Object.fromEntries(
    new Intl.DateTimeFormat(locale, { dateStyle, timeZone: 'UTC' })
      .formatToParts(new Date(`${of}T00:00:00Z`))
      .map(({ type, value }) => [type, value]),
  );

describe.each(LOCALES)('%s', (locale) => {
  it('has one calendar and one set of digits, in patterns as in named styles', () => {
    fc.assert(
      fc.property(day, (of) => {
        const named = parts(of, locale, 'long');
        expect(writeDatePattern(of, locale, 'd')).toBe(named.day?.replace(/^[0٠۰](?=.)/, ''));
        expect(writeDatePattern(of, locale, 'y')).toBe(named.year);
      }),
      { numRuns: TIMES },
    );
  });

  it('has its numbers grouped as the CLDR says, and years whole', () => {
    // The second library is the page's own: what is grouped is told by the digits alone.
    const digits = new Map(
      [...new Intl.NumberFormat(locale, { useGrouping: false }).format(9876543210)].map((sign, i) => [sign, 9 - i]),
    );
    const read = (text: string) => Number([...text].map((sign) => digits.get(sign) ?? '').join(''));
    const least = ['es-ES', 'pt-PT', 'pl-PL', 'it-IT'].includes(locale) ? 5 : 4;
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 10_000_000 }), (n) => {
        const [unit, bare] = [write(n, {}, { unit: 'm' }, locale).split('\u00a0m')[0]!, write(n, {}, {}, locale)];
        expect([read(unit), read(bare), read(write(n, { grouping: false }, {}, locale))]).toEqual([n, n, n]);
        const length = String(n).length;
        const apart = (text: string) => [...text].some((sign) => !digits.has(sign));
        expect([n, apart(unit)]).toEqual([n, length >= least]);
        expect([n, apart(bare)]).toEqual([n, length >= 5]);
      }),
      { numRuns: TIMES },
    );
  });

  it('has relative dates in whole units, as another library counts them', () => {
    Settings.defaultZone = 'utc';
    const formatter = new Intl.RelativeTimeFormat(locale, { numeric: 'auto' });
    fc.assert(
      fc.property(day, fc.integer({ min: -1500, max: 1500 }), (today, ahead) => {
        const other = dayOf(dayNumber(today) + ahead);
        const [from, until] = ahead < 0 ? [other, today] : [today, other];
        const months = Math.floor(DateTime.fromISO(until).diff(DateTime.fromISO(from), 'months').months);
        const sign = ahead < 0 ? -1 : 1;
        const size = Math.abs(ahead);
        const expected =
          months >= 12
            ? formatter.format(sign * Math.floor(months / 12), 'year')
            : months >= 1
              ? formatter.format(sign * months, 'month')
              : size >= 7
                ? formatter.format(sign * Math.floor(size / 7), 'week')
                : formatter.format(ahead, 'day');
        expect([today, other, writeRelative(other, today, locale)]).toEqual([today, other, expected]);
      }),
      { numRuns: TIMES },
    );
  });

  it('has an amount alike everywhere, with the decimals of its currency', () => {
    for (const [unit, code] of [
      ['€', 'EUR'],
      ['£', 'GBP'],
      ['JPY', 'JPY'],
      ['KWD', 'KWD'],
    ] as const)
      for (const value of [12.5, 13, 0, 1234.5]) {
        const own = new Intl.NumberFormat(locale, { style: 'currency', currency: code }).format(value);
        expect([write(value, { style: 'currency' }, { unit }, locale), kindText(value, { unit }, locale)]).toEqual([
          own,
          own,
        ]);
      }
  });
});

describe('dates', () => {
  it('are of the calendar that a language is written in', () => {
    // From memory: the Buddhist era is 543 years ahead; 1 December 2026 is 10 Azar 1405.
    expect(writeDatePattern('2026-12-01', 'th-TH', 'd/M/y')).toBe('1/12/2569');
    expect(writeDatePattern('2026-12-01', 'fa-IR', 'y/MM/dd')).toBe('۱۴۰۵/۰۹/۱۰');
    expect(writeDatePattern('2026-12-01', 'ar-EG', 'dd MMMM y HH:mm', '09:05:00')).toBe('٠١ ديسمبر ٢٠٢٦ ٠٩:٠٥');
    expect(writeDatePattern('2026-12-01', 'en-GB', 'yy')).toBe('26');
  });

  it('that are 35 days off are a month off, and 30 where the month has no more', () => {
    expect(writeRelative('2027-01-05', '2026-12-01', 'en')).toBe('next month');
    expect(writeRelative('2026-10-27', '2026-12-01', 'en')).toBe('last month');
    expect(writeRelative('2026-12-31', '2026-12-01', 'en')).toBe('in 4 weeks');
    expect(writeRelative('2027-02-28', '2027-01-31', 'en')).toBe('next month');
  });
});

describe('numbers', () => {
  it('are ordinals in the words of their language', () => {
    // CLDR, digits-ordinal (from memory), the masculine.
    const of = (locale: string) => [1, 2, 3, 11, 21].map((n) => writeOrdinal(n, locale));
    expect(of('en-GB')).toEqual(['1st', '2nd', '3rd', '11th', '21st']);
    expect(of('fr-FR')).toEqual(['1er', '2e', '3e', '11e', '21e']);
    expect(of('es-ES')).toEqual(['1.º', '2.º', '3.º', '11.º', '21.º']);
    expect(of('pt-PT')).toEqual(['1.º', '2.º', '3.º', '11.º', '21.º']);
    expect(of('it-IT')).toEqual(['1º', '2º', '3º', '11º', '21º']);
    expect(of('sv-SE')).toEqual(['1:a', '2:a', '3:e', '11:e', '21:a']);
    expect(of('de-DE')).toEqual(['1.', '2.', '3.', '11.', '21.']);
  });

  it('that are years, house numbers and codes stay whole, and one of a thing is one', () => {
    expect(write(1990, {}, {}, 'en-GB')).toBe('1990');
    expect(kindText(1990, {}, 'en-GB')).toBe('1990');
    expect(write(12345, {}, {}, 'en-GB')).toBe('12,345');
    expect(write(12345, {}, { grouping: false }, 'en-GB')).toBe('12345');
    expect(write(1990, {}, { grouping: true }, 'en-GB')).toBe('1,990');
    expect(write(1085, {}, { unit: 'm' }, 'en-GB')).toBe('1,085\u00a0m');
    // All decimals that there are, where nobody says how many.
    expect(write(12.5, {}, {}, 'en-GB')).toBe('12.5');
    const remarks = { unit: 'remarks', unitOne: 'remark' };
    expect([0, 1, 2].map((n) => write(n, {}, remarks, 'en-GB'))).toEqual([
      '0\u00a0remarks',
      '1\u00a0remark',
      '2\u00a0remarks',
    ]);
    expect(kindText(1, remarks, 'en-GB')).toBe('1\u00a0remark');
    // In French nought and one and a half are one (CLDR, plural rules; from memory).
    expect([0, 1.5, 2].map((n) => write(n, {}, { unit: 'nuits', unitOne: 'nuit' }, 'fr-FR'))).toEqual([
      '0\u00a0nuit',
      '1,5\u00a0nuit',
      '2\u00a0nuits',
    ]);
  });
});

/** A template drawn for a record of a site in some language. */
function renderWith(tree: Tree, of: ContentRecord, locale: string): string {
  const own = indexModel({ ...model, site: { ...model.site, locale } });
  return compileTree(tree, houseScopes, own).draw(envOf([of], [], { model: own }));
}

describe('direction', () => {
  it('is that of the language as it is most often written', () => {
    // Unicode scripts; which language has which is the CLDR's (from memory).
    const rtl = ['ar', 'ar-EG', 'fa-IR', 'he-IL', 'ur', 'ps', 'dv', 'yi', 'ug', 'az-Arab', 'pa-PK', 'sd', 'ckb'];
    for (const locale of rtl) expect([locale, directionOf(locale)]).toEqual([locale, 'rtl']);
    for (const locale of ['en-GB', 'ja', 'tr', 'az', 'pa-IN', 'hi', 'el', 'no such thing'])
      expect([locale, directionOf(locale)]).toEqual([locale, 'ltr']);
  });

  it('of a text is that of its first strong character (UAX 9, P2), told only where it is another', () => {
    expect(['שלום', '123 - שלום', '“مرحبا” hello', 'hello שלום', '…', '霧', '١٢٣'].map(textDirection)).toEqual([
      'rtl',
      'rtl',
      'rtl',
      'ltr',
      undefined,
      'ltr',
      undefined,
    ]);
    expect(otherDirection('Hello שלום', 'ltr')).toBeUndefined();
    expect(otherDirection('שלום Hello', 'ltr')).toBe('rtl');
    expect(otherDirection('Hello', 'rtl')).toBe('ltr');
    expect(otherDirection('2026', 'rtl')).toBeUndefined();
    expect(otherDirection('<p class="a">שלום</p>', 'ltr', true)).toBe('rtl');
    expect(otherDirection('<p>שלום</p>', 'rtl', true)).toBeUndefined();
  });

  it('stands on the page of a site, and on texts that run the other way', () => {
    const page = (locale: string) =>
      drawPage(
        { name: 'S', tagline: '', locale, timeZone: 'UTC' },
        { title: 'T', styles: [], main: '', navigation: [] },
      );
    expect(page('he-IL')).toContain('<html lang="he-IL" dir="rtl">');
    expect(page('en-GB')).toContain('<html lang="en-GB">');
    const tree = treeFrom({
      kind: 'box',
      children: [
        { kind: 'heading', slots: { text: boundTo('record', ['@title']) } },
        { kind: 'text', slots: { text: boundTo('record', ['story']) } },
      ],
    });
    const drawn = (locale: string, title: string, story: string) =>
      renderWith(tree, record(1, 'house', { story }, { title }), locale);
    expect(drawn('en-GB', 'שלום', 'Plain')).toMatch(
      /<h2><span dir="rtl">שלום<\/span><\/h2>.*<p class="text">Plain<\/p>/s,
    );
    expect(drawn('en-GB', 'Plain', 'مرحبا')).toMatch(/<h2>Plain<\/h2>.*dir="rtl">مرحبا/s);
    expect(drawn('ar-EG', 'Plain', 'مرحبا')).toMatch(/<h2><span dir="ltr">Plain<\/span><\/h2>/);
    expect(drawn('ar-EG', 'مرحبا', 'مرحبا')).not.toContain('dir=');
  });
});

describe('the style sheets of the site', () => {
  it('know no left or right, but beginning and end, so that a site of the other direction mirrors', () => {
    const folder = join(import.meta.dirname, '../../src/lib');
    const physical =
      /(?:^|[\s;{])(?:(?:margin|padding|border|scroll-margin|scroll-padding)-(?:left|right)|left|right|border-(?:top|bottom)-(?:left|right)-radius)\s*:|(?:text-align|float|clear)\s*:\s*(?:left|right)/;
    const sheets = [
      ...readdirSync(join(folder, 'core/elements')).map((name) => `core/elements/${name}`),
      ...readdirSync(join(folder, 'site')).map((name) => `site/${name}`),
    ].filter((name) => name.endsWith('.css'));
    expect(sheets.length).toBeGreaterThan(10);
    const found = sheets.flatMap((name) =>
      readFileSync(join(folder, name), 'utf8')
        .split('\n')
        .flatMap((line, i) => (physical.test(line) ? [`${name}:${i + 1} ${line.trim()}`] : [])),
    );
    expect(found).toEqual([]);
    // What it must find, it finds.
    for (const line of ['  margin-left: 1rem;', 'a{left:0}', '  text-align: right;', 'float:left'])
      expect([line, physical.test(line)]).toEqual([line, true]);
    for (const line of ['  margin-inline-start: 1rem;', '  text-align: start;', '  background-position: left top;'])
      expect([line, physical.test(line)]).toEqual([line, false]);
  });
});
