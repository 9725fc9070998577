import { z } from 'zod';
import { defineFormat, pick } from './format';
import { writeNumber, writeOrdinal } from '../base/write';

/** Signs of currencies that mean one currency in most places, with its code (ISO 4217; common practice). */
const SIGNS: Record<string, string> = {
  ...{ '€': 'EUR', '£': 'GBP', $: 'USD', '¥': 'JPY', '₹': 'INR', '₩': 'KRW', '₺': 'TRY', '₽': 'RUB', '₴': 'UAH' },
  ...{ '₪': 'ILS', '฿': 'THB', '₫': 'VND', '₦': 'NGN', '₱': 'PHP', '₲': 'PYG', '₡': 'CRC', '₸': 'KZT', zł: 'PLN' },
};
const CODES = new Set(Intl.supportedValuesOf('currency'));

/** The currency that a unit such as “€” or “CHF” is; undefined where it is none. */
function currencyOf(unit: unknown): string | undefined {
  const text = typeof unit === 'string' ? unit.trim() : '';
  return SIGNS[text] ?? (CODES.has(text) ? text : undefined);
}

export const number = defineFormat({
  name: 'number',
  label: 'Number',
  writes: 'number',
  options: z.object({
    style: z.enum(['plain', 'currency', 'compact', 'percent', 'ordinal']).default('plain'),
    currency: z
      .string()
      .regex(/^[A-Z]{3}$/, { error: 'A currency is three capital letters of ISO 4217, such as GBP.' })
      .optional(),
    decimals: z.number().int().min(0).max(10).optional(),
    grouping: z.boolean().default(true),
    unit: z.boolean().default(true),
  }),
  controls: [
    {
      name: 'style',
      label: 'Style',
      as: 'pick',
      options: pick(
        'plain',
        'Number',
        'currency',
        'Currency',
        'compact',
        'Compact, as 1.2K',
        'percent',
        'Per cent',
        'ordinal',
        'Ordinal, as 3rd',
      ),
    },
    { name: 'currency', label: 'Currency', as: 'words', when: { name: 'style', is: 'currency' } },
    {
      name: 'decimals',
      label: 'Decimals',
      as: 'number',
      when: { name: 'style', is: ['plain', 'currency', 'compact', 'percent'] },
    },
    {
      name: 'grouping',
      label: 'Group thousands',
      as: 'switch',
      when: { name: 'style', is: ['plain', 'currency', 'percent'] },
    },
    { name: 'unit', label: 'With its unit', as: 'switch', when: { name: 'style', is: ['plain', 'compact'] } },
  ],
  write: (value, { style, currency: asked, decimals: digitsAsked, grouping, unit }, { site, settings }) => {
    // What the field says of its numbers holds where nothing else is asked.
    const decimals = digitsAsked ?? (typeof settings.decimals === 'number' ? settings.decimals : 0);
    const currency = asked ?? currencyOf(settings.unit) ?? 'GBP';
    if (style === 'ordinal') return writeOrdinal(Number(value), site.locale);
    const digits = { minimumFractionDigits: decimals, maximumFractionDigits: decimals };
    const options: Intl.NumberFormatOptions =
      style === 'currency'
        ? { ...digits, useGrouping: grouping, style: 'currency', currency }
        : style === 'compact'
          ? { maximumFractionDigits: decimals, notation: 'compact' }
          : style === 'percent'
            ? { ...digits, useGrouping: grouping, style: 'percent' }
            : { ...digits, useGrouping: grouping };
    const withUnit = unit && (style === 'plain' || style === 'compact');
    return writeNumber(Number(value), site.locale, options, withUnit ? (settings.unit as string) : undefined);
  },
});
