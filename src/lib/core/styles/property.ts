import type { StyleValue } from '../schema/style';
import { z } from 'zod';
import type { TokenGroup } from '../schema/theme';

/** How a property is set: from a scale of the theme or with a length of its own, from a list, or as a number. */
export type StyleControl =
  | { as: 'token'; of: TokenGroup; own?: boolean }
  | { as: 'length' }
  | { as: 'pick'; options: { value: string; label: string }[] }
  | { as: 'number'; min: number; max: number };

/** One thing about an element's looks that can be set for each width of the screen. */
export interface StyleProperty {
  name: string;
  label: string;
  group: StyleGroup;
  control: StyleControl;
  /** Declarations, such as `margin-top:1rem`; the value has been checked against `valueOf`. */
  css(value: StyleValue): string;
}

export const STYLE_GROUPS = ['Space', 'Size', 'Alignment', 'Type', 'Surface', 'Position'] as const;
export type StyleGroup = (typeof STYLE_GROUPS)[number];

/** A length or percentage of CSS Values 4, in the units a designer needs; 0 needs none. */
const LENGTH = /^(0|-?(\d+|\d*\.\d+)(px|rem|em|ch|%|vw|vh|lh))$/;
const TOKEN = /^[a-z][a-z0-9-]{0,39}$/;

const Length = z
  .string()
  .regex(LENGTH, { error: 'A length is a number with px, rem, em, ch, %, vw or vh, such as 12px or 50%.' });
const Token = z.string().regex(TOKEN, { error: 'This is a token of the theme.' });

/** What a control accepts. */
export function valueOf(control: StyleControl): z.ZodType<StyleValue> {
  switch (control.as) {
    case 'token':
      return control.own
        ? z.union([Token, Length], { error: 'This is a token of the theme, or a length such as 12px.' })
        : Token;
    case 'length':
      return Length;
    case 'pick':
      return z.enum(control.options.map((option) => option.value));
    case 'number':
      return z.number().min(control.min).max(control.max);
  }
}

export const isToken = (value: StyleValue): boolean => TOKEN.test(String(value));

/** A token as the variable that holds it, a length as it is. */
export const tokenCss = (group: TokenGroup, value: StyleValue): string =>
  isToken(value) ? `var(--${group}-${value})` : String(value);
