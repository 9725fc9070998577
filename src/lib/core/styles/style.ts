import { SCREENS, type Screen, type Style, type StyleValue } from '../schema/style';
import type { NamedLook } from '../schema/theme';
import { boxFor, readKey, type Shape, type State } from './boxes';
import { inOrder, propertyNamed } from './properties';
import { accepts, isToken, tokenCss, valueOf } from './property';
import { problem, type Problem } from '../base/result';

/** The widest screen, in pixels, to which what is said for medium and for narrow applies. */
export const SCREEN_MOST: Record<Screen, number> = { wide: Infinity, medium: 1023, narrow: 599 };

export const screenOf = (width: number): Screen =>
  width <= SCREEN_MOST.narrow ? 'narrow' : width <= SCREEN_MOST.medium ? 'medium' : 'wide';

/** What of a style names no property, or a value that its property does not take; `at` stands before each place. */
export function styleProblems(style: Style, at: string): Problem[] {
  return SCREENS.flatMap((screen) =>
    Object.entries(style[screen] ?? {}).flatMap(([name, value]) => {
      const property = readKey(name)?.property;
      const wrong = property
        ? valueOf(property.control).safeParse(value).error?.issues[0]?.message
        : `There is nothing named “${name}” to set about looks.`;
      return wrong ? [problem(`${at}.${screen}.${name}`, wrong)] : [];
    }),
  );
}

/** What is wrong with looks that have names, told by name. */
export const lookProblems = (looks: readonly NamedLook[]): Problem[] =>
  looks.flatMap(({ name, style }, i) =>
    styleProblems(style, `looks.${i}`).map((one) => ({ ...one, what: `The look “${name}”: ${one.what}` })),
  );

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
const atScreen = (screen: Screen, rules: string): string =>
  rules && screen !== 'wide' ? `@media (max-width:${SCREEN_MOST[screen]}px){${rules}}` : rules;

/** Properties that are not simply one declaration each. */
const TOGETHER = new Set(['shiftX', 'shiftY', 'shown', 'around']);
const PSEUDO: Record<State, string> = { hover: ':hover', focus: ':focus-visible', visited: ':visited' };
/** What holds others has the focus while something in it has. */
const pseudoOf = (state: State, holder: boolean): string =>
  holder && state === 'focus' ? ':focus-within' : PSEUDO[state];

/** What one style says as CSS rules for a class, the widest screen first, for the boxes of a kind of element. */
export function styleCss(className: string, style: Style, shape: Shape = { holds: false }): string {
  const rules = SCREENS.map((screen) => atScreen(screen, screenCss(className, style, shape, screen)));
  const hidden = SCREENS.filter((screen) => styleAt(style, 'shown', screen)?.value === 'no');
  return rules.join('') + hidden.map((screen) => `@media ${RANGES[screen]}{.${className}{display:none}}`).join('');
}

/** The selectors of a list; those within brackets belong together. */
const partsOf = (list: string): string[] => list.split(/,\s*(?![^(]*\))/);
/** What holds at a width, where it is something that can be. */
function soundAt(style: Style, key: string, screen: Screen): StyleValue | undefined {
  const value = styleAt(style, key, screen)?.value;
  const property = readKey(key)?.property;
  return value !== undefined && property && accepts(property.control, value) ? value : undefined;
}

const selectorOf = (pattern: string, root: string): string => pattern.replaceAll('&', root);

