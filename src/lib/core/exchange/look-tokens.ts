import { z } from 'zod';
import { StyleSchema, type Style, type StyleValue } from '../schema/style';
import type { NamedLook } from '../schema/theme';
import { isToken } from '../styles/property';
import { styleProblems } from '../styles/style';

/** A length of the format: pixels or root ems; undefined for any other. */
const dimension = (value: StyleValue | undefined) => {
  const [, figure, unit] = /^(-?[\d.]+)(px|rem)$/.exec(String(value ?? '')) ?? [];
  if (String(value) === '0') return { value: 0, unit: 'px' };
  return figure === undefined ? undefined : { value: Number(figure), unit };
};
/** A token of the theme as an alias, a length as it is. */
const reference = (scale: string, value: StyleValue | undefined) =>
  value === undefined ? undefined : isToken(value) ? `{${scale}.${value}}` : dimension(value);

/** Seconds that something takes to change, by how it is called. */
const DURATIONS: Record<string, number> = { none: 0, quick: 0.12, calm: 0.3 };

/**
 * A named look as a group of composite tokens, as far as the format has them (Design Tokens Format Module 2025.10, 9.3
 * border, 9.4 transition, 9.5 shadow, 9.7 typography; from memory), each from what it says for every width. All that it
 * says stands in `$extensions`, and is read from there.
 */
export function lookTokens({ name, kind, style }: NamedLook, namespace: string): Record<string, unknown> {
  const own = style.wide ?? {};
  const out: Record<string, unknown> = {
    $description: name,
    $extensions: { [namespace]: { look: { name, kind, style } } },
  };
  if (['font', 'size', 'weight', 'leading', 'tracking'].some((one) => own[one] !== undefined))
    out.typography = {
      $type: 'typography',
      $value: {
        fontFamily: reference('font', own.font) ?? '{font.body}',
        fontSize: reference('size', own.size) ?? '{size.m}',
        fontWeight: Number(own.weight ?? 400),
        letterSpacing: dimension(own.tracking) ?? { value: 0, unit: 'px' },
        lineHeight: Number(own.leading ?? 1.6),
      },
    };
  const width = dimension(own.border);
  if (width)
    out.border = {
      $type: 'border',
      $value: { color: reference('colour', own.borderColour) ?? '{colour.ink}', width, style: 'solid' },
    };
  if (own.shadow !== undefined && isToken(own.shadow))
    out.shadow = { $type: 'shadow', $value: `{shadow.${own.shadow}}` };
  if (own.change !== undefined)
    out.transition = {
      $type: 'transition',
      $value: {
        duration: { value: DURATIONS[String(own.change)] ?? 0, unit: 's' },
        delay: { value: 0, unit: 's' },
        // `ease-out` of CSS Easing Functions 1, 2.2.
        timingFunction: [0, 0, 0.58, 1],
      },
    };
  return out;
}

const Whole = z.object({ name: z.string().trim().min(1).max(60), kind: z.string().max(40), style: StyleSchema });

/** The look that a group says it is, in `$extensions`; undefined where it says none, or one that cannot be read. */
export function lookOf(node: Record<string, unknown>, namespace: string): Omit<NamedLook, 'key'> | undefined {
  const said = (node.$extensions as Record<string, { look?: unknown } | undefined> | undefined)?.[namespace]?.look;
  const read = said === undefined ? undefined : Whole.safeParse(said);
  return read?.success && !styleProblems(read.data.style, '').length ? read.data : undefined;
}

/** A composite token of typography as a look for text; `read` gives the values of its parts, by scale. */
export function lookOfTypography(
  value: unknown,
  read: { font: (given: unknown) => string | undefined; size: (given: unknown) => unknown },
): Style | undefined {
  if (typeof value !== 'object' || value === null) return undefined;
  const { fontFamily, fontSize, fontWeight, letterSpacing, lineHeight } = value as Record<string, unknown>;
  const said: [string, unknown][] = [
    ['font', read.font(fontFamily)],
    ['size', read.size(fontSize)],
    ['weight', nearestWeight(fontWeight)],
    ['tracking', read.size(letterSpacing)],
    ['leading', typeof lineHeight === 'number' ? Math.min(3, Math.max(0.8, lineHeight)) : undefined],
  ];
  const wide = Object.fromEntries(said.filter(([, one]) => one !== undefined)) as Record<string, StyleValue>;
  return Object.keys(wide).length && !styleProblems({ wide }, '').length ? { wide } : undefined;
}

const WEIGHTS = [300, 400, 500, 650, 800];
const NAMED: Record<string, number> = { light: 300, normal: 400, regular: 400, medium: 500, bold: 700, black: 900 };

/** The weight among those that can be set which is nearest to one of 1 to 1000, or to a name. */
function nearestWeight(given: unknown): string | undefined {
  const wanted = typeof given === 'number' ? given : NAMED[String(given).toLowerCase()];
  if (wanted === undefined) return undefined;
  return String(WEIGHTS.reduce((best, one) => (Math.abs(one - wanted) < Math.abs(best - wanted) ? one : best)));
}
