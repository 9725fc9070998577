import fc from 'fast-check';
import { Duration } from 'luxon';
import { describe, expect, it } from 'vitest';
import { balanced, nominalSeconds, parseDuration, writeIso } from '../../src/lib/core/base/duration';
import { byUnits, writeDuration } from '../../src/lib/core/base/write-duration';
import { formatNamed } from '../../src/lib/core/formats';
import { kindOf, parseValue } from '../../src/lib/core/model/field';
import { duration as family } from '../../src/lib/core/model/families/duration';
import { field, index } from '../support/world';

const own = field('walk', 'duration');
const parsed = (value: unknown) => parseValue(own, value, 'v');
const amount = fc.integer({ min: 0, max: 9999 });
const anyDuration = fc
  .tuple(amount, amount, amount, amount, amount, amount, amount)
  .map((parts) => writeIso(parts as never));

describe('durations', () => {
  // ISO 8601-1:2019, 5.5.2.2, and RFC 3339, appendix A; the examples are from memory.
  it.each([
    ['P3Y6M4DT12H30M5S', [3, 6, 0, 4, 12, 30, 5]],
    ['PT36H', [0, 0, 0, 0, 36, 0, 0]],
    ['P1M', [0, 1, 0, 0, 0, 0, 0]],
    ['PT1M', [0, 0, 0, 0, 0, 1, 0]],
    ['P4W', [0, 0, 4, 0, 0, 0, 0]],
    ['PT0.5S', [0, 0, 0, 0, 0, 0, 0.5]],
    ['PT0,5S', [0, 0, 0, 0, 0, 0, 0.5]],
    ['PT0S', [0, 0, 0, 0, 0, 0, 0]],
  ])('%s is read part by part', (text, parts) => expect(parseDuration(text)).toEqual(parts));

  it.each([
    '',
    'P',
    'PT',
    'P1',
    '1H',
    'PT1D',
    'P1H',
    'PT1.5H30M',
    'P-1D',
    '-P1D',
    'PT1H2',
    'p1d',
    `P${'1'.repeat(60)}D`,
  ])('%j is none', (text) => expect(parseDuration(text)).toBeUndefined());

  it('are read as luxon reads them, and written so that it reads the same', () => {
    fc.assert(
      fc.property(anyDuration, (text) => {
        const theirs = Duration.fromISO(text);
        expect(theirs.isValid).toBe(true);
        expect(writeIso(parseDuration(text)!)).toBe(text);
        const { years, months, weeks, days, hours, minutes, seconds } = theirs;
        expect(parseDuration(text)).toEqual([years, months, weeks, days, hours, minutes, seconds]);
      }),
    );
  });

  it('without years and months are as long as luxon says', () => {
    fc.assert(
      fc.property(fc.tuple(amount, amount, amount, amount, amount), ([w, d, h, m, s]) => {
        const parts = [0, 0, w, d, h, m, s] as const;
        expect(nominalSeconds(parts)).toBe(Duration.fromISO(writeIso(parts)).as('seconds'));
        expect(nominalSeconds(balanced(parts))).toBe(nominalSeconds(parts));
      }),
    );
    expect(nominalSeconds([0, 1, 0, 0, 0, 0, 0])).toBeGreaterThan(nominalSeconds([0, 0, 0, 30, 0, 0, 0]));
    expect(nominalSeconds([0, 1, 0, 0, 0, 0, 0])).toBeLessThan(nominalSeconds([0, 0, 0, 31, 0, 0, 0]));
  });

  // The English and German patterns of the CLDR (units.xml and list patterns of type "unit"), as of version 44, from memory.
  it.each([
    ['PT2H30M', 'en-GB', 'long', '2 hours, 30 minutes'],
    ['PT90M', 'en-GB', 'long', '1 hour, 30 minutes'],
    ['PT2H30M', 'en-GB', 'narrow', '2h 30m'],
    ['P1DT1H', 'de', 'long', '1 Tag, 1 Stunde'],
    ['PT2H5M', 'en-GB', 'digital', '2:05:00'],
    ['PT0S', 'en-GB', 'long', '0 minutes'],
  ] as const)('%s in %s, %s, is “%s”', (text, locale, style, words) =>
    expect(writeDuration(text, locale, style)).toBe(words),
  );

  it('are written by the platform where it can, with the same parts', () => {
    const calls: unknown[] = [];
    class Writer {
      constructor(private readonly locale: string) {}
      format(parts: Record<string, number>) {
        calls.push(parts);
        return `by the platform, ${this.locale}`;
      }
    }
    const intl = Intl as unknown as { DurationFormat?: unknown };
    const before = intl.DurationFormat;
    intl.DurationFormat = Writer;
    try {
      expect(writeDuration('PT90M', 'fr', 'short')).toBe('by the platform, fr');
    } finally {
      intl.DurationFormat = before;
    }
    expect(calls).toEqual([{ years: 0, months: 0, weeks: 0, days: 0, hours: 1, minutes: 30, seconds: 0 }]);
    expect(byUnits([0, 0, 0, 0, 1, 30, 0], 'fr', 'long')).toBe('1\u00a0heure et 30 minutes');
  });

  it('may be given as people write them, and are refused with an example', () => {
    const { kind, settings } = kindOf(own)!;
    for (const text of ['PT2H30M', 'pt2h30m', '2:30', '2 h 30 min', '2h 30m'])
      expect(parsed(kind.fromCell!(text, settings))).toEqual({ ok: true, value: 'PT2H30M' });
    const wrong = parsed('about two hours');
    expect(wrong.ok ? '' : wrong.problems[0]?.what).toContain('such as PT2H30M');
    expect(parsed(`P${'1'.repeat(100)}D`).ok).toBe(false);
  });

  it('add up part by part, and have a mean', () => {
    expect(family.takes?.sum?.(['PT2H30M', 'PT45M', 'P1D'])).toBe('P1DT2H75M');
    expect(family.takes?.average?.(['PT1H', 'PT2H'])).toBe('PT5400S');
    fc.assert(
      fc.property(fc.array(anyDuration, { minLength: 1, maxLength: 6 }), (list) => {
        const seconds = (text: unknown) => nominalSeconds(parseDuration(String(text))!);
        const sum = list.reduce((total, one) => total + seconds(one), 0);
        expect(Math.abs(seconds(family.takes?.sum?.(list)) - sum)).toBeLessThan(0.001);
      }),
    );
  });

  it('are written in hours, minutes or days where that is asked for', () => {
    const write = (style: string) =>
      formatNamed('duration')!.write('PT2H30M', { style }, { site: index.site, settings: {}, today: '' });
    expect([write('hours'), write('minutes'), write('days')]).toEqual(['2.5', '150', '0.1']);
  });
});
