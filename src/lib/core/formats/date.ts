import { z } from 'zod';
import { PathSchema } from '../schema/path';
import { defineFormat, pick } from './format';
import {
  localDay,
  localTime,
  writeDate,
  writeDateParts,
  writeDatePattern,
  writeDateRange,
  writeInstant,
  writeRelative,
} from '../base/write';

const STYLES = ['full', 'long', 'medium', 'short'] as const;
const NAMED = ['full', 'Full', 'long', 'Long', 'medium', 'Medium', 'short', 'Short'];

/** Parts of a date by themselves, as `Intl.DateTimeFormat` names what is asked for (ECMA-402, 11.1). */
const PARTS = {
  day: { label: 'Day alone', parts: { day: 'numeric' } },
  weekday: { label: 'Day of the week', parts: { weekday: 'long' } },
  month: { label: 'Month alone', parts: { month: 'long' } },
  'month-short': { label: 'Month, short', parts: { month: 'short' } },
  year: { label: 'Year alone', parts: { year: 'numeric' } },
  'day-month': { label: 'Day and month', parts: { day: 'numeric', month: 'long' } },
  'month-year': { label: 'Month and year', parts: { month: 'long', year: 'numeric' } },
} satisfies Record<string, { label: string; parts: Intl.DateTimeFormatOptions }>;
const PART_NAMES = Object.keys(PARTS) as (keyof typeof PARTS)[];

const isPattern = (pattern: string): boolean => writeDatePattern('2026-01-02', 'en', pattern, '10:20:30') !== undefined;

/** Dates, and the dates and times of instants: in the locale's styles, by a pattern, relative to today, or as a range. */
export const date = defineFormat({
  name: 'date',
  label: 'Date',
  writes: 'day',
  options: z.object({
    style: z.enum([...STYLES, ...PART_NAMES, 'pattern', 'relative', 'range']).default('long'),
    pattern: z.string().max(80).default('d MMMM y').refine(isPattern, {
      error: 'A date pattern has y, M, L, d, E, H, h, m, s and a; put other letters in single quotes.',
    }),
    time: z.boolean().default(false),
    until: PathSchema.optional(),
  }),
  controls: [
    {
      name: 'style',
      label: 'Style',
      as: 'pick',
      options: pick(
        ...NAMED,
        ...Object.entries(PARTS).flatMap(([name, { label }]) => [name, label]),
        ...['relative', 'Relative to today', 'range', 'From this to another', 'pattern', 'By letters of your own'],
      ),
    },
    {
      name: 'pattern',
      label: 'Letters',
      as: 'words',
      hint: 'y year, M month, d day, E day of the week, H or h hour, m minute, a before or after noon: more of a letter writes it longer, as MMM and MMMM. Other letters stand in single quotes.',
      when: { name: 'style', is: 'pattern' },
    },
    { name: 'time', label: 'With the time', as: 'switch', when: { name: 'style', is: [...STYLES] } },
    {
      name: 'until',
      label: 'Until',
      as: 'path',
      writes: 'day',
      when: { name: 'style', is: 'range' },
    },
  ],
  path: ({ style, until }) => (style === 'range' ? until : undefined),
  write: (value, { style, pattern, time }, { site, today, other }) => {
    const text = String(value);
    const instant = text.length > 10;
    const dayOf = (v: string) => (v.length > 10 ? localDay(new Date(v), site.timeZone) : v);
    const day = dayOf(text);
    if (style === 'pattern')
      return (
        writeDatePattern(day, site.locale, pattern, instant ? localTime(new Date(text), site.timeZone) : undefined) ??
        ''
      );
    const part = Object.hasOwn(PARTS, style) ? PARTS[style as keyof typeof PARTS] : undefined;
    if (part) return writeDateParts(day, site.locale, part.parts);
    if (style === 'relative') return writeRelative(day, today, site.locale);
    if (style === 'range')
      return other === undefined
        ? writeDate(day, site.locale, 'long')
        : writeDateRange(day, dayOf(String(other)), site.locale);
    const named = style as (typeof STYLES)[number];
    return time && instant ? writeInstant(text, site.locale, site.timeZone, named) : writeDate(day, site.locale, named);
  },
});
