import { CURRENCIES, moneyAt, moneyNumber, parseMoney, writeMoney, decimalOf, type Money } from '../../base/money';
import { defineFamily, IN_WORDS } from '../family';

const read = (value: unknown): Money | undefined => parseMoney(String(value));

/** What a field says of its amounts: the currency of those that say none, and whether all others are refused. */
export interface MoneySettings {
  currency: string;
  only: boolean;
}

/** One amount of those of one currency; undefined where it is more than an amount may be. */
function together(values: unknown[], one: (units: number[]) => number): string | undefined {
  const all = values.flatMap((value) => read(value) ?? []);
  const [first] = all;
  if (!first) return undefined;
  const text = writeMoney({ units: one(all.map(({ units }) => units)), currency: first.currency });
  return parseMoney(text) && text;
}
const total = (units: number[]): number => units.reduce((a, b) => a + b, 0);

/** Amounts of one currency compare by their size; those of different currencies are neither equal, nor more or less. */
export const money = defineFamily<string>({
  name: 'money',
  columns: {
    number: (value) => {
      const amount = read(value);
      return amount ? moneyNumber(amount) : Number.NaN;
    },
  },
  order: 'number',
  tests: ['money'],
  formats: ['money'],
  slots: IN_WORDS,
  role: 'words',
  severalRole: 'words',
  takes: {
    sum: (values) => together(values, total),
    average: (values) => together(values, (units) => Math.round(total(units) / units.length)),
    extremes: true,
    parts: (values) => {
      const byCurrency = new Map<string, unknown[]>();
      for (const value of values) {
        const currency = read(value)?.currency ?? '';
        const part = byCurrency.get(currency);
        if (part) part.push(value);
        else byCurrency.set(currency, [value]);
      }
      return [...byCurrency.keys()].sort().map((currency) => byCurrency.get(currency) ?? []);
    },
  },
  operand: 'money',
  possible: {
    by: 'line',
    at: (at) => {
      const amount = moneyAt(at);
      return amount ? writeMoney(amount) : '';
    },
    whole: true,
    step: () => 1,
    within: (at, settings) => {
      const { currency, only } = settings as MoneySettings;
      const amount = moneyAt(at);
      return amount !== undefined && (!only || amount.currency === currency);
    },
    tries: (settings) => {
      const { currency } = settings as MoneySettings;
      return [currency, ...CURRENCIES].map((code) => moneyNumber({ units: 0, currency: code }));
    },
  },
  figure: (value) => {
    const amount = read(value);
    return amount && { value: Number(decimalOf(amount)), unit: amount.currency };
  },
  groups: true,
  told: (value) => {
    const amount = read(value);
    return amount
      ? { '@type': 'MonetaryAmount', currency: amount.currency, value: Number(decimalOf(amount)) }
      : undefined;
  },
  figures: true,
});
