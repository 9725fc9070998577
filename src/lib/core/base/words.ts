/** The longest word that is told apart from others, in the form in which it is looked up. */
const LONGEST = 80;

/** More words of a search than these are not looked for. */
export const MOST_WORDS = 12;

/** The longest search that is read; what comes after is left out. */
export const LONGEST_SEARCH = 200;

const SPACED = /[\p{L}\p{N}]+/gu;

/** Scripts written without spaces between words: every sign counts as a word. */
const UNSPACED =
  /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Thai}\p{Script=Lao}\p{Script=Khmer}\p{Script=Myanmar}]/u;

/**
 * The words of a text in the form in which they are searched: without case and accents, in the characters a to z, 0 to
 * 9 and `_` alone, each beginning with `zz`. One that begins a word before it is so put also begins it afterwards. The
 * form is never too short for MariaDB's full text index, nor one of its stop words.
 */
export function searchWords(text: string): string[] {
  const found = new Set<string>();
  // Upper case first, so that letters which are written as two without case are found by both.
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}+/gu, '')
    .toUpperCase()
    .toLowerCase()
    .replaceAll('ς', 'σ')
    .normalize('NFC');
  for (const [run] of plain.matchAll(SPACED)) {
    let word = '';
    for (const char of run) {
      if (!UNSPACED.test(char)) {
        // No more of it is told apart from others.
        if (word.length < LONGEST) word += char;
        continue;
      }
      if (word) found.add(lookedUp(word));
      found.add(lookedUp(char));
      word = '';
    }
    if (word) found.add(lookedUp(word));
  }
  return [...found];
}

function lookedUp(word: string): string {
  let out = 'zz';
  for (const char of word) {
    const next = /[a-z0-9]/.test(char) ? char : `_${(char.codePointAt(0) as number).toString(36).padStart(4, '0')}`;
    if (out.length + next.length > LONGEST) break;
    out += next;
  }
  return out;
}

/** The words of a search, of which only so many are looked for. */
export const queryWords = (search: string): string[] =>
  searchWords(search.slice(0, LONGEST_SEARCH)).slice(0, MOST_WORDS);

/** Whether each word of a search begins a word of a text, without case and accents. */
export function hasWords(text: string, search: string): boolean {
  const own = searchWords(text);
  return queryWords(search).every((word) => own.some((one) => one.startsWith(word)));
}
