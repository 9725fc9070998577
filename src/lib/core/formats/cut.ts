import { z } from 'zod';
import { defineFormat, pick } from './format';
import { cutText } from '../base/write';

export const cut = defineFormat({
  name: 'cut',
  label: 'Cut short',
  writes: 'text',
  options: z.object({
    count: z.number().int().min(1).max(10_000).default(50),
    by: z.enum(['words', 'characters']).default('words'),
  }),
  controls: [
    { name: 'count', label: 'After', as: 'number' },
    { name: 'by', label: 'Counted in', as: 'pick', options: pick('words', 'words', 'characters', 'characters') },
  ],
  write: (value, { count, by }, { site }) => cutText(String(value), count, by, site.locale),
});
