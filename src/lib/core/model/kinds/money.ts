import sign from 'lucide/dist/esm/icons/banknote.mjs';
import { z } from 'zod';
import { currencyOf, currencyOptions } from '../../base/currency';
import {
  decimalOf,
  decimalsOf,
  isCurrency,
  LONGEST_MONEY,
  MONEY_PATTERN,
  MOST_UNITS,
  parseMoney,
  writeMoney,
} from '../../base/money';
import { numberWriter } from '../../base/write';
import { money as family, type MoneySettings } from '../families/money';
import { defineKind } from './kind';
import { typeOfNode } from './schema-node';

const EXAMPLE = 'such as 12.50 EUR';
const LONGEST_CELL = 60;
/** A sign or code on either side of a number, with a minus before either. */
const CELL = /^(-?)\s*([^\d\s.,'’-]{0,6})\s*(-?)(\d[\d.,'’ \u00a0\u202f]*?)\s*([^\d\s.,'’-]{0,6})$/u;
const PLAIN = /^(\d+)(?:[.,](\d{1,4}))?$/;
/** Thousands apart by one and the same sign, decimals by another. */
const GROUPED = /^(\d{1,3}(?:([.,'’ \u00a0\u202f])\d{3})(?:\2\d{3})*)(?:(?!\2)[.,](\d{1,4}))?$/u;

/**
 * The digits before and after the decimal sign of a number as people write it, with a point or a comma; undefined where it is
 * none, or where it may be two: “1,200” is twelve hundred to some, and one and a fifth to others.
 */
function digitsOf(number: string, decimals: number): [digits: string, part: string] | undefined {
  const [plain, digits = '', part = ''] = PLAIN.exec(number) ?? [];
  if (plain) {
    const ambiguous = part.length === 3 && digits.length <= 3 && !(decimals === 3 && number.includes('.'));
    return ambiguous ? undefined : [digits, part];
  }
  const [, grouped, , rest = ''] = GROUPED.exec(number) ?? [];
  return grouped ? [grouped.replace(/\D/g, ''), rest] : undefined;
}

/** "12.5 EUR", "€12.50", "12,50 €", "CHF 1’200", "1.200,50 €", and "12.5", which is of the field's own currency. */
function fromCell(cell: string, { currency: usual }: MoneySettings): string {
  const text = cell.trim();
  if (text.length > LONGEST_CELL) return cell;
  const [, minus = '', before, further = '', number = '', after] = CELL.exec(text) ?? [];
  const named = before || after;
  if (!number || (before && after) || (minus && further)) return cell;
  const currency = named ? currencyOf(named.length === 3 ? named.toUpperCase() : named) : usual;
  const read = currency && digitsOf(number, decimalsOf(currency));
  if (!read) return cell;
  const [digits, part] = read;
  // Too many decimals are for the check to refuse, but for noughts at the end.
  const decimals = part.replace(/0+$/, '').padEnd(decimalsOf(currency), '0');
  return `${minus || further}${digits.replace(/^0+(?=\d)/, '')}${decimals ? `.${decimals}` : ''} ${currency}`;
}

const FORM = new RegExp(MONEY_PATTERN);
/** What is wrong with a text that is to be an amount, in words that say what would be right. */
function wrongOf(text: string, currency: string, only: boolean): string | undefined {
  if (text.length > LONGEST_MONEY || !FORM.test(text)) return `This is an amount with its currency, ${EXAMPLE}.`;
  const code = text.slice(-3);
  if (!isCurrency(code)) return `There is no currency ${code}: a currency is a code of ISO 4217, such as EUR.`;
  if (only && code !== currency) return `Amounts here are of ${currency}.`;
  if (parseMoney(text)) return undefined;
  const decimals = decimalsOf(code);
  const most = (MOST_UNITS / 10 ** decimals).toLocaleString('en');
  return `This is an amount with ${decimals} decimals at most, below ${most} ${code}.`;
}

/** An amount of money with its currency. */
export const money = defineKind({
  name: 'money',
  label: 'Money',
  sign,
  family,
  forFields: true,
  control: 'money',
  example: '12.50 EUR',
  settings: z.object({
    currency: z
      .string()
      .max(3)
      .refine(isCurrency, { error: 'A currency is three capital letters of ISO 4217, such as EUR.' })
      .default('EUR'),
    /** Whether amounts of other currencies are refused. */
    only: z.boolean().default(false),
  }),
  settingControls: [
    { name: 'currency', label: 'Currency', as: 'words', help: 'Its code, such as EUR: of amounts that say none.' },
    { name: 'only', label: 'In this currency only', as: 'switch' },
  ],
  value: ({ currency, only }) =>
    z
      .string({ error: `This is an amount with its currency, ${EXAMPLE}.` })
      .max(LONGEST_MONEY, { error: `This is an amount with its currency, ${EXAMPLE}.`, abort: true })
      .superRefine((text, context) => {
        const message = wrongOf(text, currency, only);
        if (message) context.addIssue({ code: 'custom', message });
      })
      // One way to write each amount, so that equal ones are equal texts.
      .transform((text) => {
        const amount = parseMoney(text);
        return amount ? writeMoney(amount) : text;
      }),
  isEmpty: (value) => value === '',
  text: (value, _settings, reader) => {
    const amount = parseMoney(value);
    if (!amount) return value;
    return numberWriter(reader.model.site.locale, currencyOptions(amount.currency))(Number(decimalOf(amount)));
  },
  schema: ({ currency, only }) => ({
    type: 'string',
    maxLength: LONGEST_MONEY,
    pattern: only ? MONEY_PATTERN.replace('[A-Z]{3}', currency) : MONEY_PATTERN,
    description: `An amount and its currency (ISO 4217), ${EXAMPLE}.`,
  }),
  fromSchema: (node) => {
    if (typeOfNode(node) !== 'string' || typeof node.pattern !== 'string') return undefined;
    if (node.pattern === MONEY_PATTERN) return { currency: 'EUR', only: false };
    const code = node.pattern.slice(-4, -1);
    return isCurrency(code) && node.pattern === MONEY_PATTERN.replace('[A-Z]{3}', code)
      ? { currency: code, only: true }
      : undefined;
  },
  fromCell,
  invent: (make, { currency }) =>
    writeMoney({ units: Math.round(make.random() * 200) * 5 * 10 ** Math.max(0, decimalsOf(currency) - 1), currency }),
});
