import { z } from 'zod';
import { PathSchema } from '../schema/path';
import { defineFormat, pick } from './format';
import {
  localDay,
  localTime,
  writeDate,
  writeDatePattern,
  writeDateRange,
  writeInstant,
  writeRelative,
} from '../base/write';

const STYLES = ['full', 'long', 'medium', 'short'] as const;
const NAMED = ['full', 'Full', 'long', 'Long', 'medium', 'Medium', 'short', 'Short'];

const isPattern = (pattern: string): boolean => writeDatePattern('2026-01-02', 'en', pattern, '10:20:30') !== undefined;

/** Dates, and the dates and times of instants: in the locale's styles, by a pattern, relative to today, or as a range. */
export const date = defineFormat({
  name: 'date',
  label: 'Date',
  writes: 'day',
  options: z.object({
    style: z.enum([...STYLES, 'pattern', 'relative', 'range']).default('long'),
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
        'pattern',
        'Own pattern',
        'relative',
        'Relative to today',
        'range',
        'From this to another',
      ),
    },
    { name: 'pattern', label: 'Pattern', as: 'words', when: { name: 'style', is: 'pattern' } },
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
    if (style === 'relative') return writeRelative(day, today, site.locale);
    if (style === 'range')
      return other === undefined
        ? writeDate(day, site.locale, 'long')
        : writeDateRange(day, dayOf(String(other)), site.locale);
    return time && instant ? writeInstant(text, site.locale, site.timeZone, style) : writeDate(day, site.locale, style);
  },
});
