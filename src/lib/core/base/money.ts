/**
 * Amounts of money with their currency (ISO 4217), written as an exact decimal, a space and the code: "12.50 EUR".
 * They are counted in the smallest unit of the currency, so that sums are exact.
 */
export interface Money {
  /** In the smallest unit of the currency, such as cents. */
  units: number;
  /** Three capital letters of ISO 4217. */
  currency: string;
}

/** Amounts are smaller than this in the smallest unit, so that one number can stand for currency and amount. */
export const MOST_UNITS = 2e11;
/** The code of every currency, in order. */
export const CURRENCIES: readonly string[] = Intl.supportedValuesOf('currency');
const CODES: ReadonlySet<string> = new Set(CURRENCIES);
export const MONEY_PATTERN = '^-?[0-9]{1,12}(\\.[0-9]{1,4})? [A-Z]{3}$';
const MONEY = new RegExp(MONEY_PATTERN);
/** The longest text that may be an amount: sign, digits, point, four decimals, space, code. */
export const LONGEST_MONEY = 22;

export const isCurrency = (code: string): boolean => CODES.has(code);

const known = new Map<string, number>();
/** How many decimals amounts of a currency have (ISO 4217, minor unit, by way of the CLDR). */
export function decimalsOf(currency: string): number {
  let decimals = known.get(currency);
  if (decimals === undefined) {
    const { maximumFractionDigits = 2 } = new Intl.NumberFormat('en', {
      style: 'currency',
      currency,
    }).resolvedOptions();
    known.set(currency, (decimals = maximumFractionDigits));
  }
  return decimals;
}

/** What a text says; undefined where it is no amount, has more decimals than its currency, or is too large. */
export function parseMoney(text: string): Money | undefined {
  if (text.length > LONGEST_MONEY || !MONEY.test(text)) return undefined;
  const [number = '', currency = ''] = text.split(' ');
  if (!isCurrency(currency)) return undefined;
  const [digits = '', part = ''] = number.replace('-', '').split('.');
  const decimals = decimalsOf(currency);
  if (part.length > decimals) return undefined;
  const units = Number(digits + part.padEnd(decimals, '0'));
  if (units >= MOST_UNITS) return undefined;
  return { units: number.startsWith('-') && units ? -units : units, currency };
}

/** The amount as a plain decimal with all decimals of its currency, such as 12.50. */
export function decimalOf({ units, currency }: Money): string {
  const decimals = decimalsOf(currency);
  const digits = String(Math.abs(units)).padStart(decimals + 1, '0');
  const integer = digits.slice(0, digits.length - decimals);
  return `${units < 0 ? '-' : ''}${integer}${decimals ? `.${digits.slice(-decimals)}` : ''}`;
}

export const writeMoney = (money: Money): string => `${decimalOf(money)} ${money.currency}`;

/** The largest and the smallest amount of a currency. */
export const extremesOf = (currency: string): [string, string] => [
  writeMoney({ units: -(MOST_UNITS - 1), currency }),
  writeMoney({ units: MOST_UNITS - 1, currency }),
];

const LETTERS = 26;
const SPAN = 2 * MOST_UNITS;
const FIRST = 'A'.charCodeAt(0);

/** A number that orders amounts by their currency, then by size; below 2^53, so exact. */
export function moneyNumber({ units, currency }: Money): number {
  const place = [...currency].reduce((sum, letter) => sum * LETTERS + letter.charCodeAt(0) - FIRST, 0);
  return place * SPAN + MOST_UNITS + units;
}

/** The amount that such a number stands for; undefined where its currency is none. */
export function moneyAt(number: number): Money | undefined {
  const place = Math.floor(number / SPAN);
  const letters = [Math.floor(place / LETTERS ** 2), Math.floor(place / LETTERS) % LETTERS, place % LETTERS];
  const currency = String.fromCharCode(...letters.map((letter) => FIRST + letter));
  const units = Math.round(number - place * SPAN - MOST_UNITS);
  return isCurrency(currency) && Math.abs(units) < MOST_UNITS ? { units, currency } : undefined;
}