function screenCss(className: string, style: Style, shape: Shape, screen: Screen): string {
  const own = style[screen] ?? {};
  const at = (name: string) => soundAt(style, name, screen);
  /** Declarations by the selector that they stand under, in the order in which they are written. */
  const said = new Map<string, string[]>();
  const moving = new Map<string, string[]>();
  const say = (selector: string, declaration: string, to = said) => {
    const list = to.get(selector);
    if (list) list.push(declaration);
    else to.set(selector, [declaration]);
  };
  const root = `.${className}`;
  say(root, '');
  const read = Object.entries(own)
    .flatMap(([key, value]) => {
      const known = readKey(key);
      const sound = known && accepts(known.property.control, value);
      return sound && !TOGETHER.has(known.property.name) ? [{ ...known, value }] : [];
    })
    .sort(
      (a, b) =>
        Number(Boolean(a.state)) - Number(Boolean(b.state)) ||
        (inOrder.get(a.property.name) ?? 0) - (inOrder.get(b.property.name) ?? 0),
    );
  for (const { box: boxName, property, state, value } of read) {
    const box = boxFor(shape, boxName, property.name);
    if (boxName && !box) continue;
    const pseudo = state ? pseudoOf(state, !box && shape.holds) : '';
    const bases = partsOf(box ? selectorOf(box.selector, root) : root).map((one) => one + pseudo);
    const selector = bases.map((one) => (property.at ? selectorOf(property.at, one) : one)).join(',');
    const css = box?.css?.[property.name]?.(value) ?? property.css(value);
    say(selector, css, property.moves ? moving : said);
    // A colour that was chosen for wider screens is kept on another ground.
    const key = `${boxName && `${boxName}.`}colour${state ? `@${state}` : ''}`;
    const colour = at(key);
    if (property.name === 'ground' && colour !== undefined && own[key] === undefined)
      say(selector, propertyNamed('colour')!.css(colour));
  }
  if (own.shiftX !== undefined || own.shiftY !== undefined)
    say(root, `translate:${at('shiftX') ?? 0} ${at('shiftY') ?? 0}`);
  for (const state of ['hover', 'focus'] as const)
    if (own[`shiftX@${state}`] !== undefined || own[`shiftY@${state}`] !== undefined) {
      const moved = (axis: string) => at(`${axis}@${state}`) ?? at(axis) ?? 0;
      const box = shape.boxes?.find(({ name, states }) => name === '' && states);
      const target = box ? selectorOf(box.selector, root) : root;
      say(`${target}${pseudoOf(state, !box && shape.holds)}`, `translate:${moved('shiftX')} ${moved('shiftY')}`);
    }
  // What keeps to one side, or to the middle, is as wide as it may be, and not as narrow as what it holds.
  const aside = at('across') !== undefined && at('across') !== 'stretch';
  const wide = shape.fills ? aside || own.maxWidth !== undefined : aside && at('maxWidth') !== undefined;
  if ((own.across !== undefined || own.maxWidth !== undefined) && wide && at('width') === undefined)
    say(root, 'width:100%');
  // A band in what is narrower than the page, and what is narrower itself, keeps to that.
  if (own.width !== undefined || own.maxWidth !== undefined) say(root, '--bleed:0');
  const gap = at('gap');
  const written = [...said].map(([selector, list]) => ruleOf(selector, list));
  const moved = [...moving].map(([selector, list]) => ruleOf(selector, list)).join('');
  return (
    written.join('') +
    (moved && `@media (prefers-reduced-motion:no-preference){${moved}}`) +
    (own.gap === undefined || gap === undefined ? '' : `${root}.row>*{--share-gap:${tokenCss('space', gap)}}`) +
    aroundCss(root, own.around === undefined ? undefined : at('around'), screen) +
    // What lies over the edge of a box is not cut off by its corners.
    (own.place !== undefined && own.place !== 'none' ? `:has(>${root}){overflow:visible}` : '')
  );
}

const ruleOf = (selector: string, list: string[]): string => {
  const declarations = list.filter(Boolean);
  return declarations.length ? `${selector}{${declarations.join(';')}}` : '';
};

/** Text around an element: what holds it lets its lines flow, and ends below it; on narrow screens it stands by itself. */
function aroundCss(root: string, value: StyleValue | undefined, screen: Screen): string {
  if (value === undefined) return '';
  if (value === 'none') return `${root}{float:none;margin-inline:0}`;
  const other = value === 'start' ? 'end' : 'start';
  const floats = `${root}{float:inline-${String(value)};margin-inline-${other}:var(--gap,var(--space-m))}`;
  const holder =
    `:has(>${root}){display:flow-root}:has(>${root})>*{margin-block-end:var(--gap,var(--space-m))}` +
    // Lines are as long as there is room beside it.
    `:has(>${root})>:last-child{margin-block-end:0}:has(>${root})>.text{max-width:none}`;
  // What is said for narrow screens alone is meant for them.
  const most = SCREEN_MOST.narrow;
  return holder + (screen === 'narrow' ? floats : `@media (min-width:${most + 1}px){${floats}}`);
}

/** The ground of what is a whole page, as rules for the page: it is seen beside and below what is drawn, too. */
export function pageBackgroundCss(className: string, style: Style): string {
  return SCREENS.map((screen) => {
    const ground = style[screen]?.ground === undefined ? undefined : soundAt(style, 'ground', screen);
    return ground === undefined
      ? ''
      : atScreen(screen, `body:has(.${className}){${propertyNamed('ground')?.css(ground)}}`);
  }).join('');
}

/** One style over another: what both say is as the second has it, at each width where it says so. */
export const joinedStyle = (below: Style, over: Style | undefined): Style =>
  Object.fromEntries(SCREENS.map((screen) => [screen, { ...below[screen], ...over?.[screen] }]));

/** The tokens of the theme that a style names, such as `space-m`. */
export const tokensIn = (style: Style): string[] =>
  SCREENS.flatMap((screen) =>
    Object.entries(style[screen] ?? {}).flatMap(([name, value]) => {
      const control = readKey(name)?.property.control;
      return control?.as === 'token' && isToken(value) ? [`${control.of}-${value}`] : [];
    }),
  );
