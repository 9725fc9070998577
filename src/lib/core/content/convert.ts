import { isList, kindOf, parseValue } from '../model/field';
import type { Reader } from '../model/model-index';
import type { Field } from '../schema/field';
import { escapeHtml } from '../base/text';

/** Words as one piece of markup: paragraphs at blank lines, breaks kept. */
const asMarkup = (words: string): string =>
  `<p>${escapeHtml(words)
    .replace(/\n{2,}/g, '</p><p>')
    .replace(/\n/g, '<br>')}</p>`;

/** Where texts of values need nothing beside the value itself. */
const NO_READER = { record: () => undefined, media: () => undefined } as unknown as Reader;

/**
 * A value of one field in the kind of another; undefined where it cannot be kept. Kinds that take the same values keep
 * them as they are; all others go by the text that tables have.
 */
export function convertValue(from: Field, to: Field, value: unknown): unknown {
  const [source, target] = [kindOf(from), kindOf(to)];
  if (!source || !target || source.kind.pointsAt !== target.kind.pointsAt) return undefined;
  const markup = source.kind.outside === 'markup';
  const asIs = isList(source) === isList(target) && !markup ? parseValue(to, value, '') : undefined;
  if (asIs?.ok && asIs.value !== undefined) return asIs.value;
  const cells = (isList(source) ? (value as unknown[]) : [value]).map((one): unknown => {
    if (source.kind.pointsAt) return one;
    // Answers read better by their words, unless they become answers again.
    const byWords = markup || (source.kind.family.keyed === true && !target.kind.family.keyed);
    const words = byWords
      ? source.kind.text(one, source.settings, NO_READER)
      : (source.kind.toCell?.(one, source.settings) ?? String(one));
    if (target.kind.outside === 'markup') return asMarkup(words);
    return target.kind.fromCell ? target.kind.fromCell(words, target.settings) : words;
  });
  // Several values fit into one only as text.
  if (!isList(target) && cells.length > 1 && !target.kind.family.wordsOfNumbers) return undefined;
  const parsed = parseValue(to, isList(target) ? cells : cells.length > 1 ? cells.join(', ') : cells[0], '');
  return parsed.ok ? parsed.value : undefined;
}
