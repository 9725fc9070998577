import { z } from 'zod';

/** Screen widths, the widest first. Each takes over what the one before it says, and may say otherwise. */
export const SCREENS = ['wide', 'medium', 'narrow'] as const;

export type Screen = (typeof SCREENS)[number];

/** What is set, by property; `styleProblems` in `styles/` says which of these there are. */
const Values = z.record(z.string().max(60), z.union([z.string().max(80), z.number()]));

export const StyleSchema = z.strictObject({
  wide: Values.optional(),
  medium: Values.optional(),
  narrow: Values.optional(),
});

export type Style = z.infer<typeof StyleSchema>;

export type StyleValue = string | number;
