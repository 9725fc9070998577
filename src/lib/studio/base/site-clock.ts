import { page } from '$app/state';
import { instantOf, localMoment } from '$lib/core/base/write';

/** Dates and times are written and read by the clocks of the site, wherever the computer stands. */
const zone = (): string => (page.data as { zone?: string }).zone ?? 'UTC';

const locale = (): string => (page.data as { locale?: string }).locale ?? 'en';

/** An instant (ISO 8601) in words, such as “3 Mar 2026, 14:05”. */
export const momentWords = (instant: string): string =>
  new Date(instant).toLocaleString(locale(), { dateStyle: 'medium', timeStyle: 'short', timeZone: zone() });

/** The day of an instant (ISO 8601) in words, such as “3 Mar 2026”. */
export const dayWords = (instant: string): string =>
  new Date(instant).toLocaleDateString(locale(), { dateStyle: 'medium', timeZone: zone() });

/** An instant as an input for date and time has it; '' for none. */
export const shownMoment = (instant: unknown): string =>
  typeof instant === 'string' && instant ? localMoment(instant, zone()) : '';

/** What an input for date and time holds, as an instant; undefined while it is not complete. */
export const readMoment = (moment: string): string | undefined => instantOf(moment, zone());

/** Said beside such inputs. */
export const clockWords = (): string => `By the clocks of the site (${zone()}).`;
