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

/** SHA-256 of a file, hexadecimal. */
const Hash = z.string().regex(/^[0-9a-f]{64}$/);
const Units = z.number().min(-100_000).max(100_000);
const Family = z
  .string()
  .trim()
  .min(1)
  .max(80)
  .regex(/^[^"'\\;{}<>()\p{Cc}]+$/u, { error: 'A typeface is named in letters.' });

const Fonts = z.array(Family).min(1, { error: 'A typeface is named.' }).max(8);

const Typeface = z.strictObject({
  family: Family,
  faces: z
    .array(
      z.strictObject({
        /** From the lightest to the boldest that the file has; both the same where it has one. */
        weight: z.tuple([z.number().min(1).max(1000), z.number().min(1).max(1000)]),
        italic: z.boolean(),
        /** The SHA-256 of its file, which is kept among the media. */
        file: Hash,
        /** Its signs in pieces, of which a page is sent those that it needs: ranges as `unicode-range` has them. */
        ranges: z
          .array(
            z
              .string()
              .max(20_000)
              .regex(/^U\+[0-9A-F]+(-[0-9A-F]+)?(,U\+[0-9A-F]+(-[0-9A-F]+)?)*$/),
          )
          .min(1)
          .max(400),
      }),
    )
    .min(1)
    .max(24),
  /** In units of which an em has `unitsPerEm`. */
  metrics: z.strictObject({
    ascent: Units,
    descent: Units,
    lineGap: Units,
    xWidthAvg: Units,
    unitsPerEm: z.number().min(16).max(16_384),
  }),
  /** The words under which it may be used, as they were brought or as the file says them. */
  licence: z.string().max(40_000),
});

/** A typeface that was brought as WOFF2 files. */
export type Typeface = z.infer<typeof Typeface>;

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
  typefaces: z
    .array(Typeface)
    .max(40)
    .refine((all) => new Set(all.map(({ family }) => family)).size === all.length, {
      error: 'Two typefaces have the same name.',
    })
    .default([]),
});

export type Theme = z.infer<typeof ThemeSchema>;
