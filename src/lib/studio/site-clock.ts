import { page } from '$app/state';
import { instantOf, localMoment } from '$lib/core/base/write';

/** Dates and times are written and read by the clocks of the site, wherever the computer stands. */
const zone = (): string => (page.data as { zone?: string }).zone ?? 'UTC';

/** An instant as an input for date and time has it; '' for none. */
export const shownMoment = (instant: unknown): string =>
  typeof instant === 'string' && instant ? localMoment(instant, zone()) : '';

/** What an input for date and time holds, as an instant; undefined while it is not complete. */
export const readMoment = (moment: string): string | undefined => instantOf(moment, zone());

/** Said beside such inputs. */
export const clockWords = (): string => `By the clocks of the site (${zone()}).`;
