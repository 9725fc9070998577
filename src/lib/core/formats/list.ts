import { z } from 'zod';
import { defineFormat, pick } from './format';
import { writeList } from '../base/write';

export const list = defineFormat({
  name: 'list',
  label: 'List',
  ofLists: true,
  options: z.object({
    join: z.enum(['and', 'or', 'own']).default('and'),
    separator: z.string().max(40).default(' · '),
    most: z.number().int().min(0).max(1000).default(0),
  }),
  controls: [
    {
      name: 'join',
      label: 'Joined',
      as: 'pick',
      options: pick('and', 'a, b and c', 'or', 'a, b or c', 'own', 'By a separator'),
    },
    { name: 'separator', label: 'Separator', as: 'words', when: { name: 'join', is: 'own' } },
    { name: 'most', label: 'At most (0: all)', as: 'number' },
  ],
  write: (value, { join, separator, most }, { site }) => {
    const all = value as string[];
    const shown = most && all.length > most ? [...all.slice(0, most), `+${all.length - most}`] : all;
    if (join === 'own') return shown.join(separator);
    return writeList(shown, site.locale, join === 'or' ? 'disjunction' : 'conjunction');
  },
});
