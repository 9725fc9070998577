import { z } from 'zod';
import { decimalOf, parseMoney } from '../base/money';
import { numberWriter } from '../base/write';
import { defineFormat, pick } from './format';

/** Amounts of money by the patterns of the CLDR, each in its own currency. */
export const money = defineFormat({
  name: 'money',
  label: 'Money',
  writes: 'money',
  options: z.object({
    style: z.enum(['symbol', 'code', 'name', 'amount']).default('symbol'),
    decimals: z.enum(['all', 'needed', 'none']).default('all'),
    grouping: z.boolean().default(true),
  }),
  controls: [
    {
      name: 'style',
      label: 'Currency',
      as: 'pick',
      options: pick('symbol', 'Sign, €12.50', 'code', 'Code, EUR 12.50', 'name', 'Name, 12.50 euros', 'amount', 'None'),
    },
    {
      name: 'decimals',
      label: 'Decimals',
      as: 'pick',
      options: pick('all', 'All', 'needed', 'None of whole amounts', 'none', 'None, rounded'),
    },
    { name: 'grouping', label: 'Group thousands', as: 'switch' },
  ],
  write: (value, { style, decimals, grouping }, { site }) => {
    const amount = parseMoney(String(value));
    if (!amount) return String(value);
    const rounded = decimals === 'none' || (decimals === 'needed' && Number.isInteger(Number(decimalOf(amount))));
    const options: Intl.NumberFormatOptions = {
      style: 'currency',
      currency: amount.currency,
      useGrouping: grouping && 'auto',
      ...(style === 'amount' ? {} : { currencyDisplay: style }),
      ...(rounded && { minimumFractionDigits: 0, maximumFractionDigits: 0 }),
    };
    if (style !== 'amount') return numberWriter(site.locale, options)(Number(decimalOf(amount)));
    const { minimumFractionDigits, maximumFractionDigits } = new Intl.NumberFormat(
      site.locale,
      options,
    ).resolvedOptions();
    const plain = { minimumFractionDigits, maximumFractionDigits, useGrouping: options.useGrouping };
    return numberWriter(site.locale, plain as Intl.NumberFormatOptions)(Number(decimalOf(amount)));
  },
});
