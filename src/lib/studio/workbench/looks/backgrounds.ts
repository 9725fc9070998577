import { elementNamed } from '$lib/core/elements';
import type { ElementKind } from '$lib/core/elements/element';
import type { Element, Tree } from '$lib/core/schema/element';
import type { Screen, StyleValue } from '$lib/core/schema/style';
import type { Theme } from '$lib/core/schema/theme';
import type { StyleProperty } from '$lib/core/styles/property';
import { parentOf } from '$lib/core/templates/tree';
import { lookAt } from '$lib/core/templates/looks';
import { contrastOver, LEAST } from '$lib/core/theme/contrast';
import { onToken } from '$lib/core/theme/background';

interface Grounded {
  readonly tree: Tree;
  readonly theme: Theme;
}

/** The ground that an element stands on as far as its template says: the nearest token, the page's own at last. */
export function backgroundUnder({ tree, theme }: Grounded, element: Element, screen: Screen): string {
  for (let at: Element | undefined = element; at; at = parentOf(tree, at.id)?.parent) {
    const kind = elementNamed(at.kind);
    const named = theme.looks.find(({ key }) => key === at!.look)?.style;
    const ground = kind && lookAt(at, kind, named, 'ground', screen)?.value;
    if (ground !== undefined) return String(ground);
  }
  return 'ground';
}

const figure = (ratio: number): string => `${(Math.floor(ratio * 10) / 10).toFixed(1)}:1`;

/** How well text reads with a colour as it is chosen: that of the text on its ground, or what a ground brings. */
export function readingWords(
  at: Grounded,
  element: Element,
  _kind: ElementKind,
  { name, control }: StyleProperty,
  value: StyleValue | undefined,
  screen: Screen,
): string {
  if (control.as !== 'token' || control.of !== 'colour' || value === undefined) return '';
  const { colour } = at.theme;
  const token = colour.find(({ key }) => key === value);
  if (!token) return '';
  if (name === 'ground') {
    const { text } = onToken(token.key, at.theme);
    const by = colour.find((one) => one.value === text)?.name ?? (text === '#ffffff' ? 'white' : 'near black');
    return `${token.name}; text on it is ${by}, ${figure(contrastOver(text, [token.value]).ratio)}`;
  }
  if (name !== 'colour') return token.name;
  const ground = colour.find(({ key }) => key === backgroundUnder(at, element, screen));
  if (!ground) return token.name;
  const { ratio } = contrastOver(token.value, [ground.value]);
  return `${token.name} on ${ground.name.toLowerCase()}: ${figure(ratio)}${ratio < LEAST ? `, less than the ${LEAST} that text needs` : ''}`;
}
