import type { parsePhoneNumberFromString } from 'libphonenumber-js/min';
import { onDemand } from '../base/on-demand';

const library = onDemand(() => import('libphonenumber-js/min'));

/** As in `phone-numbers.ts`, which also finds nothing, until the library has come. */
export const parsePhoneNumber: typeof parsePhoneNumberFromString = (text: string, options?: object | string) =>
  library()?.parsePhoneNumberFromString(text, options as 'GB');
