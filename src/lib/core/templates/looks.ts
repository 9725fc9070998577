import type { ElementKind } from '../elements/element';
import { SCREENS, type Screen, type Style, type StyleValue } from '../schema/style';
import type { Element } from '../schema/element';
import { styleAt } from '../styles/style';
import type { TreeOperation } from './edits';

type Shaped = Pick<ElementKind, 'brought' | 'props'>;

const put = (element: Element, at: string[], value: unknown): TreeOperation => ({
  do: 'put',
  id: element.id,
  at,
  value,
});

/** A prop that brings something about looks, what that is, and the value with which it brings nothing. */
function bringing(element: Element, kind: Shaped, key: string) {
  const read = kind.props.safeParse(element.props);
  const props = (read.success ? read.data : {}) as Record<string, unknown>;
  for (const [prop, values] of Object.entries(kind.brought ?? {})) {
    const all = values[String(props[prop])];
    const value = all?.[key];
    const nothing = Object.keys(values).find((one) => !Object.keys(values[one] as object).length);
    if (all && value !== undefined) return { prop, all, value, nothing };
  }
  return undefined;
}

/** Where what holds of looks was said: at a width, by the named look, or by how such an element begins. */
export interface InForce {
  value: StyleValue;
  from: Screen | 'look' | 'start';
}

/** What holds of looks for an element at a width. */
export function lookAt(
  element: Element,
  kind: Shaped,
  named: Style | undefined,
  key: string,
  screen: Screen,
): InForce | undefined {
  const own = styleAt(element.style, key, screen);
  if (own) return own;
  const kept = styleAt(named, key, screen);
  if (kept) return { value: kept.value, from: 'look' };
  const brought = bringing(element, kind, key);
  return brought && { value: brought.value, from: 'start' };
}

/** Sets something about looks at a width; undefined takes it away there, and at every width what a prop brought of it. */
export function lookEdit(
  element: Element,
  kind: Shaped,
  key: string,
  screen: Screen,
  value: StyleValue | undefined,
): TreeOperation[] {
  const brought = screen === 'wide' ? bringing(element, kind, key) : undefined;
  // The prop says nothing any more then; what else it brought stays.
  const goes = brought?.nothing !== undefined;
  const own = { ...(goes && brought.all), ...element.style?.[screen] };
  if (value === undefined) delete own[key];
  else own[key] = value;
  const style: Style = { ...element.style, [screen]: own };
  if (!Object.keys(own).length) delete style[screen];
  const operations = [put(element, ['style'], Object.keys(style).length ? style : undefined)];
  if (goes) operations.push(put(element, ['props', brought.prop], brought.nothing));
  return operations;
}

/** What of an element's looks is set, at any width. */
export const isSet = (element: Element): Set<string> =>
  new Set(SCREENS.flatMap((screen) => Object.keys(element.style?.[screen] ?? {})));
