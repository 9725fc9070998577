import { z } from 'zod';
import { Key } from './key';
import { StyleSchema } from './style';

export const TOKEN_GROUPS = ['colour', 'font', 'size', 'space', 'radius', 'shadow'] as const;

export type TokenGroup = (typeof TOKEN_GROUPS)[number];

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

const Look = z.strictObject({
  key: Key,
  name: Name,
  /** The kind of element that it was made for; it can be put on any. */
  kind: z.string().max(40),
  style: StyleSchema,
});

/** Looks kept under a name: put on elements, and changed for all of them at once. */
export type NamedLook = z.infer<typeof Look>;

/** The tokens that styles are made from. Every use follows its token. */
export const ThemeSchema = z.strictObject({
  colour: group(Colour),
  font: group(Fonts),
  size: group(Dimension),
  space: group(Dimension),
  radius: group(Dimension),
  shadow: group(Shadow),
  looks: z
    .array(Look)
    .max(100)
    .refine((looks) => new Set(looks.map(({ key }) => key)).size === looks.length, {
      error: 'Two looks have the same key.',
    })
    .default([]),
});

export type Theme = z.infer<typeof ThemeSchema>;
