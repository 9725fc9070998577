import { searchWords } from '../base/words';
import type { ContentRecord } from '../schema/record';
import { kindOf, type Field } from '../model/model';
import type { ModelIndex } from '../model/model-index';

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
    fields.set(fieldId, (words = searchWords(text)));
  }
  return words;
}

/**
 * How well a field fits a word that is searched for, from what is local to it: found in the title counts three times,
 * found as a whole word and not as the beginning of one twice, and the less the more other words stand beside it.
 */
export const fitOfWord = (fieldId: string, whole: boolean, words: number): number =>
  ((fieldId === '@title' ? 3 : 1) * (whole ? 2 : 1)) / (1 + Math.log10(Math.max(1, words)));

/** How well a record fits a search: for each word what the field says in which it fits best. */
export function fitOf(
  record: ContentRecord,
  words: readonly string[],
  fieldIds: readonly string[] | undefined,
  model: ModelIndex,
): number {
  const own = [
    '@title',
    ...(model
      .type(record.typeId)
      ?.fields.filter(isSearched)
      .map((field) => field.id) ?? []),
  ];
  let sum = 0;
  for (const word of words) {
    let best = 0;
    for (const id of own) {
      if (fieldIds && !fieldIds.includes(id)) continue;
      const all = wordsIn(record, id, model);
      for (const one of all) if (one.startsWith(word)) best = Math.max(best, fitOfWord(id, one === word, all.length));
    }
    sum += best;
  }
  return sum;
}

/** Whether each of these words begins some word in the given fields of a record; in all its fields where none are given. */
export function containsWords(
  record: ContentRecord,
  words: readonly string[],
  fieldIds: readonly string[] | undefined,
  model: ModelIndex,
): boolean {
  const ids = fieldIds ?? ['@title', ...(model.type(record.typeId)?.fields.map((field) => field.id) ?? [])];
  return words.every((word) => ids.some((id) => wordsIn(record, id, model).some((one) => one.startsWith(word))));
}

/** How much text stands before and after what was found, in UTF-16 units. */
const AROUND = 70;

/** A piece of a text around the first word that begins as one of these does; undefined where none does. */
export function pieceAround(text: string, words: readonly string[]): string | undefined {
  for (const { index, 0: run } of text.matchAll(/[\p{L}\p{N}\p{M}]+/gu)) {
    if (!searchWords(run).some((one) => words.some((word) => one.startsWith(word)))) continue;
    // In scripts without spaces the sign itself is looked for.
    const sign = [...run].findIndex((char) => searchWords(char).some((one) => words.includes(one)));
    const at = index + Math.max(0, run.length > AROUND ? [...run].slice(0, Math.max(0, sign)).join('').length : 0);
    let from = Math.max(0, at - AROUND);
    let to = Math.min(text.length, at + AROUND);
    // Words are not cut, where there are any.
    if (from > 0) from += Math.max(0, text.slice(from, at).search(/\s/) + 1);
    if (to < text.length) {
      const end = text.slice(at, to).search(/\s\S*$/);
      if (end > 0) to = at + end;
    }
    // Nor is a sign of two units.
    if (/[\udc00-\udfff]/.test(text[from] ?? '')) from++;
    if (/[\udc00-\udfff]/.test(text[to] ?? '')) to--;
    const piece = text.slice(from, to).replace(/\s+/g, ' ').trim();
    return `${from > 0 ? '…' : ''}${piece}${to < text.length ? '…' : ''}`;
  }
  return undefined;
}

/** The field besides its title in which a record has what is searched for, with a piece of its text around the first such word. */
export function whereFound(
  record: ContentRecord,
  { words, fieldIds }: { words: readonly string[]; fieldIds?: readonly string[] },
  model: ModelIndex,
): { label: string; text: string } | undefined {
  for (const field of model.type(record.typeId)?.fields ?? []) {
    if ((fieldIds && !fieldIds.includes(field.id)) || !isSearched(field)) continue;
    if (!wordsIn(record, field.id, model).some((one) => words.some((word) => one.startsWith(word)))) continue;
    const text = pieceAround(searchedText(field, record.values[field.id]), words);
    if (text) return { label: field.label, text };
  }
  return undefined;
}
