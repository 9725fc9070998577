import { z } from 'zod';
import { PathSchema } from '../schema/path';
import { defineFormat, pick } from './format';
import { localTime, writeClock } from '../base/write';

export const time = defineFormat({
  name: 'time',
  label: 'Time of day',
  writes: 'clock',
  options: z.object({
    clock: z.enum(['locale', '24', '12']).default('locale'),
    until: PathSchema.optional(),
  }),
  controls: [
    {
      name: 'clock',
      label: 'Clock',
      as: 'pick',
      options: pick('locale', 'As the language has it', '24', '24 hours', '12', '12 hours'),
    },
    { name: 'until', label: 'Until', as: 'path', writes: 'clock' },
  ],
  path: ({ until }) => until,
  write: (value, { clock }, { site, other }) => {
    const at = (v: unknown) => (String(v).length > 8 ? localTime(new Date(String(v)), site.timeZone) : String(v));
    const written = writeClock(at(value), site.locale, clock);
    return other === undefined ? written : `${written}–${writeClock(at(other), site.locale, clock)}`;
  },
});
