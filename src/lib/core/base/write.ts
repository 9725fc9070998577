/**
 * Values as people read them, by the Unicode CLDR as the platform's `Intl` carries it. Formatters are kept, since
 * making one costs far more than using it.
 */
const kept = new Map<string, unknown>();
function keep<T>(key: string, make: () => T): T {
  let formatter = kept.get(key) as T | undefined;
  if (formatter === undefined) kept.set(key, (formatter = make()));
  return formatter;
}

export type DateStyle = 'full' | 'long' | 'medium' | 'short';

/** A function that writes numbers in one locale and style, with a no-break space and the unit after them. */
export function numberWriter(
  locale: string,
  options: Intl.NumberFormatOptions = {},
  { unit, unitOne }: UnitWords = {},
): (value: number) => string {
  const key = `n|${locale}|${Object.entries(options).join('|')}`;
  const formatter = keep(key, () => new Intl.NumberFormat(locale, options));
  if (!unit) return (value) => formatter.format(value);
  if (!unitOne) return (value) => `${formatter.format(value)}\u00a0${unit}`;
  const rules = keep(`u|${locale}`, () => new Intl.PluralRules(locale));
  return (value) => `${formatter.format(value)}\u00a0${rules.select(value) === 'one' ? unitOne : unit}`;
}

/** The words after a number; `unitOne` where the language says that there is one (CLDR, plural rules). */
export interface UnitWords {
  unit?: string;
  unitOne?: string;
}

/**
 * Whether thousands stand apart: as a field says, else as the CLDR has it for the language, and without a unit only from five digits on, so that no year
 * reads “1,990”.
 */
export const groupingOf = ({ grouping, unit }: { grouping?: unknown; unit?: unknown }): 'auto' | 'min2' | false =>
  typeof grouping === 'boolean' ? grouping && 'auto' : unit ? 'auto' : 'min2';

export function writeNumber(
  value: number,
  locale: string,
  options: Intl.NumberFormatOptions = {},
  words: UnitWords = {},
): string {
  return numberWriter(locale, options, words)(value);
}

/** Whether `text` is an RFC 3339 full-date (5.6) that stands in the calendar. */
export function isFullDate(text: string): boolean {
  const parts = /^(\d{4})-(\d{2})-(\d{2})$/.exec(text);
  if (!parts) return false;
  const [year, month, day] = parts.slice(1).map(Number) as [number, number, number];
  const date = new Date(Date.UTC(year, month - 1, day));
  date.setUTCFullYear(year);
  return date.getUTCFullYear() === year && date.getUTCMonth() === month - 1 && date.getUTCDate() === day;
}

/** Days since 1970-01-01 of a full-date. */
export const dayNumber = (date: string): number => Date.parse(`${date}T00:00:00Z`) / 86_400_000;

export const dayOf = (dayNumber: number): string => new Date(dayNumber * 86_400_000).toISOString().slice(0, 10);

const QUARTER = 900_000;
/** The first quarter of an hour of 1973 since 1970. */
const QUARTERS_BEFORE = 105_216;
/** What was asked for last, which is most often the day of now. */
let lastDay = { quarter: Number.NaN, timeZone: '', day: '' };

/** The calendar day of an instant in a time zone, as a full-date. */
export function localDay(instant: Date, timeZone: string): string {
  // Zones are whole quarters of an hour apart from UTC since 1972, and all ends of days lie on one of those.
  const quarter = Math.floor(instant.getTime() / QUARTER);
  if (quarter > QUARTERS_BEFORE && quarter === lastDay.quarter && timeZone === lastDay.timeZone) return lastDay.day;
  const parts = keep(`d|${timeZone}`, () => new Intl.DateTimeFormat('en-CA', { timeZone, dateStyle: 'short' }));
  const day = parts.format(instant);
  lastDay = { quarter, timeZone, day };
  return day;
}

/** The first instant of a calendar day in a time zone, also where the clocks are put forward at midnight. */
export function startOfDay(day: string, timeZone: string): Date {
  const hours = 3_600_000;
  let before = Date.parse(`${day}T00:00:00Z`) - 16 * hours;
  let from = before + 32 * hours;
  while (from - before > 1) {
    const middle = Math.floor((before + from) / 2);
    if (localDay(new Date(middle), timeZone) < day) before = middle;
    else from = middle;
  }
  return new Date(from);
}

/** A full-date in one of the locale's four date styles. */
export function writeDate(date: string, locale: string, style: DateStyle): string {
  if (!isFullDate(date)) return '';
  const formatter = keep(
    `D|${locale}|${style}`,
    () => new Intl.DateTimeFormat(locale, { dateStyle: style, timeZone: 'UTC' }),
  );
  return formatter.format(new Date(`${date}T00:00:00Z`));
}

