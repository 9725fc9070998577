import { contrastOver, inkOn, LEAST } from './contrast';
import type { Theme } from '../schema/theme';
import { formatHex, interpolate } from '../base/colour';

/**
 * What stands on a ground reads its colours from four variables: text, quiet text, links and lines. A ground sets them for
 * everything within it, by colours of the theme that read on it (WCAG 2.2, 1.4.3: 4.5:1), or black or white.
 */
export interface OnBackground {
  text: string;
  quiet: string;
  link: string;
  line: string;
}

/** A line is seen, which takes less than reading does. */
const LINE_LEAST = 1.2;

/** What of colours reads best on a ground: the first that reads, of those that may be asked for. */
function onGround(
  ratio: (colour: string) => number,
  ground: string,
  { texts, quiets, links, lines }: { texts: string[]; quiets: string[]; links: string[]; lines: string[] },
): OnBackground {
  const reads = (colour: string) => ratio(colour) >= LEAST;
  const text = texts.find(reads) ?? inkOn(ground);
  const mixed = (share: number) => formatHex(interpolate([text, ground], 'rgb')(share));
  return {
    text,
    quiet: [...quiets, mixed(0.25)].find(reads) ?? text,
    link: links.find(reads) ?? text,
    line: lines.find((line) => ratio(line) >= LINE_LEAST) ?? mixed(0.7),
  };
}

/** What stands on a colour of a theme. */
export function onToken(key: string, theme: Theme): OnBackground {
  const of = (name: string) => theme.colour.find((token) => token.key === name)?.value;
  const ground = of(key) ?? '#ffffff';
  const page = of('ground') ?? '#ffffff';
  const seen = contrastOver('#000000', [ground, page]).ground;
  const known = (...names: string[]) => names.flatMap((name) => of(name) ?? []);
  return onGround((colour) => contrastOver(colour, [ground, page]).ratio, seen, {
    texts: known(`on-${key}`, 'ink', 'ground', 'on-deep'),
    quiets: known('quiet'),
    links: known('accent'),
    lines: known('line'),
  });
}

/** What stands on a colour that is of no theme, such as one of a field. */
export const onColour = (ground: string): OnBackground =>
  onGround((colour) => contrastOver(colour, [ground]).ratio, contrastOver('#000000', [ground]).ground, {
    texts: [inkOn(ground)],
    quiets: [],
    links: [],
    lines: [],
  });

/** These as declarations for the ground's box. */
export const onBackgroundCss = ({ text, quiet, link, line }: OnBackground): string =>
  `--text:${text};--text-quiet:${quiet};--text-link:${link};--line:${line};color:var(--text)`;

/** Variables for what stands on each colour of a theme, such as `--on-deep-quiet`. */
export const onTokensCss = (theme: Theme): string[] =>
  theme.colour.flatMap(({ key }) => {
    const on = onToken(key, theme);
    return [
      `--on-${key}:${on.text}`,
      `--on-${key}-quiet:${on.quiet}`,
      `--on-${key}-link:${on.link}`,
      `--on-${key}-line:${on.line}`,
    ];
  });

/** A colour of the theme as ground, with what stands on it; from `var(--colour-deep)`. */
export function backgroundCss(css: string): string {
  const key = /^var\(--colour-(.+)\)$/.exec(css)?.[1] ?? '';
  const on = (part = '') => `var(--on-${key}${part})`;
  return `background-color:${css};--text:${on()};--text-quiet:${on('-quiet')};--text-link:${on('-link')};--line:${on('-line')};color:var(--text)`;
}
