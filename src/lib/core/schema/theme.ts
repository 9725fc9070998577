import { z } from 'zod';

export const TOKEN_GROUPS = ['colour', 'font', 'size', 'space', 'radius', 'shadow'] as const;

export type TokenGroup = (typeof TOKEN_GROUPS)[number];

const Key = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, {
  error: 'The key of a token has small letters, digits and hyphens, and starts with a letter.',
});

const Name = z.string().trim().min(1, { error: 'A token has a name.' }).max(60);

/** A colour as `#rrggbb` or `#rrggbbaa`. */
const Colour = z.string().regex(/^#([0-9a-f]{6}|[0-9a-f]{8})$/, { error: 'A colour is written like #5b2b4c.' });

/** Pixels or root ems. */
const Dimension = z
  .string()
  .regex(/^(0|-?(\d+|\d*\.\d+)(px|rem))$/, { error: 'A length is a number with px or rem, such as 1.5rem.' });

const Fonts = z
  .array(
    z
      .string()
      .trim()
      .min(1)
      .max(80)
      .regex(/^[^"'\\;{}<>()\p{Cc}]+$/u, { error: 'A typeface is named in letters.' }),
  )
  .min(1, { error: 'A typeface is named.' })
  .max(8);

const Shadow = z.strictObject({ colour: Colour, x: Dimension, y: Dimension, blur: Dimension, spread: Dimension });

export type Shadow = z.infer<typeof Shadow>;

const group = <V extends z.ZodType>(value: V) =>
  z
    .array(z.strictObject({ key: Key, name: Name, value }))
    .max(60)
    .refine((tokens) => new Set(tokens.map((token) => token.key)).size === tokens.length, {
      error: 'Two tokens have the same key.',
    });

/** The tokens that styles are made from. Every use follows its token. */
export const ThemeSchema = z.strictObject({
  colour: group(Colour),
  font: group(Fonts),
  size: group(Dimension),
  space: group(Dimension),
  radius: group(Dimension),
  shadow: group(Shadow),
});

export type Theme = z.infer<typeof ThemeSchema>;