/** Parts of a full-date by themselves, such as its month and year. */
export function writeDateParts(date: string, locale: string, parts: Intl.DateTimeFormatOptions): string {
  if (!isFullDate(date)) return '';
  const formatter = keep(
    `P|${locale}|${JSON.stringify(parts)}`,
    () => new Intl.DateTimeFormat(locale, { ...parts, timeZone: 'UTC' }),
  );
  return formatter.format(new Date(`${date}T00:00:00Z`));
}

/** An instant as date and time in a time zone. */
export function writeInstant(instant: string, locale: string, timeZone: string, style: DateStyle = 'long'): string {
  const time = Date.parse(instant);
  if (Number.isNaN(time)) return '';
  const key = `I|${locale}|${timeZone}|${style}`;
  return keep(key, () => new Intl.DateTimeFormat(locale, { dateStyle: style, timeStyle: 'short', timeZone })).format(
    time,
  );
}

export function writeList(
  items: string[],
  locale: string,
  type: 'conjunction' | 'disjunction' | 'unit' = 'conjunction',
  style: 'long' | 'short' | 'narrow' = 'long',
): string {
  return keep(`L|${locale}|${type}|${style}`, () => new Intl.ListFormat(locale, { type, style })).format(items);
}

/**
 * What stands after a whole number that is an ordinal, by the CLDR's ordinal categories of the language (its rules of digits-ordinal, from memory; the
 * masculine where a language has genders). Languages that are not here write a full stop, or nothing.
 */
const SUFFIXES: Record<string, Record<string, string>> = {
  en: { one: 'st', two: 'nd', few: 'rd', other: 'th' },
  fr: { one: 'er', other: 'e' },
  es: { other: '.º' },
  pt: { other: '.º' },
  it: { many: 'º', other: 'º' },
  ca: { one: 'r', two: 'n', few: 't', other: 'è' },
  nl: { other: 'e' },
  sv: { one: ':a', other: ':e' },
};
const WITH_STOP = new Set(['de', 'da', 'nb', 'nn', 'no', 'fi', 'pl', 'cs', 'sk', 'sl', 'hr', 'et', 'hu', 'lv', 'tr']);

/** A whole number as an ordinal, such as 3rd. */
export function writeOrdinal(value: number, locale: string): string {
  const written = writeNumber(value, locale, { maximumFractionDigits: 0 });
  const language = new Intl.Locale(locale).language;
  const suffixes = SUFFIXES[language];
  if (!suffixes) return WITH_STOP.has(language) ? `${written}.` : written;
  const rules = keep(`o|${locale}`, () => new Intl.PluralRules(locale, { type: 'ordinal' }));
  return written + (suffixes[rules.select(Math.round(value))] ?? suffixes.other ?? '');
}

/** Whole months from one day to a later one: the last of them is over on the same day of a month, or on its last where it is shorter. */
function wholeMonths(from: string, until: string): number {
  const parts = (day: string) => day.split('-').map(Number) as [number, number, number];
  const [[y1, m1, d1], [y2, m2, d2]] = [parts(from), parts(until)];
  const months = (y2 - y1) * 12 + (m2 - m1);
  const last = new Date(Date.UTC(y2, m2, 0)).getUTCDate();
  return d2 >= Math.min(d1, last) ? months : months - 1;
}

/** A day seen from another, such as "yesterday" or "in 3 weeks": the largest unit of which there is at least one. */
export function writeRelative(day: string, today: string, locale: string): string {
  if (!isFullDate(day)) return '';
  const days = dayNumber(day) - dayNumber(today);
  const formatter = keep(`R|${locale}`, () => new Intl.RelativeTimeFormat(locale, { numeric: 'auto' }));
  const size = Math.abs(days);
  const sign = Math.sign(days);
  const months = days < 0 ? wholeMonths(day, today) : wholeMonths(today, day);
  if (months >= 12) return formatter.format(sign * Math.floor(months / 12), 'year');
  if (months >= 1) return formatter.format(sign * months, 'month');
  if (size >= 7) return formatter.format(sign * Math.floor(size / 7), 'week');
  return formatter.format(days, 'day');
}

/** Two days as a range of the locale, which leaves out what both share; only the first where the second comes before it. */
export function writeDateRange(from: string, until: string, locale: string): string {
  if (!isFullDate(from)) return '';
  if (!isFullDate(until) || until < from) return writeDate(from, locale, 'long');
  const formatter = keep(`r|${locale}`, () => new Intl.DateTimeFormat(locale, { dateStyle: 'long', timeZone: 'UTC' }));
  return formatter.formatRange(new Date(`${from}T00:00:00Z`), new Date(`${until}T00:00:00Z`));
}

