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
export function holdsWords(
  record: ContentRecord,
  words: readonly string[],
  fieldIds: readonly string[] | undefined,
  model: ModelIndex,
): boolean {
  const ids = fieldIds ?? ['@title', ...(model.type(record.typeId)?.fields.map((field) => field.id) ?? [])];
  return words.every((word) => ids.some((id) => wordsIn(record, id, model).some((one) => one.startsWith(word))));
}
