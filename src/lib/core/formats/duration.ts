import { z } from 'zod';
import { nominalSeconds, parseDuration } from '../base/duration';
import { writeNumber } from '../base/write';
import { writeDuration } from '../base/write-duration';
import { defineFormat, pick } from './format';

/** Durations by the patterns of the CLDR, or as a number of hours, minutes or days. */
export const duration = defineFormat({
  name: 'duration',
  label: 'Duration',
  writes: 'duration',
  options: z.object({
    style: z.enum(['long', 'short', 'narrow', 'digital', 'hours', 'minutes', 'days']).default('long'),
  }),
  controls: [
    {
      name: 'style',
      label: 'Written',
      as: 'pick',
      options: pick(
        ...['long', '2 hours, 30 minutes', 'short', '2 hr, 30 min', 'narrow', '2h 30m', 'digital', '2:30:00'],
        ...['hours', 'In hours', 'minutes', 'In minutes', 'days', 'In days'],
      ),
    },
  ],
  write: (value, { style }, { site }) => {
    if (style !== 'hours' && style !== 'minutes' && style !== 'days')
      return writeDuration(String(value), site.locale, style);
    const parts = parseDuration(String(value));
    if (!parts) return '';
    const seconds = { hours: 3600, minutes: 60, days: 86_400 }[style];
    return writeNumber(nominalSeconds(parts) / seconds, site.locale, { maximumFractionDigits: 1 });
  },
});