/** The time of day of an instant in a time zone, HH:MM:SS. */
export function localTime(instant: Date, timeZone: string): string {
  if (Number.isNaN(instant.getTime())) return '00:00:00';
  return keep(`h|${timeZone}`, () => new Intl.DateTimeFormat('en-GB', { timeZone, timeStyle: 'medium' })).format(
    instant,
  );
}

/** An instant as an input for date and time has it, by the clocks of a time zone: YYYY-MM-DDTHH:MM; '' for no instant. */
export function localMoment(instant: string, timeZone: string): string {
  const at = new Date(instant);
  return Number.isNaN(at.getTime()) ? '' : `${localDay(at, timeZone)}T${localTime(at, timeZone).slice(0, 5)}`;
}

/** A moment as inputs for date and time give it, with seconds or without. */
const MOMENT = /^\d{4}-\d\d-\d\dT\d\d:\d\d(?::[0-5]\d)?$/;

/**
 * The instant at which the clocks of a time zone show a moment; the earlier one where they show it
 * twice, and as far after the gap as the moment lies in it where they never do. Undefined for what is no moment.
 */
export function instantOf(moment: string, timeZone: string): string | undefined {
  const wanted = MOMENT.test(moment) ? Date.parse(`${moment.slice(0, 16)}Z`) : Number.NaN;
  if (Number.isNaN(wanted)) return undefined;
  const seconds = Number(moment.slice(17) || 0) * 1000;
  const offsetAt = (at: number): number => Date.parse(`${localMoment(new Date(at).toISOString(), timeZone)}Z`) - at;
  const day = 86_400_000;
  const [before, after] = [offsetAt(wanted - day), offsetAt(wanted + day)];
  const fits = [before, after].map((offset) => wanted - offset).filter((at) => at + offsetAt(at) === wanted);
  return new Date((fits.length ? Math.min(...fits) : wanted - before) + seconds).toISOString();
}

/** A time of day by the locale's own clock, or by one of 24 or 12 hours. */
export function writeClock(time: string, locale: string, clock: 'locale' | '24' | '12'): string {
  const hourCycle = clock === '24' ? 'h23' : clock === '12' ? 'h12' : undefined;
  const options: Intl.DateTimeFormatOptions = { hour: 'numeric', minute: '2-digit', hourCycle, timeZone: 'UTC' };
  const formatter = keep(`c|${locale}|${clock}`, () => new Intl.DateTimeFormat(locale, options));
  return formatter.format(new Date(minutesOf(time) * 60_000));
}

/** A day in the calendar that the locale's named styles are written in, and its digits. `n` is the least number of digits. */
function calendarParts(instant: Date, locale: string) {
  // The same calendar with digits that can be counted with.
  const formatter = keep(`k|${locale}`, () => {
    const { calendar } = new Intl.DateTimeFormat(locale).resolvedOptions();
    return new Intl.DateTimeFormat('en-u-nu-latn', {
      calendar,
      year: 'numeric',
      month: 'numeric',
      day: 'numeric',
      timeZone: 'UTC',
    });
  });
  const parts = new Map(formatter.formatToParts(instant).map(({ type, value }) => [type as string, value]));
  const { numberingSystem } = keep(`K|${locale}`, () => new Intl.DateTimeFormat(locale).resolvedOptions());
  const digits = (value: number, n: number) =>
    writeNumber(value, locale, {
      numberingSystem,
      useGrouping: false,
      minimumIntegerDigits: Math.min(Math.max(n, 1), 21),
    });
  const number = (type: string) => Number(/\d+/.exec(parts.get(type) ?? '')?.[0] ?? 0);
  return { year: number('year') || number('relatedYear'), month: number('month'), day: number('day'), digits };
}

/**
 * A full-date by a pattern of Unicode date field symbols (UTS #35, Date Field Symbol Table): y, M, L, d, E, quoted text,
 * and with a time of day (HH:MM:SS) H, h, m, s and a; without a time these are midnight. Returns undefined where the
 * pattern has a symbol outside these.
 */
