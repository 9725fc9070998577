import fc from 'fast-check';
import { DateTime } from 'luxon';
import { describe, expect, it } from 'vitest';
import { instantOf, localDay, localMoment } from '../../src/lib/core/base/write';
import { indexModel } from '../../src/lib/core/model/model';
import { compileRule } from '../../src/lib/core/rules/compile';
import { envOf, houseScopes, model, own, record } from '../support/world';

/** Zones with daylight saving in either half of the year, without, with odd offsets, and on both sides of the date line. */
const ZONES = [
  'UTC',
  'Europe/London',
  'Europe/Berlin',
  'America/New_York',
  'America/St_Johns',
  'Australia/Lord_Howe',
  'Pacific/Auckland',
  'Pacific/Kiritimati',
  'Pacific/Pago_Pago',
  'Asia/Kathmandu',
  'America/Santiago',
];

function holds(name: string, step: string, value: string, now: Date, zone: string, days?: number): boolean {
  const index = indexModel({ ...model, site: { ...model.site, timeZone: zone } });
  const env = { ...envOf([record(1, 'house', { [step]: value })]), model: index, today: localDay(now, zone) };
  return compileRule(
    { test: name, path: own(step), ...(days === undefined ? {} : { operand: days }) },
    houseScopes,
    index,
  ).holds(env);
}

/** Calendar days from today to a moment, as luxon counts them. */
const daysBetween = (now: Date, at: Date, zone: string): number =>
  Math.round(
    DateTime.fromJSDate(at, { zone })
      .startOf('day')
      .setZone('UTC', { keepLocalTime: true })
      .diff(DateTime.fromJSDate(now, { zone }).startOf('day').setZone('UTC', { keepLocalTime: true }), 'days').days,
  );

describe('days relative to today', () => {
  const moment = fc.date({ min: new Date('2020-01-01'), max: new Date('2030-01-01'), noInvalidDate: true });
  const near = fc.tuple(moment, fc.integer({ min: -40 * 24 * 60, max: 40 * 24 * 60 }));

  it('are those of the calendar in the site’s time zone, as luxon counts them', () => {
    fc.assert(
      fc.property(near, fc.constantFrom(...ZONES), fc.integer({ min: 0, max: 45 }), ([now, minutes], zone, days) => {
        const at = new Date(now.getTime() + minutes * 60_000);
        const away = daysBetween(now, at, zone);
        const asked = (name: string, n?: number) => holds(name, 'seen', at.toISOString(), now, zone, n);
        expect([asked('day.past'), asked('day.future'), asked('day.last', days), asked('day.next', days)]).toEqual([
          away < 0,
          away > 0,
          away <= 0 && away >= -days,
          away >= 0 && away <= days,
        ]);
        // A date is the day that it says, in whichever zone it is read.
        const day = DateTime.fromJSDate(at, { zone }).toISODate() as string;
        expect(holds('day.last', 'built', day, now, zone, days)).toBe(away <= 0 && away >= -days);
      }),
      { numRuns: 600 },
    );
  });

  it('are the same whatever was asked before, in every zone there is', () => {
    const zones = Intl.supportedValuesOf('timeZone');
    const quarter = fc.integer({ min: 0, max: 2_200_000 });
    fc.assert(
      fc.property(fc.constantFrom(...zones), quarter, fc.constantFrom(-1, 0, 1, 899_999), (zone, n, beside) => {
        for (const at of [n * 900_000 + beside, n * 900_000 + 450_000]) {
          const wanted = new Intl.DateTimeFormat('en-CA', { timeZone: zone, dateStyle: 'short' }).format(at);
          expect([zone, at, localDay(new Date(at), zone)]).toEqual([zone, at, wanted]);
        }
      }),
      { numRuns: 3000 },
    );
  });

  /**
   * Days on which clocks change, as published: summer time in the Union from the last Sunday in March to the last in
   * October, at 01:00 UTC (Directive 2000/84/EC, articles 2 and 3); in the United States from the second Sunday in March
   * to the first in November, at 2:00 (Energy Policy Act of 2005, section 110); in New Zealand from the last Sunday in
   * September to the first in April (Time Act order of 2007). The dates of these years were worked out by hand.
   */
  it.each([
    ['Europe/Berlin', '2026-03-29', 23],
    ['Europe/Berlin', '2026-10-25', 25],
    ['America/New_York', '2026-03-08', 23],
    ['America/New_York', '2026-11-01', 25],
    ['Pacific/Auckland', '2026-09-27', 23],
    ['Pacific/Auckland', '2026-04-05', 25],
  ])('%s: on %s, a day of %i hours, each moment is of today and none is missed', (zone, day, hours) => {
    const start = DateTime.fromISO(day, { zone });
    const length = start.plus({ days: 1 }).diff(start, 'hours').hours;
    expect(length).toBe(hours);
    const noon = start.set({ hour: 12 }).toJSDate();
    const at = (minutes: number) => start.plus({ minutes }).toUTC().toISO() as string;
    const today = (minutes: number) => holds('day.last', 'seen', at(minutes), noon, zone, 0);
    const own = Array.from({ length: hours * 2 }, (_, i) => today(i * 30));
    expect(own.every(Boolean)).toBe(true);
    expect([today(-1), today(hours * 60)]).toEqual([false, false]);
    expect(holds('day.past', 'seen', at(-1), noon, zone)).toBe(true);
    expect(holds('day.future', 'seen', at(hours * 60), noon, zone)).toBe(true);
    expect(holds('day.next', 'seen', at(hours * 60), noon, zone, 1)).toBe(true);
  });
});

describe('moments by the clocks of the site', () => {
  const minutes = fc.integer({
    min: Date.parse('2020-01-01T00:00Z') / 60_000,
    max: Date.parse('2030-01-01T00:00Z') / 60_000,
  });
  const zones = fc.constantFrom(...ZONES);

  it('are shown as luxon shows them, and read back as the same instant or the earlier of two', () => {
    fc.assert(
      fc.property(minutes, zones, (minute, zone) => {
        const at = DateTime.fromMillis(minute * 60_000, { zone });
        const shown = localMoment(at.toJSDate().toISOString(), zone);
        expect(shown).toBe(at.toFormat("yyyy-MM-dd'T'HH:mm"));
        const back = instantOf(shown, zone);
        const [earliest] = at.getPossibleOffsets().sort((a, b) => a.toMillis() - b.toMillis());
        expect(back).toBe(earliest?.toJSDate().toISOString());
      }),
      { numRuns: 2000 },
    );
  });

  it('that the clocks leave out lie as far after the gap', () => {
    // 01:30 on 2026-03-29 in London, where 01:00 is followed by 02:00.
    expect(instantOf('2026-03-29T01:30', 'Europe/London')).toBe('2026-03-29T01:30:00.000Z');
    expect(localMoment('2026-03-29T01:30:00Z', 'Europe/London')).toBe('2026-03-29T02:30');
    for (const wrong of ['', '2026-03-29', 'x'.repeat(100_000), '2026-13-01T00:00'])
      expect(instantOf(wrong, 'UTC')).toBeUndefined();
    expect(instantOf('2026-07-01T12:00:05', 'Europe/London')).toBe('2026-07-01T11:00:05.000Z');
    expect(localMoment('never', 'UTC')).toBe('');
  });
});
