import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  cutText,
  dayNumber,
  dayOf,
  isFullDate,
  writeDate,
  writeDatePattern,
  writeInstant,
  writeNumber,
} from '../../src/lib/core/base/write';
import { escapeHtml, fold, safeUrl, slugOf } from '../../src/lib/core/base/text';

describe('text', () => {
  it('escapes everything that HTML reads as markup', () => {
    expect(escapeHtml(`<a href="x" title='y'>&`)).toBe('&lt;a href=&quot;x&quot; title=&#39;y&#39;&gt;&amp;');
    fc.assert(fc.property(fc.string({ unit: 'binary' }), (text) => !/[<>"']/.test(escapeHtml(text))));
  });

  // Attack strings for links, from memory of OWASP's filter evasion list.
  it.each([
    'javascript:alert(1)',
    'JaVaScRiPt:alert(1)',
    ' javascript:alert(1)',
    'java\tscript:alert(1)',
    'java\nscript:alert(1)',
    '\u0001javascript:alert(1)',
    'vbscript:msgbox(1)',
    'data:text/html,<script>alert(1)</script>',
    '//evil.example/x',
    '\\\\evil.example',
    '/\\evil.example',
    'file:///etc/passwd',
  ])('refuses the address %j', (url) => expect(safeUrl(url)).toBe(''));

  it.each([
    'https://a.example/b?c#d',
    'http://a.example',
    'mailto:a@b.example',
    'tel:+44123',
    '/huts/',
    'huts/one',
    '#part',
    '?page=2',
  ])('keeps the address %j', (url) => expect(safeUrl(url)).toBe(url));

  it('compares without case after normalisation', () => {
    expect(fold('E\u0301COLE')).toBe(fold('école'));
    expect(fold('ΟΔΟΣ')).not.toBe(fold('odos'));
  });

  it('makes slugs of any script', () => {
    expect(slugOf('Grey Crag Hut')).toBe('grey-crag-hut');
    expect(slugOf('  Über & drüber!  ')).toBe('uber-druber');
    expect(slugOf('Λύκειον Refuge')).toBe('λυκειον-refuge');
    expect(slugOf('霧の小屋')).toBe('霧の小屋');
    expect(slugOf('!!!')).toBe('');
    expect(slugOf('x'.repeat(300)).length).toBe(80);
  });
});

describe('numbers and dates, against CLDR as Intl carries it', () => {
  const locales = ['en-GB', 'de-DE', 'fr-FR', 'hi-IN', 'ja-JP', 'ar-EG'];

  it('writes numbers as Intl does', () => {
    fc.assert(
      fc.property(
        fc.double({ noNaN: true, noDefaultInfinity: true }),
        fc.constantFrom(...locales),
        fc.integer({ min: 0, max: 4 }),
        (value, locale, digits) => {
          const options = { minimumFractionDigits: digits, maximumFractionDigits: digits };
          expect(writeNumber(value, locale, options)).toBe(value.toLocaleString(locale, options));
        },
      ),
    );
    expect(writeNumber(2140, 'en-GB', {}, { unit: 'm' })).toBe('2,140\u00a0m');
  });

  it('writes dates as Intl does, whatever the zone of the machine', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: -20_000, max: 40_000 }),
        fc.constantFrom(...locales),
        fc.constantFrom('full', 'long', 'medium', 'short'),
        (day, locale, style) => {
          const date = dayOf(day);
          const wanted = new Intl.DateTimeFormat(locale, { dateStyle: style as 'full', timeZone: 'UTC' }).format(
            day * 86_400_000,
          );
          expect(writeDate(date, locale, style as 'full')).toBe(wanted);
          expect(dayNumber(date)).toBe(day);
        },
      ),
    );
  });

  // UTS #35, part 4, Date Field Symbol Table: the examples given for each symbol, on 10 July 1996.
  it.each([
    ['yyyy.MM.dd', '1996.07.10'],
    ["EEE, MMM d, ''yy", "Wed, Jul 10, '96"],
    ['EEEE', 'Wednesday'],
    ['MMMMM', 'J'],
    ['MM/dd/y', '07/10/1996'],
    ["d 'of' MMMM y", '10 of July 1996'],
    ['LLLL', 'July'],
    ['EEEEE d', 'W 10'],
  ])('writes %j', (pattern, wanted) => expect(writeDatePattern('1996-07-10', 'en-US', pattern)).toBe(wanted));

  it('refuses symbols that a date has not', () => {
    expect(writeDatePattern('1996-07-10', 'en', 'h:mm z')).toBeUndefined();
    expect(writeDatePattern('1996-07-10', 'en', 'QQQ')).toBeUndefined();
  });

  // RFC 3339, 5.6 and 5.7, with the leap years of its appendix C.
  it.each([
    ['2024-02-29', true],
    ['2023-02-29', false],
    ['1900-02-29', false],
    ['2000-02-29', true],
    ['2026-04-31', false],
    ['2026-13-01', false],
    ['2026-00-10', false],
    ['26-01-01', false],
    ['2026-1-1', false],
    ['0001-01-01', true],
  ])('knows whether %s is a full-date', (date, right) => expect(isFullDate(date)).toBe(right));

  it('writes instants in the time zone of the site', () => {
    expect(writeInstant('2026-06-15T23:30:00Z', 'en-GB', 'Europe/London')).toContain('16 June 2026');
    expect(writeInstant('nonsense', 'en-GB', 'UTC')).toBe('');
  });
});

describe('cutting', () => {
  const texts = [
    'Η καλύβα στην ομίχλη πάνω από τη λίμνη',
    '霧の小屋は深い霧の中にある小さな家です',
    'A family 👨‍👩‍👧‍👦 on the 🏔️ with a flag 🇬🇷 and e\u0301clair',
    'one two three four five',
  ];

  it('cuts words as people count them', () => {
    expect(cutText('One two, three four', 2, 'words', 'en')).toBe('One two…');
    expect(cutText('One two', 2, 'words', 'en')).toBe('One two');
    expect(cutText('One two.', 2, 'words', 'en')).toBe('One two.');
  });

  it('never cuts inside a character, and counts as Intl.Segmenter does', () => {
    const graphemes = (text: string) =>
      [...new Intl.Segmenter('en', { granularity: 'grapheme' }).segment(text)].map((s) => s.segment);
    fc.assert(
      fc.property(
        fc.oneof(fc.constantFrom(...texts), fc.string({ unit: 'grapheme' })),
        fc.integer({ min: 1, max: 40 }),
        (text, count) => {
          const cut = cutText(text, count, 'characters', 'en');
          const all = graphemes(text);
          if (all.length <= count) expect(cut).toBe(text);
          else expect(cut).toBe(`${all.slice(0, count).join('').trimEnd()}…`);
        },
      ),
    );
  });

  it('keeps as many words as asked in every script', () => {
    for (const text of texts)
      for (const count of [1, 3, 5]) {
        const words = (t: string) =>
          [...new Intl.Segmenter('en', { granularity: 'word' }).segment(t)].filter((s) => s.isWordLike).length;
        expect(words(cutText(text, count, 'words', 'en'))).toBe(Math.min(count, words(text)));
      }
  });
});
