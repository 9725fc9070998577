import { z } from 'zod';
import { defineFormat, pick } from './format';
import { cutText } from '../base/write';

export const cut = defineFormat({
  name: 'cut',
  label: 'Cut short',
  writes: 'text',
  ofProse: true,
  options: z.object({
    count: z.number().int().min(1).max(10_000).default(50),
    by: z.enum(['words', 'characters']).default('words'),
    whole: z.boolean().default(true),
  }),
  controls: [
    { name: 'count', label: 'After', as: 'number' },
    { name: 'by', label: 'Counted in', as: 'pick', options: pick('words', 'words', 'characters', 'characters') },
    { name: 'whole', label: 'Words stay whole', as: 'switch', when: { name: 'by', is: 'characters' } },
  ],
  write: (value, { count, by, whole }, { site }) => cutText(String(value), count, by, site.locale, whole),
});
