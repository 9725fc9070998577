import { parsePhoneNumber } from '#phone-numbers';
import type { CountryCode } from 'libphonenumber-js/min';
import { z } from 'zod';
import { defineFormat, pick } from './format';

/** Telephone numbers in the forms of ITU-T E.123, as libphonenumber has them; what is no number there stays as it is. */
export const phone = defineFormat({
  name: 'phone',
  label: 'Telephone number',
  writes: 'address',
  options: z.object({
    form: z.enum(['national', 'international', 'digits']).default('international'),
    country: z
      .string()
      .regex(/^[A-Z]{2}$/, { error: 'A country is two capital letters of ISO 3166, such as GB.' })
      .default('GB'),
  }),
  controls: [
    {
      name: 'form',
      label: 'Form',
      as: 'pick',
      options: pick('international', 'International', 'national', 'National', 'digits', 'Digits only'),
    },
    { name: 'country', label: 'Country where none is said', as: 'words' },
  ],
  write: (value, { form, country }) => {
    const text = typeof value === 'string' ? value : (value as { url: string }).url.replace(/^tel:/i, '');
    // The longest number of E.164 has 15 digits; what is far longer is none, and is not read as one.
    if (text.length > 100) return text;
    const found = parsePhoneNumber(text, country as CountryCode);
    if (form === 'digits') return found ? found.number : text.replace(/[^0-9+]/g, '');
    if (!found) return text;
    return form === 'national' ? found.formatNational() : found.formatInternational();
  },
});
