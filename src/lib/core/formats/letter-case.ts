import { z } from 'zod';
import { defineFormat } from './format';

export const letterCase = defineFormat({
  name: 'case',
  label: 'Letter case',
  writes: 'text',
  options: z.object({ to: z.enum(['upper', 'lower', 'first']).default('upper') }),
  controls: [
    {
      name: 'to',
      label: 'Letters',
      as: 'pick',
      options: [
        { value: 'upper', label: 'ALL CAPITALS' },
        { value: 'lower', label: 'all small' },
        { value: 'first', label: 'First capital' },
      ],
    },
  ],
  write: (value, { to }, { site }) => {
    const text = String(value);
    if (to === 'upper') return text.toLocaleUpperCase(site.locale);
    if (to === 'lower') return text.toLocaleLowerCase(site.locale);
    const [first = ''] = text;
    return first.toLocaleUpperCase(site.locale) + text.slice(first.length);
  },
});
