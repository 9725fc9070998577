import { onTokensCss } from './background';
import { facesCss, GENERIC, completeStack } from './typefaces';
import { TOKEN_GROUPS, type TokenGroup, type Shadow, type Theme } from '../schema/theme';

const tokens = <V>(...list: [string, string, V][]) => list.map(([key, name, value]) => ({ key, name, value }));
const drop = (y: string, blur: string, colour: string): Shadow => ({ colour, x: '0', y, blur, spread: '0' });

/** Keys that the site's own style sheet uses; they can be changed and never taken away. */
export const BUILT_IN: Theme = {
  colour: tokens(
    ['ground', 'Ground', '#fbfaf6'],
    ['tint', 'Tint', '#eef0ea'],
    ['deep', 'Deep', '#26392f'],
    ['on-deep', 'On deep', '#f4f6f1'],
    ['ink', 'Ink', '#1f2622'],
    ['quiet', 'Quiet', '#57615b'],
    ['line', 'Line', '#d3d8cf'],
    ['accent', 'Accent', '#7a3b1d'],
    ['on-accent', 'On accent', '#ffffff'],
    ['notice', 'Notice', '#f8ecd0'],
  ),
  font: tokens(
    ['body', 'Body', ['Hanken Grotesk Variable', 'Noto Sans JP Variable', 'system-ui', 'sans-serif']],
    ['display', 'Display', ['Fraunces Variable', 'Noto Sans JP Variable', 'Georgia', 'serif']],
    ['mono', 'Mono', ['JetBrains Mono Variable', 'ui-monospace', 'monospace']],
  ),
  size: tokens(
    ['s', 'Small', '0.9375rem'],
    ['m', 'Body', '1.0625rem'],
    ['l', 'Large', '1.25rem'],
    ['xl', 'Very large', '1.6rem'],
    ['xxl', 'Title', '2.2rem'],
    ['huge', 'Huge', '3.25rem'],
  ),
  space: tokens(
    ['none', 'None', '0'],
    ['xs', 'Very small', '0.25rem'],
    ['s', 'Small', '0.5rem'],
    ['m', 'Medium', '1rem'],
    ['l', 'Large', '2rem'],
    ['xl', 'Very large', '3rem'],
    ['xxl', 'Huge', '5rem'],
  ),
  radius: tokens(
    ['none', 'None', '0'],
    ['s', 'Small', '4px'],
    ['m', 'Medium', '10px'],
    ['l', 'Large', '24px'],
    ['round', 'Round', '999px'],
  ),
  shadow: tokens(
    ['none', 'None', drop('0', '0', '#00000000')],
    ['s', 'Low', drop('1px', '3px', '#1f262233')],
    ['m', 'Raised', drop('6px', '18px', '#1f26222e')],
    ['l', 'High', drop('16px', '40px', '#1f262240')],
  ),
  looks: [
    {
      key: 'card',
      name: 'Card',
      kind: 'box',
      style: { wide: { ground: 'tint', padding: 'm', radius: 'm' } },
    },
    {
      key: 'raised',
      name: 'Raised card',
      kind: 'box',
      style: { wide: { ground: 'ground', padding: 'm', radius: 'm', shadow: 'm' } },
    },
  ],
  typefaces: [],
};

/** The value of a token as CSS writes it. */
export function tokenValue(group: TokenGroup, value: Theme[TokenGroup][number]['value']): string {
  if (Array.isArray(value)) return value.map((font) => (GENERIC.test(font) ? font : `'${font}'`)).join(',');
  if (typeof value === 'object') return `${value.x} ${value.y} ${value.blur} ${value.spread} ${value.colour}`;
  void group;
  return value;
}

/** The theme as CSS variables, such as `--colour-ink` and `--space-m`, with what stands on each of its colours, and its typefaces. */
export function themeCss(theme: Theme): string {
  const all = TOKEN_GROUPS.flatMap((group) =>
    theme[group].map(
      ({ key, value }) =>
        `--${group}-${key}:${tokenValue(group, Array.isArray(value) ? completeStack(value, theme) : value)}`,
    ),
  );
  return `${facesCss(theme)}\n:root{${[...all, ...onTokensCss(theme)].join(';')}}`;
}

/** A theme with every built-in token that it lacks, so that the site's own style sheet finds them all. */
export function completeTheme(theme: Theme): Theme {
  const whole = <G extends TokenGroup>(group: G): Theme[G] => {
    const own = theme[group] as { key: string }[];
    const lacking = (BUILT_IN[group] as { key: string }[]).filter(({ key }) => !own.some((token) => token.key === key));
    return [...own, ...lacking] as Theme[G];
  };
  return { ...theme, ...Object.fromEntries(TOKEN_GROUPS.map((group) => [group, whole(group)])) };
}
