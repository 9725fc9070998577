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
  unit?: string,
): (value: number) => string {
  const key = `n|${locale}|${options.minimumFractionDigits ?? ''}|${options.maximumFractionDigits ?? ''}|${options.useGrouping ?? ''}`;
  const formatter = keep(key, () => new Intl.NumberFormat(locale, options));
  return unit ? (value) => `${formatter.format(value)}\u00a0${unit}` : (value) => formatter.format(value);
}

export function writeNumber(
  value: number,
  locale: string,
  options: Intl.NumberFormatOptions = {},
  unit?: string,
): string {
  return numberWriter(locale, options, unit)(value);
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

/** The calendar day of an instant in a time zone, as a full-date. */
export function localDay(instant: Date, timeZone: string): string {
  const parts = keep(`d|${timeZone}`, () => new Intl.DateTimeFormat('en-CA', { timeZone, dateStyle: 'short' }));
  return parts.format(instant);
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

/** An instant as date and time in a time zone. */
export function writeInstant(instant: string, locale: string, timeZone: string, style: DateStyle = 'long'): string {
  const time = Date.parse(instant);
  if (Number.isNaN(time)) return '';
  const key = `I|${locale}|${timeZone}|${style}`;
  return keep(key, () => new Intl.DateTimeFormat(locale, { dateStyle: style, timeStyle: 'short', timeZone })).format(
    time,
  );
}

export function writeList(items: string[], locale: string): string {
  return keep(`L|${locale}`, () => new Intl.ListFormat(locale, { type: 'conjunction' })).format(items);
}

/**
 * A full-date by a pattern of Unicode date field symbols (UTS #35, Date Field Symbol Table): y, M, L, d, E, and quoted
 * text. Returns undefined where the pattern has a symbol outside these.
 */
export function writeDatePattern(date: string, locale: string, pattern: string): string | undefined {
  if (!isFullDate(date)) return '';
  const instant = new Date(`${date}T00:00:00Z`);
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
    else if (symbol === 'y' || symbol === 'u')
      out += n === 2 ? date.slice(2, 4) : String(+date.slice(0, 4)).padStart(n, '0');
    else if (symbol === 'M' && n >= 3) out += part({ month: names(n), day: 'numeric' }, 'month');
    else if (symbol === 'L' && n >= 3) out += part({ month: names(n) }, 'month');
    else if (symbol === 'M' || symbol === 'L') out += String(+date.slice(5, 7)).padStart(n, '0');
    else if (symbol === 'd' && n <= 2) out += String(+date.slice(8)).padStart(n, '0');
    else if (symbol === 'E' && n <= 5) out += part({ weekday: names(n) }, 'weekday');
    else if (/[a-zA-Z]/.test(symbol)) return undefined;
    else out += token;
  }
  return out;
}

/**
 * The first `count` words or characters as people count them (UAX #29, by `Intl.Segmenter`), with one ellipsis where
 * something was cut. Characters are grapheme clusters, so nothing is cut inside one.
 */
export function cutText(text: string, count: number, by: 'words' | 'characters', locale: string): string {
  const granularity = by === 'words' ? 'word' : 'grapheme';
  const segmenter = keep(`S|${locale}|${granularity}`, () => new Intl.Segmenter(locale, { granularity }));
  let seen = 0;
  let end = 0;
  for (const segment of segmenter.segment(text)) {
    const counts = by === 'characters' || segment.isWordLike;
    if (counts && seen === count) return `${text.slice(0, end).trimEnd()}…`;
    if (counts) {
      seen++;
      end = segment.index + segment.segment.length;
    }
  }
  return text;
}

/** Minutes since midnight of a time written HH:MM. */
export const minutesOf = (time: string): number => Number(time.slice(0, 2)) * 60 + Number(time.slice(3, 5));

/** A time of day as the locale writes it. */
export function writeTime(time: string, locale: string): string {
  const formatter = keep(`t|${locale}`, () => new Intl.DateTimeFormat(locale, { timeStyle: 'short', timeZone: 'UTC' }));
  return formatter.format(new Date(minutesOf(time) * 60_000));
}
