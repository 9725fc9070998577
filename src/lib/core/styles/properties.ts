import { pick } from '../formats/format';
import { tokenCss, type StyleGroup, type StyleProperty } from './property';
import type { TokenGroup } from '../schema/theme';

const token = (
  name: string,
  label: string,
  group: StyleGroup,
  of: TokenGroup,
  property: string | ((css: string) => string),
  own = false,
): StyleProperty => ({
  name,
  label,
  group,
  control: { as: 'token', of, own },
  css: (value) => (typeof property === 'string' ? `${property}:${tokenCss(of, value)}` : property(tokenCss(of, value))),
});
const space = (name: string, label: string, property: string) => token(name, label, 'Space', 'space', property, true);
const length = (name: string, label: string, group: StyleGroup, property: string): StyleProperty => ({
  name,
  label,
  group,
  control: { as: 'length' },
  css: (value) => `${property}:${value}`,
});
const choose = (
  name: string,
  label: string,
  group: StyleGroup,
  options: { value: string; label: string }[],
  css: string | ((value: string) => string),
): StyleProperty => ({
  name,
  label,
  group,
  control: { as: 'pick', options },
  css: (value) => (typeof css === 'string' ? `${css}:${value}` : css(String(value))),
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
/** A share of what a place and its gaps come to, so that shares that make one whole fit beside each other in a row. */
const widthOf = (name: string): string => {
  const share = SHARES[name];
  if (share === undefined) return 'fit-content';
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

/** Everything about looks that can be set, in the order of the panel. A new property is one line here. */
export const properties: StyleProperty[] = [
  space('above', 'Space above', 'margin-block-start'),
  space('below', 'Space below', 'margin-block-end'),
  space('padding', 'Padding', 'padding'),
  space('paddingBlock', 'Padding above and below', 'padding-block'),
  space('paddingInline', 'Padding at the sides', 'padding-inline'),
  space('gap', 'Gap between what it holds', 'gap'),

  choose(
    'width',
    'Width',
    'Size',
    pick(
      ...['full', 'Full', 'three-quarters', 'Three quarters', 'two-thirds', 'Two thirds', 'half', 'Half'],
      ...[
        'third',
        'A third',
        'quarter',
        'A quarter',
        'fifth',
        'A fifth',
        'sixth',
        'A sixth',
        'content',
        'As its content',
      ],
    ),
    (value) => `width:${widthOf(value)};max-width:100%`,
  ),
  length('maxWidth', 'At most as wide as', 'Size', 'max-width'),
  length('minHeight', 'At least as high as', 'Size', 'min-height'),
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
  token('size', 'Size', 'Type', 'size', 'font-size', true),
  choose(
    'weight',
    'Weight',
    'Type',
    pick('300', 'Light', '400', 'Regular', '500', 'Medium', '650', 'Bold', '800', 'Heavy'),
    'font-weight',
  ),
  {
    name: 'leading',
    label: 'Line height',
    group: 'Type',
    control: { as: 'number', min: 0.8, max: 3 },
    css: (value) => `line-height:${value}`,
  },
  token('colour', 'Colour', 'Type', 'colour', 'color'),

  token('ground', 'Ground', 'Surface', 'colour', 'background-color'),
  choose(
    'border',
    'Border',
    'Surface',
    pick('0', 'None', '1px', 'Fine', '2px', 'Medium', '4px', 'Strong', '8px', 'Heavy'),
    (value) => `border-width:${value};border-style:solid`,
  ),
  token('borderColour', 'Colour of the border', 'Surface', 'colour', 'border-color'),
  token('radius', 'Corners', 'Surface', 'radius', (css) => `border-radius:${css};overflow:clip`, true),
  token('shadow', 'Shadow', 'Surface', 'shadow', 'box-shadow'),

  choose(
    'place',
    'Lies over its box',
    'Position',
    pick(
      ...['none', 'No, in line', 'top-start', 'Top, start', 'top', 'Top', 'top-end', 'Top, end', 'start', 'Start'],
      ...[
        'centre',
        'Centre',
        'end',
        'End',
        'bottom-start',
        'Bottom, start',
        'bottom',
        'Bottom',
        'bottom-end',
        'Bottom, end',
      ],
    ),
    (value) => (value === 'none' ? 'position:relative;inset:auto' : `position:absolute;${PLACES[value]}`),
  ),
  // The two together are one declaration, and not being shown ends at the next width: see styleCss.
  length('shiftX', 'Moved to the side', 'Position', ''),
  length('shiftY', 'Moved down', 'Position', ''),
  {
    name: 'layer',
    label: 'Layer (higher lies on top)',
    group: 'Position',
    control: { as: 'number', min: -10, max: 100 },
    css: (value) => `z-index:${value}`,
  },
  choose('shown', 'At this width', 'Position', pick('yes', 'Shown', 'no', 'Not shown'), ''),
];

const byName = new Map(properties.map((property) => [property.name, property]));

export const propertyNamed = (name: string): StyleProperty | undefined => byName.get(name);
