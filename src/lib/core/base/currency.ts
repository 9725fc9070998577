/** Signs of currencies that mean one currency in most places, with its code (ISO 4217; common practice). */
const SIGNS: Record<string, string> = {
  '€': 'EUR',
  '£': 'GBP',
  $: 'USD',
  '¥': 'JPY',
  '₹': 'INR',
  '₩': 'KRW',
  '₺': 'TRY',
  '₽': 'RUB',
  '₴': 'UAH',
  '₪': 'ILS',
  '฿': 'THB',
  '₫': 'VND',
  '₦': 'NGN',
  '₱': 'PHP',
  '₲': 'PYG',
  '₡': 'CRC',
  '₸': 'KZT',
  zł: 'PLN',
};
const CODES = new Set(Intl.supportedValuesOf('currency'));

/** The currency (ISO 4217) that a unit such as “€” or “CHF” is; undefined where it is none. */
export function currencyOf(unit: unknown): string | undefined {
  const text = typeof unit === 'string' ? unit.trim() : '';
  return SIGNS[text] ?? (CODES.has(text) ? text : undefined);
}

/**
 * How an amount of a currency is written: with as many decimals as the currency has (ISO 4217 by way of the CLDR), unless a number of them is asked
 * for, which all amounts then have.
 */
export const currencyOptions = (currency: string, decimals?: number): Intl.NumberFormatOptions => ({
  style: 'currency',
  currency,
  ...(decimals !== undefined && { minimumFractionDigits: decimals, maximumFractionDigits: decimals }),
});
