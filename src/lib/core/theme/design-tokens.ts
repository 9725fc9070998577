import { converter, formatHex, formatHex8, parse } from 'culori';
import { z } from 'zod';
import { fail, ok, problem, problemsOf, type Problem, type Result } from '../base/result';
import { keyOf } from '../base/text';
import { ThemeSchema, TOKEN_GROUPS, type Theme, type TokenGroup } from '../schema/theme';

/**
 * Themes in the format of the Design Tokens Community Group (Design Tokens Format Module 2025.10, sections 5 to 9; from
 * memory): groups of tokens with `$type` and `$value`, colours by components, lengths by value and unit, shadows of
 * these. Which of our scales a group is stands in `$extensions`; files without it are read by type.
 */
const NAMESPACE = 'org.plum-thread';
const TYPES: Record<TokenGroup, string> = {
  colour: 'color',
  font: 'fontFamily',
  size: 'dimension',
  space: 'dimension',
  radius: 'dimension',
  shadow: 'shadow',
};

const toRgb = converter('rgb');

const colourOut = (hex: string) => {
  const { r, g, b, alpha = 1 } = toRgb(parse(hex)) ?? { r: 0, g: 0, b: 0 };
  return {
    colorSpace: 'srgb',
    components: [r, g, b].map((n) => Number(n.toFixed(4))),
    ...(alpha === 1 ? {} : { alpha: Number(alpha.toFixed(4)) }),
    hex: hex.slice(0, 7),
  };
};

const lengthOut = (length: string) => {
  const parts = /^(-?[\d.]+)(px|rem)?$/.exec(length);
  return { value: Number(parts?.[1] ?? 0), unit: parts?.[2] ?? 'px' };
};

export function toDesignTokens(theme: Theme): Record<string, unknown> {
  const groups = TOKEN_GROUPS.map((group) => {
    const out: Record<string, unknown> = { $type: TYPES[group], $extensions: { [NAMESPACE]: { scale: group } } };
    for (const { key, name, value } of theme[group])
      out[key] = {
        $description: name,
        $value:
          typeof value === 'string'
            ? group === 'colour'
              ? colourOut(value)
              : lengthOut(value)
            : Array.isArray(value)
              ? value
              : {
                  color: colourOut(value.colour),
                  offsetX: lengthOut(value.x),
                  offsetY: lengthOut(value.y),
                  blur: lengthOut(value.blur),
                  spread: lengthOut(value.spread),
                },
      };
    return [group, out];
  });
  return Object.fromEntries(groups) as Record<string, unknown>;
}

const ALIAS = /^\{([^{}]+)\}$/;

