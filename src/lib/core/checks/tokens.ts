import type { LooseEnd } from '../render/compile';
import { tokensIn } from '../styles/style';
import type { Tree } from '../schema/element';
import { walk } from '../templates/tree';
import { TOKEN_GROUPS, type Theme } from '../schema/theme';

/** Looks that name a token which the theme does not have; they are as if nothing were set. */
export function missingTokens(tree: Tree, theme: Theme): LooseEnd[] {
  const known = new Set(TOKEN_GROUPS.flatMap((group) => theme[group].map(({ key }) => `${group}-${key}`)));
  return walk(tree).flatMap(({ element }) =>
    [...new Set(element.style ? tokensIn(element.style) : [])]
      .filter((token) => !known.has(token))
      .map((token) => ({
        elementId: element.id,
        via: 'style',
        at: 'style',
        what: `Its looks name “${token}”, which the theme no longer has.`,
        fix: 'Choose another token.',
      })),
  );
}
