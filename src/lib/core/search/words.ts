import type { ContentRecord } from '../content/record';
import { kindOf, type Field, type ModelIndex } from '../model/model';

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
export function wordsOf(text: string): string[] {
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
        word += char;
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
export const wordsAsked = (search: string): string[] => wordsOf(search.slice(0, LONGEST_SEARCH)).slice(0, MOST_WORDS);

/** The text in which a field's value is searched; '' for kinds that are no running text. */
export function searchedText(field: Field, value: unknown): string {
  const known = kindOf(field);
  if (!known?.kind.words || value === undefined || value === null) return '';
  const { kind, settings } = known;
  const list = Array.isArray(value) ? (value as unknown[]) : [value];
  return list.map((one) => kind.words?.(one, settings) ?? '').join('\n');
}

/** Whether text search can look into values of a field. */
export const isSearched = (field: Field): boolean => Boolean(kindOf(field)?.kind.words);

const kept = new WeakMap<ContentRecord, Map<string, string[]>>();

/** The searched words of one field of a record; `@title` is the title. */
function wordsIn(record: ContentRecord, fieldId: string, model: ModelIndex): string[] {
  let fields = kept.get(record);
  if (!fields) kept.set(record, (fields = new Map<string, string[]>()));
  let words = fields.get(fieldId);
  if (!words) {
    const field = model.field(fieldId)?.field;
    const text = fieldId === '@title' ? record.title : field ? searchedText(field, record.values[fieldId]) : '';
    fields.set(fieldId, (words = wordsOf(text)));
  }
  return words;
}

/** Whether each of these words begins some word in the given fields of a record; in all its fields where none are given. */
export function holdsWords(
  record: ContentRecord,
  words: readonly string[],
  fieldIds: readonly string[] | undefined,
  model: ModelIndex,
): boolean {
  const ids = fieldIds ?? ['@title', ...(model.type(record.typeId)?.fields.map((field) => field.id) ?? [])];
  return words.every((word) => ids.some((id) => wordsIn(record, id, model).some((one) => one.startsWith(word))));
}
