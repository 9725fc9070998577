import { formatHex, formatHex8, parse } from '../base/colour';
import { z } from 'zod';
import { problem, type Problem } from '../base/result';
import type { TokenGroup } from '../schema/theme';

const ALIAS = /^\{([^{}]+)\}$/;
/** Colour spaces that CSS has by the same name in `color()` (CSS Color 4, 10). */
const SPACES = new Set([
  'srgb',
  'display-p3',
  'srgb-linear',
  'a98-rgb',
  'prophoto-rgb',
  'rec2020',
  'xyz-d65',
  'xyz-d50',
]);

/** Longer than any colour is written; what reads colours takes the square of a text's length. */
const LONGEST_COLOUR = 200;

/** A colour as hex, from CSS or from components in one of the format's colour spaces. */
function colourOf(value: unknown): string | undefined {
  if (typeof value === 'string') {
    if (value.length > LONGEST_COLOUR) return undefined;
    const parsed = parse(value);
    return parsed && ((parsed.alpha ?? 1) < 1 ? formatHex8(parsed) : formatHex(parsed));
  }
  const whole = z
    .object({
      colorSpace: z.string(),
      components: z.array(z.union([z.number(), z.literal('none')])).length(3),
      alpha: z.number().min(0).max(1).default(1),
    })
    .safeParse(value);
  if (!whole.success) return undefined;
  const [a, b, c] = whole.data.components.map((n) => (n === 'none' ? 0 : n)) as [number, number, number];
  const space = whole.data.colorSpace;
  const css = ['lab', 'lch', 'oklab', 'oklch'].includes(space)
    ? `${space}(${a} ${b} ${c})`
    : space === 'hsl' || space === 'hwb'
      ? `${space}(${a} ${b}% ${c}%)`
      : SPACES.has(space)
        ? `color(${space} ${a} ${b} ${c})`
        : undefined;
  const parsed = css ? parse(css) : undefined;
  if (!parsed) return undefined;
  const opaque = formatHex(parsed);
  return opaque && whole.data.alpha < 1
    ? opaque +
        Math.round(whole.data.alpha * 255)
          .toString(16)
          .padStart(2, '0')
    : opaque;
}

/** A length in `px` or `rem`, or `0`. */
function lengthOf(value: unknown): string | undefined {
  if (typeof value === 'string') return /^(0|-?[\d.]+(px|rem))$/.test(value) ? value : undefined;
  const whole = z.object({ value: z.number(), unit: z.enum(['px', 'rem']) }).safeParse(value);
  return whole.success ? (whole.data.value === 0 ? '0' : `${whole.data.value}${whole.data.unit}`) : undefined;
}

function fontsOf(value: unknown): string[] | undefined {
  if (typeof value === 'string') return value.split(',').map((font) => font.trim().replace(/^["']|["']$/g, ''));
  return Array.isArray(value) ? value.map(String) : undefined;
}

/** Reads `$value` for each scale of a theme, undefined where it cannot be; aliases are followed within the file. */
export function tokenReaders(file: object, problems: Problem[]): Record<TokenGroup, (given: unknown) => unknown> {
  const resolve = (value: unknown, seen: string[] = []): unknown => {
    const alias = typeof value === 'string' ? ALIAS.exec(value)?.[1] : undefined;
    if (alias === undefined) return value;
    if (seen.includes(alias)) {
      problems.push(problem(alias, `The alias {${alias}} leads back to itself.`, 'Give it a value.'));
      return undefined;
    }
    const token = alias
      .split('.')
      .reduce<unknown>(
        (at, part) =>
          typeof at === 'object' && at !== null && Object.hasOwn(at, part)
            ? (at as Record<string, unknown>)[part]
            : undefined,
        file,
      );
    if (typeof token !== 'object' || token === null || !('$value' in token)) {
      problems.push(problem(alias, `The alias {${alias}} leads to no token.`, 'Name a token of the file.'));
      return undefined;
    }
    return resolve((token as { $value: unknown }).$value, [...seen, alias]);
  };

  const colour = (given: unknown) => colourOf(resolve(given));
  const length = (given: unknown) => lengthOf(resolve(given));
  const shadow = (given: unknown): unknown => {
    const all = resolve(given);
    const value = (Array.isArray(all) ? resolve(all[0]) : all) as Record<string, unknown> | undefined;
    if (typeof value !== 'object' || value === null) return undefined;
    const made = {
      colour: colour(value.color),
      x: length(value.offsetX ?? '0'),
      y: length(value.offsetY ?? '0'),
      blur: length(value.blur ?? '0'),
      spread: length(value.spread ?? '0'),
    };
    return Object.values(made).includes(undefined) ? undefined : made;
  };
  return { colour, font: (given) => fontsOf(resolve(given)), size: length, space: length, radius: length, shadow };
}