/** Reads a file of design tokens. Tokens of kinds that themes have no place for are left out, and said. */
export function fromDesignTokens(input: unknown): Result<{ theme: Theme; left: string[] }> {
  if (typeof input !== 'object' || input === null || Array.isArray(input))
    return fail(problem('', 'A file of design tokens is a JSON object with groups of tokens.'));
  const problems: Problem[] = [];
  const left: string[] = [];
  const theme: Record<TokenGroup, { key: string; name: string; value: unknown }[]> = {
    colour: [],
    font: [],
    size: [],
    space: [],
    radius: [],
    shadow: [],
  };

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
        input,
      );
    if (typeof token !== 'object' || token === null || !('$value' in token)) {
      problems.push(problem(alias, `The alias {${alias}} leads to no token.`, 'Name a token of the file.'));
      return undefined;
    }
    return resolve((token as { $value: unknown }).$value, [...seen, alias]);
  };

  const colourIn = (given: unknown): string | undefined => {
    const value = resolve(given);
    if (typeof value === 'string') {
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
    const MODES: Record<string, string> = {
      srgb: 'srgb',
      'display-p3': 'display-p3',
      'srgb-linear': 'srgb-linear',
      'a98-rgb': 'a98-rgb',
      'prophoto-rgb': 'prophoto-rgb',
      rec2020: 'rec2020',
      'xyz-d65': 'xyz-d65',
      'xyz-d50': 'xyz-d50',
    };
    const space = whole.data.colorSpace;
    const css = ['lab', 'lch', 'oklab', 'oklch'].includes(space)
      ? `${space}(${a} ${b} ${c})`
      : space === 'hsl' || space === 'hwb'
        ? `${space}(${a} ${b}% ${c}%)`
        : MODES[space] && `color(${MODES[space]} ${a} ${b} ${c})`;
    const parsed = css ? parse(css) : undefined;
    if (!parsed) return undefined;
    const opaque = formatHex(parsed);
    return opaque && whole.data.alpha < 1
      ? opaque +
          Math.round(whole.data.alpha * 255)
            .toString(16)
            .padStart(2, '0')
      : opaque;
  };

  const lengthIn = (given: unknown): string | undefined => {
    const value = resolve(given);
    if (typeof value === 'string') return /^(0|-?[\d.]+(px|rem))$/.test(value) ? value : undefined;
    const whole = z.object({ value: z.number(), unit: z.enum(['px', 'rem']) }).safeParse(value);
    return whole.success ? (whole.data.value === 0 ? '0' : `${whole.data.value}${whole.data.unit}`) : undefined;
  };

  const shadowIn = (given: unknown): unknown => {
    const all = resolve(given);
    const value = (Array.isArray(all) ? resolve(all[0]) : all) as Record<string, unknown> | undefined;
    if (typeof value !== 'object' || value === null) return undefined;
    const made = {
      colour: colourIn(value.color),
      x: lengthIn(value.offsetX ?? '0'),
      y: lengthIn(value.offsetY ?? '0'),
      blur: lengthIn(value.blur ?? '0'),
      spread: lengthIn(value.spread ?? '0'),
    };
    return Object.values(made).includes(undefined) ? undefined : made;
  };

  const fontsIn = (given: unknown): string[] | undefined => {
    const value = resolve(given);
    if (typeof value === 'string') return value.split(',').map((font) => font.trim().replace(/^["']|["']$/g, ''));
    return Array.isArray(value) ? value.map(String) : undefined;
  };

  /** Which scale a token belongs to: what the file says, or by its type and the words on the way to it. */
  const scaleOf = (type: string, path: string[], said: string | undefined): TokenGroup | undefined => {
    if (said && (TOKEN_GROUPS as readonly string[]).includes(said)) return said as TokenGroup;
    if (type === 'color') return 'colour';
    if (type === 'fontFamily') return 'font';
    if (type === 'shadow') return 'shadow';
    if (type !== 'dimension') return undefined;
    const words = path.join(' ').toLowerCase();
    return /radi|corner/.test(words) ? 'radius' : /font|type|text|size/.test(words) ? 'size' : 'space';
  };

  const visit = (
    node: Record<string, unknown>,
    path: string[],
    type: string | undefined,
    said: string | undefined,
  ): void => {
    const ownType = typeof node.$type === 'string' ? node.$type : type;
    const extension = (node.$extensions as Record<string, { scale?: unknown }> | undefined)?.[NAMESPACE]?.scale;
    const scale = typeof extension === 'string' ? extension : said;
    if ('$value' in node) {
      const where = path.join('.');
      const group = scaleOf(ownType ?? '', path, scale);
      if (!group) return void left.push(where);
      const read = {
        colour: colourIn,
        font: fontsIn,
        size: lengthIn,
        space: lengthIn,
        radius: lengthIn,
        shadow: shadowIn,
      }[group];
      const value = read(node.$value);
      if (value === undefined)
        return void problems.push(
          problem(where, `“${where}” is no ${TYPES[group]} that can be read.`, 'See docs/formats/design-tokens.md.'),
        );
      const base = keyOf(path.at(-1) as string, 'token')
        .replace(/_/g, '-')
        .slice(0, 36);
      let key = base;
      for (let n = 2; theme[group].some((token) => token.key === key); n++) key = `${base}-${n}`;
      const name =
        typeof node.$description === 'string' && node.$description.trim() ? node.$description.trim() : path.at(-1);
      theme[group].push({ key, name: String(name).slice(0, 60), value });
      return;
    }
    for (const [key, inner] of Object.entries(node))
      if (!key.startsWith('$') && typeof inner === 'object' && inner !== null && path.length < 12)
        visit(inner as Record<string, unknown>, [...path, key], ownType, scale);
  };
  visit(input as Record<string, unknown>, [], undefined, undefined);
  if (problems.length) return fail(...problems);
  const parsed = ThemeSchema.safeParse(theme);
  return parsed.success ? ok({ theme: parsed.data, left }) : fail(...problemsOf(parsed.error));
}
