import { z } from 'zod';
import { defineFormat } from './format';
import { localDay, writeDate, writeDatePattern } from './write';

export const date = defineFormat({
  name: 'date',
  label: 'Date',
  families: ['date', 'datetime'],
  options: z.object({
    style: z.enum(['full', 'long', 'medium', 'short', 'pattern']).default('long'),
    pattern: z
      .string()
      .max(80)
      .default('d MMMM y')
      .refine((pattern) => writeDatePattern('2026-01-02', 'en', pattern) !== undefined, {
        error: 'A date pattern has y, M, L, d and E; put other letters in single quotes.',
      }),
  }),
  controls: [
    {
      name: 'style',
      label: 'Style',
      as: 'pick',
      options: [
        { value: 'full', label: 'Full' },
        { value: 'long', label: 'Long' },
        { value: 'medium', label: 'Medium' },
        { value: 'short', label: 'Short' },
        { value: 'pattern', label: 'Own pattern' },
      ],
    },
    { name: 'pattern', label: 'Pattern', as: 'words', when: { name: 'style', is: 'pattern' } },
  ],
  write: (value, { style, pattern }, { site }) => {
    const text = String(value);
    const day = text.length > 10 ? localDay(new Date(text), site.timeZone) : text;
    return style === 'pattern'
      ? (writeDatePattern(day, site.locale, pattern) ?? '')
      : writeDate(day, site.locale, style);
  },
});
