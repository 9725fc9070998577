import type { StyleValue } from '../schema/style';
import { z } from 'zod';
import type { TokenGroup } from '../schema/theme';

export interface StyleOption {
  value: string;
  label: string;
}

/**
 * How a property is set: from a scale of the theme, with a length, from a list, or as a number. `own` is what stands in
 * place of a token; lengths are at least `least`, go with `steps` that have names, and where there is nothing that one
 * could be a share of, cannot be percentages.
 */
export type StyleControl =
  | { as: 'token'; of: TokenGroup; own?: 'length' | 'shadow'; least?: number }
  | { as: 'length'; steps: StyleOption[]; least?: number; noShares?: true }
  | { as: 'pick'; options: StyleOption[] }
  | { as: 'number'; min: number; max: number; step?: number };

/** One thing about an element's looks that can be set for each width of the screen. */
export interface StyleProperty {
  name: string;
  label: string;
  group: StyleGroup;
  control: StyleControl;
  /** Declarations, such as `margin-top:1rem`; the value has been checked against `valueOf`. */
  css(value: StyleValue): string;
  /** Where in its box it is seen, as a selector with `&` for the box; the box itself without it. */
  at?: string;
  /** It moves, and is for those who have not asked for less of that. */
  moves?: true;
  /** Words by which it is looked for beside its label. */
  also?: string;
}

export const STYLE_GROUPS = ['Space', 'Size', 'Alignment', 'Type', 'Surface', 'Position'] as const;
export type StyleGroup = (typeof STYLE_GROUPS)[number];

/** A length or percentage of CSS Values 4, in the units a designer needs; 0 needs none. */
const LENGTH = /^(0|-?(?:\d+|\d*\.\d+)(px|rem|em|ch|%|vw|vh|lh))$/;
const TOKEN = /^[a-z][a-z0-9-]{0,39}$/;
/** The most that a length is, in pixels, and in every other unit. */
const MOST = { px: 10_000, other: 1000 };

/** What is wrong with a length; undefined where nothing is. `least` is the least that its figure may be. */
function lengthProblem(text: string, least: number): string | undefined {
  const [, , unit] = LENGTH.exec(text) ?? [];
  if (!LENGTH.test(text)) return 'A length is a number with px, rem, em, ch, %, vw or vh, such as 12px or 50%.';
  const figure = Number.parseFloat(text);
  if (figure < least) return least ? `This is at least ${least}.` : 'This cannot be less than 0.';
  const most = unit === 'px' ? MOST.px : MOST.other;
  return Math.abs(figure) > most
    ? `This is at most ${most.toLocaleString('en-GB')} ${unit ?? ''}`.trim() + '.'
    : undefined;
}

const Length = (least = -Infinity) =>
  z
    .string()
    .max(20, { error: 'A length is a number with px, rem, em, ch, %, vw or vh, such as 12px or 50%.' })
    .check(({ value, issues }) => {
      const wrong = lengthProblem(value, least);
      if (wrong) issues.push({ code: 'custom', message: wrong, input: value });
    });
const Token = z.string().regex(TOKEN, { error: 'This is a token of the theme.' });

/** A shadow of its own: sideways, down, blur and spread as lengths, and a colour such as `#1f262240`. */
const SHADOW = /^(\S{1,20}) (\S{1,20}) (\S{1,20}) (\S{1,20}) (#(?:[0-9a-f]{6}|[0-9a-f]{8}))$/;
const Shadow = z.string().check(({ value, issues }) => {
  const parts = value.length <= 80 ? SHADOW.exec(value) : null;
  const wrong = parts
    ? [1, 2, 3, 4]
        .map((at) => lengthProblem(parts[at] as string, at === 3 ? 0 : -Infinity))
        .find((one) => one !== undefined)
    : 'A shadow is four lengths and a colour, such as 2px 2px 11px 2px #1f262240.';
  if (wrong) issues.push({ code: 'custom', message: wrong, input: value });
});

const startsAsToken = (value: unknown): boolean => typeof value === 'string' && TOKEN.test(value);

/** One of two, by how the text begins, so that what is wrong is told of the one that was meant. */
const either = (token: z.ZodType<StyleValue>, own: z.ZodType<StyleValue>): z.ZodType<StyleValue> =>
  z.any().check(({ value, issues }) => {
    const made = (startsAsToken(value) ? token : own).safeParse(value);
    if (!made.success)
      issues.push({ code: 'custom', message: made.error.issues[0]?.message ?? 'This cannot be set so.', input: value });
  }) as z.ZodType<StyleValue>;

/** What a control accepts. */
export function valueOf(control: StyleControl): z.ZodType<StyleValue> {
  switch (control.as) {
    case 'token':
      return control.own ? either(Token, control.own === 'shadow' ? Shadow : Length(control.least)) : Token;
    case 'length':
      return either(
        z.enum(
          control.steps.map((step) => step.value),
          { error: 'This is one of the steps, or a length such as 12px.' },
        ),
        control.noShares
          ? Length(control.least).refine((text) => !text.endsWith('%'), {
              error: 'There is nothing that this could be a share of; give it in px or rem.',
            })
          : Length(control.least),
      );
    case 'pick':
      return z.enum(control.options.map((option) => option.value));
    case 'number':
      return z.number().min(control.min).max(control.max);
  }
}

const accepted = new WeakMap<StyleControl, z.ZodType<StyleValue>>();

/** Whether a control takes a value. What one does not take is never written into a sheet, wherever it came from. */
export function accepts(control: StyleControl, value: StyleValue): boolean {
  let known = accepted.get(control);
  if (!known) accepted.set(control, (known = valueOf(control)));
  return known.safeParse(value).success;
}

export const isToken = (value: StyleValue): boolean => TOKEN.test(String(value));

/** A token as the variable that holds it, a length as it is. */
export const tokenCss = (group: TokenGroup, value: StyleValue): string =>
  isToken(value) ? `var(--${group}-${value})` : String(value);
