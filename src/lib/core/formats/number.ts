import { decimalsIn, unitIn } from '../model/settings';
import { z } from 'zod';
import { defineFormat, pick } from './format';
import { currencyOf, currencyOptions } from '../base/currency';
import { groupingOf, writeNumber, writeOrdinal } from '../base/write';

/** Decimals that a number is written with where nobody says how many: all that it has. */
const MOST_DECIMALS = 10;

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
    const decimals = digitsAsked ?? decimalsIn(settings);
    if (style === 'ordinal') return writeOrdinal(Number(value), site.locale);
    const digits = decimals === undefined ? {} : { minimumFractionDigits: decimals, maximumFractionDigits: decimals };
    const useGrouping = grouping && groupingOf(settings);
    const options: Intl.NumberFormatOptions =
      style === 'currency'
        ? {
            ...currencyOptions(asked ?? currencyOf(unitIn(settings).unit) ?? 'GBP', decimals),
            useGrouping: grouping && 'auto',
          }
        : style === 'compact'
          ? { maximumFractionDigits: decimals ?? 0, notation: 'compact' }
          : style === 'percent'
            ? { ...digits, useGrouping: grouping && 'auto', style: 'percent' }
            : { maximumFractionDigits: MOST_DECIMALS, ...digits, useGrouping };
    const withUnit = unit && (style === 'plain' || style === 'compact');
    const words = unitIn(settings);
    return writeNumber(Number(value), site.locale, options, withUnit ? words : undefined);
  },
});
