/**
 * The order of text: the Unicode Collation Algorithm (UTS #10) as the CLDR tailors it for the language of a site, and runs of
 * digits by their value ("Hut 2" before "Hut 10"). The database's own collation only brings texts nearly into this order.
 */
const collators = new Map<string, Intl.Collator>();

/** The collator of a language tag; see RFC 6067 for what one may ask of the order, such as `de-u-co-phonebk`. */
function collatorFor(locale: string): Intl.Collator {
  let known = collators.get(locale);
  // Whatever the tag says of digits: they are compared by value in the keys already.
  if (!known) collators.set(locale, (known = new Intl.Collator(locale, { usage: 'sort', numeric: false })));
  return known;
}

/** Of longer texts only this much decides, in UTF-16 units; the database's index holds no more. */
const SORT_LENGTH = 191;

/** A text as it is put in order: normalised (NFC), and cut without parting a pair of surrogates. */
export function sortText(text: string): string {
  const whole = text.normalize('NFC');
  if (whole.length <= SORT_LENGTH) return whole;
  const cut = whole.slice(0, SORT_LENGTH);
  return /[\ud800-\udbff]$/.test(cut) ? cut.slice(0, -1) : cut;
}

const DIGITS = /\p{Nd}+/gu;

/** The value of a decimal digit of any script: each script has its ten in a row, and the first of a row follows no digit but those of rows before. */
function digitValue(char: string): number {
  const code = char.codePointAt(0) as number;
  if (code < 0x80) return code - 0x30;
  let first = code;
  while (code - first < 9 && /\p{Nd}/u.test(String.fromCodePoint(first - 1))) first--;
  // Rows that stand one right after the other (mathematical digits) come in tens from U+1D7CE on.
  return code >= 0x1d7ce && code <= 0x1d7ff ? (code - 0x1d7ce) % 10 : code - first;
}

/** Digits so that text compares them by value: how many there are goes before them, in a way that sorts by itself. */
function byValue(run: string): string {
  const digits = Array.from(run, digitValue)
    .join('')
    .replace(/^0+(?=.)/, '');
  return (digits.length < 9 ? String(digits.length) : `9${String(digits.length).padStart(3, '0')}`) + digits;
}

/** What two texts are compared by, in any language. */
export const collationKey = (text: string): string => sortText(text).replace(DIGITS, byValue);

/** Compares two keys that `collationKey` made, in the order of a language (a BCP 47 tag). */
export const compareText = (a: string, b: string, locale: string): number => collatorFor(locale).compare(a, b);
