/** Which way text runs: of a site, and of each text. */
export type Direction = 'ltr' | 'rtl';

/** Scripts that run from right to left (Unicode 15.1, 9 and 14; ISO 15924). */
const RTL_SCRIPTS = new Set(['Arab', 'Hebr', 'Syrc', 'Thaa', 'Nkoo', 'Adlm', 'Rohg', 'Mand', 'Samr', 'Mend', 'Yezi']);

/** The direction of a language as it is most often written (BCP 47; CLDR, likely subtags). */
export function directionOf(locale: string): Direction {
  try {
    return RTL_SCRIPTS.has(new Intl.Locale(locale).maximize().script ?? '') ? 'rtl' : 'ltr';
  } catch {
    return 'ltr';
  }
}

/** Letters of the bidirectional classes R and AL (Unicode Standard Annex #9, 3.2), by their scripts. */
const RTL =
  /[\p{Script=Hebrew}\p{Script=Arabic}\p{Script=Syriac}\p{Script=Thaana}\p{Script=Nko}\p{Script=Adlam}\p{Script=Hanifi_Rohingya}\p{Script=Mandaic}\p{Script=Samaritan}\p{Script=Mende_Kikakui}\p{Script=Yezidi}]/u;
const LETTER = /\p{L}/u;

/** Signs from the first block with letters of the classes R and AL on. */
const FROM_HEBREW_ON = /[\u0590-\uffff]/;

/** The direction of a text by its first strong character (Unicode Standard Annex #9, P2 and P3); undefined where it has none. */
export function textDirection(text: string): Direction | undefined {
  const letter = LETTER.exec(text)?.[0];
  return letter === undefined ? undefined : RTL.test(letter) ? 'rtl' : 'ltr';
}

/** The direction of a text where it is another than that which it stands in; undefined where it is the same, or has none. `markup` has tags, which are no text. */
export function otherDirection(text: string, around: Direction, markup = false): Direction | undefined {
  // Most texts of most sites have no letter of the other direction at all, and are told by that quickly.
  if (around === 'ltr' && !FROM_HEBREW_ON.test(text)) return undefined;
  if (!(around === 'ltr' ? RTL : LETTER).test(text)) return undefined;
  const own = textDirection(markup ? text.replace(/<[^<>]*>|&[#\w]+;/g, ' ') : text);
  return own === around ? undefined : own;
}
