import { z } from 'zod';
import type { SettingControl } from './kind';

const Whole = z.number().int().min(0).max(10_000).optional();

/** Settings of kinds that hold several values. */
export const Limits = { least: Whole, most: Whole };

export const limitControls: SettingControl[] = [
  { name: 'least', label: 'Entries at least', as: 'number' },
  { name: 'most', label: 'Entries at most', as: 'number' },
];

/** Settings of kinds that hold text. */
export const Lengths = {
  minLength: z.number().int().min(0).optional(),
  maxLength: z.number().int().positive().optional(),
};

export const lengthControls: SettingControl[] = [
  { name: 'minLength', label: 'Shortest, in characters', as: 'number' },
  { name: 'maxLength', label: 'Longest, in characters', as: 'number' },
];

interface LengthSettings {
  minLength?: number;
  maxLength?: number;
}

/** Characters are Unicode code points here, as JSON Schema counts them (2020-12 validation, 6.3.1). */
const lengthOf = (text: string): number => {
  let n = 0;
  for (const _ of text) n++;
  return n;
};

/** Accepts text of the length that the settings ask for, and of `most` characters in any case. */
export function textOf(settings: LengthSettings, most: number, error = 'This is text.') {
  const { minLength = 0, maxLength = most } = settings;
  return z
    .string({ error })
    .refine((value) => value.length <= maxLength || lengthOf(value) <= maxLength, {
      error: `This takes ${maxLength.toLocaleString('en')} characters at most.`,
    })
    .refine((value) => lengthOf(value) >= minLength, { error: `This takes ${minLength} characters at least.` });
}

export const lengthSchema = ({ minLength, maxLength }: LengthSettings, most: number) => ({
  type: 'string',
  ...(minLength ? { minLength } : {}),
  maxLength: maxLength ?? most,
});
