import { SCREENS, type Style, type StyleValue } from '../schema/style';
import { propertyNamed } from './properties';
import { tokenCss, type StyleProperty } from './property';

/** What on a page can be pointed at says itself by other looks: while it is pointed at, has the focus, was visited. */
export const STATES = ['hover', 'focus', 'visited'] as const;
export type State = (typeof STATES)[number];
export const STATE_WORDS: Record<State, string> = { hover: 'Pointed at', focus: 'With the focus', visited: 'Visited' };

/**
 * A box in an element on which some of its looks are seen. The one without a name is its face: what is set of the
 * element itself is seen there, as far as the face has it.
 */
export interface Box {
  name: string;
  label: string;
  /** A selector with `&` for the element. */
  selector: string;
  has: ReadonlySet<string>;
  /** Where it can be pointed at: looks for these states. */
  states?: readonly State[];
  /** Declarations that stand in place of a property's own. */
  css?: Record<string, (value: StyleValue) => string>;
}

/** What is seen on the surface of a box, and of the words in one. */
export const SURFACE = ['ground', 'border', 'borderColour', 'radius', 'shadow'];
export const PADDING = ['padding', 'paddingBlock', 'paddingInline'];
export const WORDS = [
  'font',
  'size',
  'weight',
  'slope',
  'leading',
  'tracking',
  'letters',
  'numerals',
  'underline',
  'colour',
];
/** Of a piece of a line. */
export const INLINE = ['font', 'size', 'weight', 'slope', 'tracking', 'letters', 'underline', 'colour'];
const LINK = ['weight', 'slope', 'underline', 'colour'];

/** Of links visitors have followed nothing may be seen but colours (Selectors 4, 8.2). */
const OF_VISITED = new Set(['colour']);
const OF_POINTED = new Set([
  ...SURFACE,
  'colour',
  'underline',
  'weight',
  'change',
  'shiftX',
  'shiftY',
  'tracking',
  'slope',
]);

/** The colour of words that are links as a whole: theirs as well. */
export const WITH_LINKS: Box['css'] = {
  colour: (value) => `color:${tokenCss('colour', value)};--text-link:${tokenCss('colour', value)}`,
};

/** Proportions of a picture, a drawing or a player, which is as high as they say; what has others is cut to fill them. */
export const CUT: Box['css'] = {
  ratio: (value) =>
    value === 'auto' ? 'aspect-ratio:auto' : `aspect-ratio:${String(value)};height:auto;object-fit:cover`,
};

const box = (name: string, label: string, selector: string, has: readonly string[], more: Partial<Box> = {}): Box => ({
  name,
  label,
  selector,
  has: new Set(has),
  ...more,
});
/** The box that an element's own looks are seen on. */
export const face = (selector: string, has: readonly string[], more: Partial<Box> = {}): Box =>
  box('', '', selector, has, more);
/** What one can point at, such as a link. */
export const pointed = (name: string, label: string, selector: string, has: readonly string[] = LINK): Box =>
  box(name, label, selector, [...has, 'change'], { states: STATES });
export { box };

/** A caption below what it is about. */
export const CAPTION = box('caption', 'Caption', '& figcaption', [...WORDS, 'text', 'above']);
/** Words that stand before and after a value. */
export const BEFORE = box('before', 'Words before', '& .before', INLINE);
export const AFTER = box('after', 'Words after', '& .after', INLINE);

/** A name in a style, such as `caption.colour@hover`: the box, the property and the state that it is for. */
const KEY = /^(?:([a-z][A-Za-z]*)\.)?([a-z][A-Za-z]*)(?:@([a-z]+))?$/;

export interface StyleKey {
  box: string;
  property: StyleProperty;
  state?: State;
}

/** Reads a name in a style; undefined where there is no such thing. */
export function readKey(key: string): StyleKey | undefined {
  const [, box = '', name, state] = (key.length <= 60 && KEY.exec(key)) || [];
  const property = name && propertyNamed(name);
  if (!property || (state !== undefined && !(STATES as readonly string[]).includes(state))) return undefined;
  return { box, property, ...(state && { state: state as State }) };
}

export const keyFor = (box: string, name: string, state?: State): string =>
  `${box && `${box}.`}${name}${state ? `@${state}` : ''}`;

/** What an element kind says of its boxes and of what can be seen on itself. */
export interface Shape {
  /** Whether it holds other elements. */
  holds: boolean;
  /** It shows no words, not even a caption. */
  wordless?: true;
  /** What it shows has no width of its own, but that of its place. */
  fills?: true;
  boxes?: readonly Box[];
  /** What cannot be seen on it, whatever is set. */
  never?: readonly string[];
}

/** The box of a name on which a property is seen; a name may be that of several, each for other properties. */
export const boxFor = ({ boxes }: Shape, boxName: string, property: string): Box | undefined =>
  boxes?.find(({ name, has }) => name === boxName && has.has(property));

/** Seen only on what holds others, only where there are words, and only where these are words of its own. */
const OF_CHILDREN = new Set(['gap', 'items', 'spread']);
const OF_WORDS = new Set([...WORDS, 'text', 'hyphens', 'wrap']);
const OF_PARAGRAPHS = new Set(['dropCap', 'lines', 'textColumns']);

/** Whether something about looks can be seen on a box of an element, or on the element itself where no box is named. */
export function fits(name: string, shape: Shape, boxName = '', state?: State): boolean {
  const own = boxFor(shape, boxName, name);
  if (state) {
    const can = own?.states ?? (boxName === '' && shape.holds ? (['hover', 'focus'] as State[]) : []);
    if (!can.includes(state) || !(state === 'visited' ? OF_VISITED : OF_POINTED).has(name)) return false;
  }
  if (own) return true;
  if (boxName || shape.never?.includes(name)) return false;
  if (name === 'change') return shape.holds;
  return OF_CHILDREN.has(name)
    ? shape.holds
    : OF_PARAGRAPHS.has(name)
      ? false
      : OF_WORDS.has(name)
        ? !shape.wordless
        : true;
}

const NONE: ReadonlySet<string> = new Set();
/** Boxes of an element of which something is set. */
export const boxesIn = (style: Style | undefined): ReadonlySet<string> =>
  style
    ? new Set(SCREENS.flatMap((screen) => Object.keys(style[screen] ?? {}).map((key) => readKey(key)?.box ?? '')))
    : NONE;
