import { pick } from '../formats/format';
import { tokenCss, type StyleGroup, type StyleOption, type StyleProperty } from './property';
import type { TokenGroup } from '../schema/theme';
import { backgroundCss } from '../theme/background';

type More = Pick<StyleProperty, 'at' | 'moves' | 'also'>;

const token = (
  name: string,
  label: string,
  group: StyleGroup,
  of: TokenGroup,
  property: string | ((css: string) => string),
  { own, least, ...more }: More & { own?: 'length' | 'shadow'; least?: number } = {},
): StyleProperty => ({
  name,
  label,
  group,
  control: { as: 'token', of, ...(own && { own }), ...(least !== undefined && { least }) },
  css: (value) => (typeof property === 'string' ? `${property}:${tokenCss(of, value)}` : property(tokenCss(of, value))),
  ...more,
});
const space = (name: string, label: string, property: string | ((css: string) => string), least?: number) =>
  token(name, label, 'Space', 'space', property, { own: 'length', ...(least !== undefined && { least }) });
const length = (
  name: string,
  label: string,
  group: StyleGroup,
  css: string | ((value: string) => string),
  { least, steps = [], noShares, ...more }: More & { least?: number; steps?: StyleOption[]; noShares?: true } = {},
): StyleProperty => ({
  name,
  label,
  group,
  control: { as: 'length', steps, ...(least !== undefined && { least }), ...(noShares && { noShares }) },
  css: (value) => (typeof css === 'string' ? `${css}:${value}` : css(String(value))),
  ...more,
});
const choose = (
  name: string,
  label: string,
  group: StyleGroup,
  options: StyleOption[],
  css: string | ((value: string) => string),
  more: More = {},
): StyleProperty => ({
  name,
  label,
  group,
  control: { as: 'pick', options },
  css: (value) => (typeof css === 'string' ? `${css}:${value}` : css(String(value))),
  ...more,
});
const figure = (
  name: string,
  label: string,
  group: StyleGroup,
  [min, max, step]: [number, number, number],
  css: (value: number) => string,
  more: More = {},
): StyleProperty => ({
  name,
  label,
  group,
  control: { as: 'number', min, max, step },
  css: (value) => css(Number(value)),
  ...more,
});

/** Widths that are a share of the room, by name. */
export const SHARES: Record<string, number> = {
  full: 1,
  'three-quarters': 3 / 4,
  'two-thirds': 2 / 3,
  half: 1 / 2,
  third: 1 / 3,
  quarter: 1 / 4,
  fifth: 1 / 5,
  sixth: 1 / 6,
};
/** What a width is of the room: a named share of it, or a percentage. */
export const shareOf = (value: string): number | undefined => {
  if (Object.hasOwn(SHARES, value)) return SHARES[value];
  const [, figure] = /^([\d.]+)%$/.exec(value) ?? [];
  return figure === undefined ? undefined : Number(figure) / 100;
};
/** A share of what a place and its gaps come to, so that shares that make one whole fit beside each other in a row. */
const widthOf = (value: string): string => {
  if (value === 'content') return 'fit-content';
  const share = shareOf(value);
  if (share === undefined) return value;
  if (share === 1) return '100%';
  // Rounded down: a whole is never more than there is.
  const part = Math.floor(share * 100_000) / 100_000;
  return `calc((100% + var(--share-gap, 0px)) * ${part} - var(--share-gap, 0px))`;
};

/** Where something lies over its box: the edges it keeps to. */
const PLACES: Record<string, string> = {
  'top-start': 'inset:0 auto auto 0',
  top: 'inset:0 0 auto 0;margin-inline:auto;width:fit-content',
  'top-end': 'inset:0 0 auto auto',
  start: 'inset:0 auto 0 0;margin-block:auto;height:fit-content',
  centre: 'inset:0;margin:auto;width:fit-content;height:fit-content',
  end: 'inset:0 0 0 auto;margin-block:auto;height:fit-content',
  'bottom-start': 'inset:auto auto 0 0',
  bottom: 'inset:auto 0 0 0;margin-inline:auto;width:fit-content',
  'bottom-end': 'inset:auto 0 0 auto',
};

/** The first line of words: of a paragraph itself, or of the first that there is. */
const FIRST_LETTER = '&:is(p,h1,h2,h3,h4,h5,h6)::first-letter,&>p:first-child::first-letter';
const ease = (seconds: string) =>
  `transition:${['color', 'background-color', 'border-color', 'box-shadow', 'translate'].map((one) => `${one} ${seconds} ease-out`).join(',')}`;

