/**
 * Durations of ISO 8601-1:2019 (5.5.2, "duration with designators"), as RFC 3339, appendix A, writes their grammar: years,
 * months, weeks, days, then after `T` hours, minutes and seconds. The smallest part alone may have a fraction.
 */

/** Years, months, weeks, days, hours, minutes, seconds. */
export type Duration = readonly [number, number, number, number, number, number, number];

export const ZERO: Duration = [0, 0, 0, 0, 0, 0, 0];
export const DURATION_UNITS = ['years', 'months', 'weeks', 'days', 'hours', 'minutes', 'seconds'] as const;
const DESIGNATORS = ['Y', 'M', 'W', 'D', 'H', 'M', 'S'] as const;

/** No duration that is written out is longer. */
export const LONGEST_DURATION = 60;
const AMOUNT = '(\\d{1,9}(?:[.,]\\d{1,6})?)';
const part = (sign: string) => `(?:${AMOUNT}${sign})?`;
const date = ['Y', 'M', 'W', 'D'].map(part).join('');
const time = ['H', 'M', 'S'].map(part).join('');
/** The same as a pattern of JSON Schema (ECMA 262). */
export const DURATION_PATTERN = `^P(?=.)${date}(?:T(?=\\d)${time})?$`;
const WHOLE = new RegExp(DURATION_PATTERN);

/** The parts of a duration as it is written, such as PT2H30M; undefined for what is none. */
export function parseDuration(text: string): Duration | undefined {
  if (text.length > LONGEST_DURATION) return undefined;
  const found = WHOLE.exec(text);
  if (!found) return undefined;
  const written = found.slice(1);
  const last = written.findLastIndex((one) => one !== undefined);
  if (last < 0 || written.some((one, i) => i !== last && /[.,]/.test(one ?? ''))) return undefined;
  return written.map((one) => Number((one ?? '0').replace(',', '.'))) as unknown as Duration;
}

/** A duration as it is written, without the parts of which there are none; PT0S for nothing at all. */
export function writeIso(parts: Duration): string {
  const said = parts.map((amount, i) => (amount ? `${Number(amount.toFixed(6))}${DESIGNATORS[i]}` : ''));
  const [days, hours] = [said.slice(0, 4).join(''), said.slice(4).join('')];
  return days || hours ? `P${days}${hours && `T${hours}`}` : 'PT0S';
}

const DAY = 86_400;
/** The mean year of the Gregorian calendar, and a twelfth of it. */
const YEAR = 365.2425 * DAY;
const SECONDS: Duration = [YEAR, YEAR / 12, 7 * DAY, DAY, 3600, 60, 1];

/** Its length in seconds, where years and months count at their mean length. */
export const nominalSeconds = (parts: Duration): number =>
  Number(parts.reduce((sum, amount, i) => sum + amount * (SECONDS[i] as number), 0).toFixed(6));

/** Hours and minutes where there are more seconds or minutes than the next part holds; days and above stay as they are. */
export function balanced([years, months, weeks, days, hours, minutes, seconds]: Duration): Duration {
  const all = hours * 3600 + minutes * 60 + seconds;
  return [years, months, weeks, days, Math.floor(all / 3600), Math.floor((all % 3600) / 60), all % 60];
}
