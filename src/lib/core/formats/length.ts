import { z } from 'zod';
import { countWords, minutesToRead, writeNumber } from '../base/write';
import { defineFormat, pick } from './format';

/**
 * How long a text is: its words, or the minutes it takes to read, rounded up, at the site's pace if no other is said.
 */
export const length = defineFormat({
  name: 'length',
  label: 'Length of the text',
  writes: 'text',
  ofProse: true,
  options: z.object({
    as: z.enum(['minutes', 'words']).default('minutes'),
    pace: z.number().int().min(20).max(2000).optional(),
    unit: z.boolean().default(true),
  }),
  controls: [
    {
      name: 'as',
      label: 'Told in',
      as: 'pick',
      options: pick('minutes', 'Minutes to read', 'words', 'Words'),
    },
    { name: 'pace', label: 'Other words a minute', as: 'number', when: { name: 'as', is: 'minutes' } },
    { name: 'unit', label: 'With “min”', as: 'switch', when: { name: 'as', is: 'minutes' } },
  ],
  write: (value, { as, pace, unit }, { site }) => {
    const words = countWords(String(value), site.locale);
    if (as === 'words') return writeNumber(words, site.locale);
    const minutes = Math.max(1, minutesToRead(words, pace ?? site.readingPace));
    return writeNumber(
      minutes,
      site.locale,
      unit ? { style: 'unit', unit: 'minute', unitDisplay: 'short' } : undefined,
    );
  },
});