/** Everything about looks that can be set, in the order of the panel. A new property is one line here. */
export const properties: StyleProperty[] = [
  space('above', 'Space above', 'margin-block-start'),
  space('below', 'Space below', 'margin-block-end'),
  space('padding', 'Padding', 'padding', 0),
  space('paddingBlock', 'Padding above and below', 'padding-block', 0),
  space('paddingInline', 'Padding at the sides', 'padding-inline', 0),
  space('gap', 'Gap between what it holds', (css) => `--gap:${css};gap:${css}`, 0),

  length('width', 'Width', 'Size', (value) => `width:${widthOf(value)};max-width:100%`, {
    least: 0,
    steps: pick(
      ...['full', 'Full', 'three-quarters', '¾', 'two-thirds', '⅔', 'half', '½', 'third', '⅓', 'quarter', '¼'],
      ...['fifth', '⅕', 'sixth', '⅙', 'content', 'Content'],
    ),
    also: 'share half third quarter fifth sixth',
  }),
  length('maxWidth', 'At most as wide as', 'Size', (value) => `max-width:${value}`, { least: 0 }),
  length('minHeight', 'At least as high as', 'Size', 'min-height', { least: 0 }),
  choose(
    'ratio',
    'Proportions, width to height',
    'Size',
    pick(
      ...['auto', 'Its own', '3/1', '3 : 1', '21/9', '21 : 9', '16/9', '16 : 9', '3/2', '3 : 2', '4/3', '4 : 3'],
      ...['1/1', '1 : 1', '4/5', '4 : 5', '3/4', '3 : 4', '2/3', '2 : 3', '9/16', '9 : 16'],
    ),
    'aspect-ratio',
    { also: 'aspect ratio proportion square widescreen portrait landscape' },
  ),
  choose('grow', 'Takes room that is left', 'Size', pick('1', 'Yes', '0', 'No'), 'flex-grow'),

  choose('text', 'Text', 'Alignment', pick('start', 'Start', 'center', 'Centre', 'end', 'End'), 'text-align'),
  choose(
    'across',
    'Itself, across',
    'Alignment',
    pick('start', 'Start', 'center', 'Centre', 'end', 'End', 'stretch', 'Stretched'),
    (value) =>
      ({
        start: 'align-self:start;margin-inline:0 auto',
        center: 'align-self:center;margin-inline:auto',
        end: 'align-self:end;margin-inline:auto 0',
      })[value] ?? 'align-self:stretch;margin-inline:0',
  ),
  choose(
    'items',
    'What it holds, across',
    'Alignment',
    pick('start', 'Start', 'center', 'Centre', 'end', 'End', 'stretch', 'Stretched', 'baseline', 'By their text'),
    'align-items',
  ),
  choose(
    'spread',
    'What it holds, along',
    'Alignment',
    pick('start', 'Start', 'center', 'Centre', 'end', 'End', 'space-between', 'Spread apart'),
    'justify-content',
  ),

  token('font', 'Typeface', 'Type', 'font', 'font-family'),
  token('size', 'Text size', 'Type', 'size', 'font-size', { own: 'length', least: 0 }),
  choose(
    'weight',
    'Weight',
    'Type',
    pick('300', 'Light', '400', 'Regular', '500', 'Medium', '650', 'Bold', '800', 'Heavy'),
    'font-weight',
    { also: 'bold' },
  ),
  choose('slope', 'Slope', 'Type', pick('normal', 'Upright', 'italic', 'Italic'), 'font-style'),
  figure('leading', 'Line height', 'Type', [0.8, 3, 0.05], (value) => `line-height:${value}`),
  length('tracking', 'Room between letters', 'Type', 'letter-spacing', { noShares: true }),
  choose(
    'letters',
    'Letters',
    'Type',
    pick(
      ...['none', 'As written', 'uppercase', 'Capitals', 'lowercase', 'Small letters'],
      ...['capitalize', 'A capital for each word', 'small-caps', 'Small capitals'],
    ),
    (value) =>
      value === 'small-caps'
        ? 'text-transform:none;font-variant-caps:small-caps'
        : `text-transform:${value};font-variant-caps:normal`,
    { also: 'case' },
  ),
  choose(
    'numerals',
    'Figures',
    'Type',
    pick(
      ...['normal', 'As the typeface has them', 'tabular-nums', 'Equally wide'],
      ...['oldstyle-nums', 'Old style', 'lining-nums', 'As high as capitals'],
    ),
    'font-variant-numeric',
    { also: 'numerals tabular' },
  ),
  choose(
    'underline',
    'Line under it',
    'Type',
    pick('none', 'None', 'underline', 'Underlined', 'line-through', 'Struck through'),
    'text-decoration-line',
  ),
  choose(
    'hyphens',
    'Long words at the end of a line',
    'Type',
    pick('manual', 'Stay whole', 'auto', 'Are hyphenated'),
    'hyphens',
    { also: 'hyphenation' },
  ),
  choose(
    'wrap',
    'Lines',
    'Type',
    pick('wrap', 'As they come', 'balance', 'About equally long', 'pretty', 'No short last line', 'nowrap', 'One line'),
    'text-wrap',
    { also: 'balance break' },
  ),
  figure('textColumns', 'Columns of text', 'Type', [1, 4, 1], (value) => `columns:${value};column-gap:var(--space-l)`),
  figure(
    'dropCap',
    'First letter, as many lines high',
    'Type',
    [1, 5, 1],
    (value) =>
      value === 1
        ? 'float:none;font-size:inherit'
        : `float:inline-start;font-size:${Math.round(value * 1.32 * 100) / 100}em;line-height:0.82;` +
          'padding-block-start:0.08em;margin-inline-end:0.08em',
    { at: FIRST_LETTER, also: 'drop cap initial' },
  ),
  figure(
    'lines',
    'At most so many lines',
    'Type',
    [1, 20, 1],
    (value) => `display:-webkit-box;-webkit-box-orient:vertical;-webkit-line-clamp:${value};overflow:hidden`,
    { also: 'clamp cut' },
  ),

  token('ground', 'Ground', 'Surface', 'colour', backgroundCss, { also: 'background' }),
  token('colour', 'Colour', 'Type', 'colour', 'color'),
  length(
    'border',
    'Border',
    'Surface',
    (value) => `border-width:${value};border-style:${value === '0' ? 'none' : 'solid'}`,
    {
      least: 0,
      noShares: true,
      steps: pick('0', 'None', '1px', 'Fine', '2px', 'Medium', '4px', 'Strong', '8px', 'Heavy'),
    },
  ),
  token('borderColour', 'Colour of the border', 'Surface', 'colour', 'border-color'),
  token('radius', 'Corners', 'Surface', 'radius', (css) => `border-radius:${css};overflow:clip`, {
    own: 'length',
    least: 0,
    also: 'round radius',
  }),
  token('shadow', 'Shadow', 'Surface', 'shadow', 'box-shadow', { own: 'shadow' }),
  choose(
    'change',
    'Changes when pointed at',
    'Surface',
    pick('none', 'At once', 'quick', 'Quickly', 'calm', 'Calmly'),
    (value) => (value === 'none' ? 'transition:none' : ease(value === 'quick' ? '0.12s' : '0.3s')),
    { moves: true, also: 'transition hover' },
  ),

  choose(
    'around',
    'Text flows around it',
    'Position',
    pick('none', 'No', 'start', 'It stands at the start', 'end', 'It stands at the end'),
    '',
    { also: 'float' },
  ),
  choose(
    'place',
    'Lies over its box',
    'Position',
    pick(
      ...['none', 'No, in line', 'top-start', 'Top, start', 'top', 'Top', 'top-end', 'Top, end', 'start', 'Start'],
      ...['centre', 'Centre', 'end', 'End', 'bottom-start', 'Bottom, start', 'bottom', 'Bottom'],
      ...['bottom-end', 'Bottom, end'],
    ),
    (value) => (value === 'none' ? 'position:relative;inset:auto' : `position:absolute;${PLACES[value]}`),
    { also: 'overlay corner' },
  ),
  // The two together are one declaration, and not being shown ends at the next width: see styleCss.
  length('shiftX', 'Moved to the side', 'Position', ''),
  length('shiftY', 'Moved down', 'Position', ''),
  figure('layer', 'Layer (higher lies on top)', 'Position', [-10, 100, 1], (value) => `z-index:${value}`),
  choose('shown', 'At this width', 'Position', pick('yes', 'Shown', 'no', 'Not shown'), ''),
];

const byName = new Map(properties.map((property) => [property.name, property]));

export const propertyNamed = (name: string): StyleProperty | undefined => byName.get(name);

/** The order in which what is set is written: a ground brings colours, which a colour of its own says otherwise. */
export const inOrder = new Map(properties.map(({ name }, at) => [name, at]));
