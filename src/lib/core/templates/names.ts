import { elementNamed } from '../elements';
import type { ModelIndex } from '../model/model-index';
import { pathWords } from '../paths/built-ins';
import type { Element } from '../schema/element';

/** What stands in an element's first text, where that is fixed. */
export function fixedWords(element: Element): string | undefined {
  for (const slot of Object.values(element.slots))
    if ('fixed' in slot && typeof slot.fixed === 'string') return slot.fixed;
  return undefined;
}

/** The first sentence with values of an element, each value by its name. */
export function sentenceOf(element: Element, model: ModelIndex): string | undefined {
  for (const slot of Object.values(element.slots))
    if ('words' in slot)
      return slot.words[0]
        ?.map((run) => run.text ?? (run.bound ? `‹${pathWords(run.bound.path, model).split(' → ').at(-1)}›` : ''))
        .join('');
  return undefined;
}

/** What an element is called: the designer's name for it, or what it says, is bound to, or is. */
export function nameOf(element: Element, model: ModelIndex): string {
  const bound = Object.values(element.slots).find((slot) => 'bound' in slot);
  return (
    element.name ||
    sentenceOf(element, model) ||
    (bound && 'bound' in bound && pathWords(bound.bound.path, model)) ||
    fixedWords(element) ||
    elementNamed(element.kind)?.label ||
    element.kind
  );
}
