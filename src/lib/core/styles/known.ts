import { TOKEN_GROUPS, type Theme } from '../schema/theme';
import { onTokensCss } from '../theme/background';
import { tokenValue } from '../theme/theme';
import type { Box } from './boxes';

/** A name that a designer's own CSS may use, with what it stands for. */
export interface KnownName {
  name: string;
  says: string;
}

/** Variables that the site's own style sheet has, whatever the theme. */
const OF_SITE: KnownName[] = [
  { name: '--text', says: 'text on the ground that is here' },
  { name: '--text-quiet', says: 'quiet text on the ground that is here' },
  { name: '--text-link', says: 'links on the ground that is here' },
  { name: '--line', says: 'lines on the ground that is here' },
  { name: '--gap', says: 'the gap between what is held here' },
  { name: '--share-gap', says: 'the gap that shares of a row leave room for' },
];

/** Every variable that a page has: one for each token of the theme, with its value, and those of the site. */
export function knownVariables(theme: Theme): KnownName[] {
  const tokens = TOKEN_GROUPS.flatMap((group) =>
    theme[group].map(({ key, name, value }) => ({
      name: `--${group}-${key}`,
      says: `${name}, ${tokenValue(group, value)}`,
    })),
  );
  const grounds = onTokensCss(theme).map((declaration) => {
    const at = declaration.indexOf(':');
    return { name: declaration.slice(0, at), says: `reads on that colour, ${declaration.slice(at + 1)}` };
  });
  return [...tokens, ...OF_SITE, ...grounds];
}

/** The boxes of a kind of element as selectors, `&` being the element. */
export function knownSelectors(boxes: readonly Box[] = []): KnownName[] {
  const named = boxes.map(({ selector, label }) => ({ name: selector, says: label || 'what its looks are seen on' }));
  return [{ name: '&', says: 'the element itself' }, ...named.filter(({ name }) => name !== '&')];
}
