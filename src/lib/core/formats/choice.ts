import { optionsIn } from '../model/settings';
import { z } from 'zod';
import { defineFormat, pick } from './format';

/** What an option is called, what it is kept as, or its place among the options, from 1. */
export const choice = defineFormat({
  name: 'choice',
  label: 'Choice',
  writes: 'choice',
  options: z.object({ as: z.enum(['label', 'key', 'place']).default('label') }),
  controls: [
    {
      name: 'as',
      label: 'Written as',
      as: 'pick',
      options: pick('label', 'Its label', 'key', 'Its key', 'place', 'Its place among the options'),
    },
  ],
  write: (value, { as }, { settings }) => {
    const options = optionsIn(settings);
    const at = options.findIndex((option) => option.key === value);
    if (as === 'key') return String(value);
    return as === 'place' ? String(at + 1) : (options[at]?.label ?? '');
  },
});
