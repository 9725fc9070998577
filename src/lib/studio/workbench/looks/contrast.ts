import type { LooseEnd } from '$lib/core/render/compile';
import { contrastOver, LARGE_LEAST, LEAST } from '$lib/core/theme/contrast';

/** Pieces of text that are looked at on one page. */
const MOST = 3000;

/** Whether text is large: 18 point, or 14 point and bold (WCAG 2.2, large scale). */
const isLarge = ({ fontSize, fontWeight }: CSSStyleDeclaration): boolean =>
  parseFloat(fontSize) >= 24 || (parseFloat(fontSize) >= 18.66 && Number(fontWeight) >= 700);

/** The grounds under a node, the nearest first; undefined where a picture is among them. */
function groundsUnder(node: Element, root: Window): string[] | undefined {
  const grounds: string[] = [];
  for (let at: Element | null = node; at; at = at.parentElement) {
    const { backgroundColor, backgroundImage } = root.getComputedStyle(at);
    if (backgroundImage !== 'none' || at.classList.contains('backed') || at.classList.contains('overlay'))
      return undefined;
    if (backgroundColor !== 'rgba(0, 0, 0, 0)') grounds.push(backgroundColor);
  }
  return grounds;
}

/** Elements whose text is too close to its ground as it stands on the canvas, the worst place of each (WCAG 2.2, 1.4.3). */
export function contrastEnds(main: HTMLElement): LooseEnd[] {
  const view = main.ownerDocument.defaultView;
  if (!view) return [];
  const worst = new Map<string, { ratio: number; ground: string; least: number }>();
  const seen = new Set<Element>();
  const texts = main.ownerDocument.createTreeWalker(main, 4 /* NodeFilter.SHOW_TEXT */);
  for (let n = 0; texts.nextNode() && n < MOST; n++) {
    const node = texts.currentNode.parentElement;
    if (!node || seen.has(node) || !texts.currentNode.textContent?.trim()) continue;
    seen.add(node);
    const id = node.closest<HTMLElement>('[data-element]')?.dataset.element;
    if (!id || node.closest('.blank, .heard') || !node.getClientRects().length) continue;
    const style = view.getComputedStyle(node);
    const grounds = style.visibility === 'visible' ? groundsUnder(node, view) : undefined;
    if (!grounds) continue;
    const { ratio, ground } = contrastOver(style.color, grounds);
    const least = isLarge(style) ? LARGE_LEAST : LEAST;
    if (ratio < least && ratio < (worst.get(id)?.ratio ?? Infinity)) worst.set(id, { ratio, ground, least });
  }
  return [...worst].map(([elementId, { ratio, ground, least }]) => ({
    elementId,
    via: 'contrast',
    at: `contrast ${ground} ${least}`,
    // Cut, not rounded: 4.49 is not 4.5.
    what: `Its text has a contrast of ${(Math.floor(ratio * 10) / 10).toFixed(1)} to its ground; ${least} is the least that can be read well.`,
    fix: 'Choose another colour for the text or for the ground.',
  }));
}
