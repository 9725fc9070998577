import type { LooseEnd } from '../render/compile';
import { tokensIn } from '../styles/style';
import { unknownVariables } from '#own-css';
import { knownVariables, type KnownName } from '../styles/known';
import type { Tree } from '../schema/element';
import { walk } from '../templates/tree';
import { TOKEN_GROUPS, type Theme } from '../schema/theme';

/** Looks that name a token, or a look with a name, that the theme does not have; they are as if nothing were set. */
export function missingTokens(tree: Tree, theme: Theme): LooseEnd[] {
  const known = new Set(TOKEN_GROUPS.flatMap((group) => theme[group].map(({ key }) => `${group}-${key}`)));
  const looks = new Set(theme.looks.map(({ key }) => key));
  let variables: readonly KnownName[] | undefined;
  return walk(tree).flatMap(({ element: { id, style, look, css } }) => {
    const end = (what: string, fix: string) => ({ elementId: id, via: 'style', at: 'style', what, fix });
    return [
      ...(css?.trim() ? unknownVariables(css, (variables ??= knownVariables(theme))) : []).map(({ line, what }) => ({
        elementId: id,
        via: 'css',
        at: `css.${line}`,
        what: `Own CSS, line ${line}: ${what}`,
      })),
      ...[...new Set(style ? tokensIn(style) : [])]
        .filter((token) => !known.has(token))
        .map((token) => end(`Its looks name “${token}”, which the theme no longer has.`, 'Choose another token.')),
      ...(look && !looks.has(look)
        ? [end(`It has the look “${look}”, which the theme no longer has.`, 'Choose another look, or none.')]
        : []),
    ];
  });
}
