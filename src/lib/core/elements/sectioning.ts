import type { Env } from '../paths/env';

const MARKS = /<(\/?)(?:section|article|aside|nav)\b|<h[1-6]\b/g;

/** Whether a section that holds this has a heading of its own, not only those of sections within it. */
function hasHeading(inner: string): boolean {
  let depth = 0;
  for (const [mark, closes] of inner.matchAll(MARKS)) {
    if (mark.startsWith('<h')) {
      if (depth === 0) return true;
    } else depth += closes ? -1 : 1;
  }
  return false;
}

/**
 * The element that something is drawn as: a `section` or `article` without a heading of its own means nothing to those
 * who go from heading to heading, and is a `div` (HTML Standard, 4.3.2 and 4.3.3: a section is a thematic grouping,
 * typically with a heading). In the frame `main` stands in nothing but `div` (4.4.14), and what is around the banner or
 * the footer of the page is none of its sections (ARIA in HTML: `header` and `footer` within sections are no landmarks).
 */
export function elementFor(tag: string, inner: string, env: Env): string {
  if (tag === 'div') return tag;
  if (env.content !== undefined && /<main\b|<header\b|<footer\b/.test(inner)) return 'div';
  return tag === 'section' || tag === 'article' ? (hasHeading(inner) ? tag : 'div') : tag;
}
