import type { LooseEnd } from '../render/compile';
import type { Tree } from '../schema/element';
import { walk } from '../templates/tree';

/**
 * Headings whose level skips one, in reading order (WCAG 2.2, technique G141: organise a page using headings). Going back
 * up by any number of levels is fine.
 */
export function headingOrder(tree: Tree): LooseEnd[] {
  const ends: LooseEnd[] = [];
  let before = 0;
  for (const { element } of walk(tree)) {
    if (element.kind !== 'heading') continue;
    const level = Number(element.props.level);
    if (level > before + 1)
      ends.push({
        elementId: element.id,
        via: 'level',
        at: 'props.level',
        what:
          before === 0
            ? `The first heading of the page is of level ${level}.`
            : `A heading of level ${level} follows one of level ${before}.`,
        fix: `Make it level ${before + 1}.`,
      });
    before = level;
  }
  return ends;
}
