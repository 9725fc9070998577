import { SCREENS, type Screen, type Style, type StyleValue } from '../schema/style';
import { propertyNamed } from './properties';
import { isToken, tokenCss, valueOf } from './property';
import { problem, type Problem } from '../base/result';

/** The widest screen, in pixels, to which what is said for medium and for narrow applies. */
export const SCREEN_MOST: Record<Screen, number> = { wide: Infinity, medium: 1023, narrow: 599 };

export const screenOf = (width: number): Screen =>
  width <= SCREEN_MOST.narrow ? 'narrow' : width <= SCREEN_MOST.medium ? 'medium' : 'wide';

/** What of a style names no property, or a value that its property does not take; `at` stands before each place. */
export function styleProblems(style: Style, at: string): Problem[] {
  return SCREENS.flatMap((screen) =>
    Object.entries(style[screen] ?? {}).flatMap(([name, value]) => {
      const property = propertyNamed(name);
      const wrong = property
        ? valueOf(property.control).safeParse(value).error?.issues[0]?.message
        : `There is nothing named “${name}” to set about looks.`;
      return wrong ? [problem(`${at}.${screen}.${name}`, wrong)] : [];
    }),
  );
}

/** What holds at a width, and where it was said: the width itself or a wider one. */
export function styleAt(
  style: Style | undefined,
  name: string,
  screen: Screen,
): { value: StyleValue; from: Screen } | undefined {
  for (const at of SCREENS.slice(0, SCREENS.indexOf(screen) + 1).reverse()) {
    const value = style?.[at]?.[name];
    if (value !== undefined) return { value, from: at };
  }
  return undefined;
}

const RANGES: Record<Screen, string> = {
  wide: `(min-width:${SCREEN_MOST.medium + 1}px)`,
  medium: `(min-width:${SCREEN_MOST.narrow + 1}px) and (max-width:${SCREEN_MOST.medium}px)`,
  narrow: `(max-width:${SCREEN_MOST.narrow}px)`,
};
/** Properties that are not simply one declaration each. */
const TOGETHER = new Set(['shiftX', 'shiftY', 'shown']);

/** The box in an element on which some of its looks are seen: a selector within its class, and the names of these. */
export interface Face {
  selector: string;
  has: ReadonlySet<string>;
}
/** What is seen on the surface of a box. */
export const SURFACE = ['ground', 'border', 'borderColour', 'radius', 'shadow'];

/** What one style says as CSS rules for a class, the widest screen first. */
export function styleCss(className: string, style: Style, face?: Face): string {
  const rules = SCREENS.map((screen) => {
    const own = style[screen] ?? {};
    const saidOf = (onFace: boolean) =>
      Object.entries(own).flatMap(([name, value]) =>
        TOGETHER.has(name) || Boolean(face?.has.has(name)) !== onFace ? [] : (propertyNamed(name)?.css(value) ?? []),
      );
    const said = saidOf(false);
    if (own.shiftX !== undefined || own.shiftY !== undefined) {
      const shift = (name: string) => styleAt(style, name, screen)?.value ?? 0;
      said.push(`translate:${shift('shiftX')} ${shift('shiftY')}`);
    }
    // What keeps to one side, or to the middle, is as wide as it may be, and not as narrow as what it holds.
    const at = (name: string) => styleAt(style, name, screen)?.value;
    const aside = at('across') !== undefined && at('across') !== 'stretch';
    if (
      (own.across !== undefined || own.maxWidth !== undefined) &&
      aside &&
      at('maxWidth') &&
      at('width') === undefined
    )
      said.push('width:100%');
    const gap = own.gap === undefined ? '' : `.${className}.row>*{--share-gap:${tokenCss('space', own.gap)}}`;
    const onFace = face ? saidOf(true) : [];
    const rule =
      (said.length ? `.${className}{${said.join(';')}}` : '') +
      (face && onFace.length ? `.${className} ${face.selector}{${onFace.join(';')}}` : '') +
      gap;
    if (!rule) return '';
    return screen === 'wide' ? rule : `@media (max-width:${SCREEN_MOST[screen]}px){${rule}}`;
  });
  const hidden = SCREENS.filter((screen) => styleAt(style, 'shown', screen)?.value === 'no');
  return rules.join('') + hidden.map((screen) => `@media ${RANGES[screen]}{.${className}{display:none}}`).join('');
}

/** The ground of what is a whole page, as rules for the page: it is seen beside and below what is drawn, too. */
export function pageGroundCss(className: string, style: Style): string {
  return SCREENS.map((screen) => {
    const ground = style[screen]?.ground;
    if (ground === undefined) return '';
    const rule = `body:has(.${className}){${propertyNamed('ground')?.css(ground)}}`;
    return screen === 'wide' ? rule : `@media (max-width:${SCREEN_MOST[screen]}px){${rule}}`;
  }).join('');
}

/** The tokens of the theme that a style names, such as `space-m`. */
export const tokensIn = (style: Style): string[] =>
  SCREENS.flatMap((screen) =>
    Object.entries(style[screen] ?? {}).flatMap(([name, value]) => {
      const control = propertyNamed(name)?.control;
      return control?.as === 'token' && isToken(value) ? [`${control.of}-${value}`] : [];
    }),
  );