export function writeDatePattern(date: string, locale: string, pattern: string, time = '00:00:00'): string | undefined {
  if (!isFullDate(date)) return '';
  const instant = new Date(`${date}T00:00:00Z`);
  const { year, month, day, digits } = calendarParts(instant, locale);
  const part = (options: Intl.DateTimeFormatOptions, type: Intl.DateTimeFormatPartTypes) => {
    const formatter = keep(
      `p|${locale}|${JSON.stringify(options)}`,
      () => new Intl.DateTimeFormat(locale, { ...options, timeZone: 'UTC' }),
    );
    return formatter.formatToParts(instant).find((p) => p.type === type)?.value ?? '';
  };
  const names = (n: number) => (n === 5 ? 'narrow' : n === 4 ? 'long' : 'short') as 'narrow' | 'long' | 'short';
  let out = '';
  for (const [token] of pattern.matchAll(/'(?:[^']|'')*'|([a-zA-Z])\1*|[^a-zA-Z']+|'/g)) {
    const symbol = token[0] as string;
    const n = token.length;
    if (symbol === "'") out += token === "''" ? "'" : token.slice(1, -1).replace(/''/g, "'");
    else if (symbol === 'y' || symbol === 'u') out += n === 2 ? digits(year % 100, 2) : digits(year, n);
    else if (symbol === 'M' && n >= 3) out += part({ month: names(n), day: 'numeric' }, 'month');
    else if (symbol === 'L' && n >= 3) out += part({ month: names(n) }, 'month');
    else if (symbol === 'M' || symbol === 'L') out += digits(month, n);
    else if (symbol === 'd' && n <= 2) out += digits(day, n);
    else if (symbol === 'E' && n <= 5) out += part({ weekday: names(n) }, 'weekday');
    else if (symbol === 'H' && n <= 2) out += digits(+time.slice(0, 2), n);
    else if (symbol === 'h' && n <= 2) out += digits(+time.slice(0, 2) % 12 || 12, n);
    else if (symbol === 'm' && n <= 2) out += digits(+time.slice(3, 5), n);
    else if (symbol === 's' && n <= 2) out += digits(+time.slice(6, 8), n);
    else if (symbol === 'a' && n <= 3) {
      const options: Intl.DateTimeFormatOptions = { hour: 'numeric', hourCycle: 'h12', timeZone: 'UTC' };
      const formatter = keep(`a|${locale}`, () => new Intl.DateTimeFormat(locale, options));
      const at = new Date(minutesOf(time) * 60_000);
      out += formatter.formatToParts(at).find((p) => p.type === 'dayPeriod')?.value ?? '';
    } else if (/[a-zA-Z]/.test(symbol)) return undefined;
    else out += token;
  }
  return out;
}

/**
 * The first `count` words or characters as people count them (UAX #29, by `Intl.Segmenter`), with one ellipsis where
 * something was cut. Characters are grapheme clusters, so nothing is cut inside one; with `whole` it ends at a word, but
 * for a first word that is longer than all that is wanted.
 */
export function cutText(
  text: string,
  count: number,
  by: 'words' | 'characters',
  locale: string,
  whole = false,
): string {
  const granularity = by === 'words' ? 'word' : 'grapheme';
  const segmenter = keep(`S|${locale}|${granularity}`, () => new Intl.Segmenter(locale, { granularity }));
  let seen = 0;
  let end = 0;
  for (const segment of segmenter.segment(text)) {
    const counts = by === 'characters' || segment.isWordLike;
    if (counts && seen === count) return `${text.slice(0, whole ? wordEnd(text, end, locale) : end).trimEnd()}…`;
    if (counts) {
      seen++;
      end = segment.index + segment.segment.length;
    }
  }
  return text;
}

/** Where the last word ends that ends at or before a place in a text; the place itself where there is none. */
function wordEnd(text: string, at: number, locale: string): number {
  const segmenter = keep(`S|${locale}|word`, () => new Intl.Segmenter(locale, { granularity: 'word' }));
  let end = 0;
  for (const { segment, index, isWordLike } of segmenter.segment(text)) {
    if (index >= at) break;
    if (isWordLike && index + segment.length <= at) end = index + segment.length;
  }
  return end || at;
}

/** How many words a text has, as people count them (UAX #29, by `Intl.Segmenter`). */
export function countWords(text: string, locale: string): number {
  const segmenter = keep(`S|${locale}|word`, () => new Intl.Segmenter(locale, { granularity: 'word' }));
  let n = 0;
  for (const { isWordLike } of segmenter.segment(text)) if (isWordLike) n++;
  return n;
}

/** Whole minutes that so many words take to read, rounded up, at 200 a minute if nothing else is said (common practice). */
export const minutesToRead = (words: number, pace = 200): number => Math.ceil(words / pace);

/** Minutes since midnight of a time written HH:MM. */
export const minutesOf = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));

/** A time of day as the locale writes it. */
export function writeTime(time: string, locale: string): string {
  const formatter = keep(`t|${locale}`, () => new Intl.DateTimeFormat(locale, { timeStyle: 'short', timeZone: 'UTC' }));
  return formatter.format(new Date(minutesOf(time) * 60_000));
}
