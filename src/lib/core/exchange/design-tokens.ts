import { converter, parse } from '../base/colour';
import { fail, ok, problem, problemsOf, type Problem, type Result } from '../base/result';
import { keyOf } from '../base/text';
import { lookOf, lookOfTypography, lookTokens } from './look-tokens';
import { tokenReaders } from './token-values';
import { ThemeSchema, TOKEN_GROUPS, type NamedLook, type Theme, type TokenGroup } from '../schema/theme';

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
  const looks = Object.fromEntries(theme.looks.map((look) => [look.key, lookTokens(look, NAMESPACE)]));
  return { ...Object.fromEntries(groups), ...(theme.looks.length && { look: looks }) };
}

/** Which scale a token belongs to: what the file says, or by its type and the words on the way to it. */
function scaleOf(type: string, path: string[], said: string | undefined): TokenGroup | undefined {
  if (said && (TOKEN_GROUPS as readonly string[]).includes(said)) return said as TokenGroup;
  if (type === 'color') return 'colour';
  if (type === 'fontFamily') return 'font';
  if (type === 'shadow') return 'shadow';
  if (type !== 'dimension') return undefined;
  const words = path.join(' ').toLowerCase();
  return /radi|corner/.test(words) ? 'radius' : /font|type|text|size/.test(words) ? 'size' : 'space';
}

/** A key made from a token's name, which no other in its scale has. */
function freshKey(name: string, others: readonly { key: string }[]): string {
  const base = keyOf(name, 'token').replace(/_/g, '-').slice(0, 36);
  let key = base;
  for (let n = 2; others.some((token) => token.key === key); n++) key = `${base}-${n}`;
  return key;
}

const describedOf = ({ $description: words }: Record<string, unknown>): string | undefined =>
  typeof words === 'string' && words.trim() ? words.trim().slice(0, 60) : undefined;

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
  const looks: NamedLook[] = [];
  const keep = (name: string, look: Omit<NamedLook, 'key'>) => looks.push({ key: freshKey(name, looks), ...look });

  const readers = tokenReaders(input, problems);

  /** The key of a typeface that is named, or that is in the file by now under these fonts. */
  const fontNamed = (given: unknown, fonts: unknown): string | undefined => {
    const alias = typeof given === 'string' ? /^\{(?:[^{}]*\.)?([^{}.]+)\}$/.exec(given)?.[1] : undefined;
    const found = theme.font.find(({ key, value }) => key === alias || JSON.stringify(value) === JSON.stringify(fonts));
    if (found || !Array.isArray(fonts) || !fonts.length) return found?.key;
    const key = freshKey(String(fonts[0]), theme.font);
    theme.font.push({ key, name: String(fonts[0]).slice(0, 60), value: fonts });
    return key;
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
    const look = lookOf(node, NAMESPACE);
    if (look) return void keep(path.at(-1) ?? look.name, look);
    if ('$value' in node && ownType === 'typography') {
      const name = path.at(-1) ?? 'look';
      const style = lookOfTypography(node.$value, {
        font: (given) => fontNamed(given, readers.font(given)),
        size: (given) => readers.size(given),
      });
      if (style) keep(name, { name: describedOf(node) ?? name.slice(0, 60), kind: 'text', style });
      else left.push(path.join('.'));
      return;
    }
    if ('$value' in node) {
      const where = path.join('.');
      const group = scaleOf(ownType ?? '', path, scale);
      if (!group) return void left.push(where);
      const value = readers[group](node.$value);
      if (value === undefined)
        return void problems.push(
          problem(where, `“${where}” is no ${TYPES[group]} that can be read.`, 'See docs/formats/design-tokens.md.'),
        );
      const key = freshKey(path.at(-1) as string, theme[group]);
      theme[group].push({ key, name: describedOf(node) ?? String(path.at(-1)).slice(0, 60), value });
      return;
    }
    for (const [key, inner] of Object.entries(node))
      if (!key.startsWith('$') && typeof inner === 'object' && inner !== null && path.length < 12)
        visit(inner as Record<string, unknown>, [...path, key], ownType, scale);
  };
  visit(input as Record<string, unknown>, [], undefined, undefined);
  if (problems.length) return fail(...problems);
  const parsed = ThemeSchema.safeParse({ ...theme, looks });
  return parsed.success ? ok({ theme: parsed.data, left }) : fail(...problemsOf(parsed.error));
}
