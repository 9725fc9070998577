/**
 * The order of text: the Unicode Collation Algorithm (UTS #10) with the CLDR root order, as `Intl.Collator` carries it, and
 * as MariaDB's uca1400 has it too but for what is said here.
 */
const collator = new Intl.Collator('en', { usage: 'sort', sensitivity: 'variant' });

/** Of longer texts only this much decides, in UTF-16 units; the database's index holds no more. */
const SORT_LENGTH = 191;

/** A text as it is put in order: normalised (NFC), and cut without parting a pair of surrogates. */
export function sortText(text: string): string {
  const whole = text.normalize('NFC');
  if (whole.length <= SORT_LENGTH) return whole;
  const cut = whole.slice(0, SORT_LENGTH);
  return /[\ud800-\udbff]$/.test(cut) ? cut.slice(0, -1) : cut;
}

const HAN = /\p{Unified_Ideograph}/u;
const EVERY_HAN = /\p{Unified_Ideograph}/gu;

/**
 * Han characters in the order of the algorithm's own table, by block and code point (UTS #10, 10.1.3, implicit weights);
 * the CLDR has them by radical and stroke, which MariaDB does not know. Each is put as two signs of the private use area,
 * which both sort after every script, by code point.
 */
const hanByCode = (char: string): string => {
  const code = char.codePointAt(0) as number;
  const main = (code >= 0x4e00 && code <= 0x9fff) || (code >= 0xfa0e && code <= 0xfa29);
  const at = code + (main ? 0 : 0x40000);
  return String.fromCharCode(0xe000 + (at >> 10), 0xe000 + (at & 1023));
};

/** What two texts are compared by. */
export function collationKey(text: string): string {
  const cut = sortText(text);
  return HAN.test(cut) ? cut.replace(EVERY_HAN, hanByCode) : cut;
}

/** Compares two keys that `collationKey` made. */
export const compareText = (a: string, b: string): number => collator.compare(a, b);
