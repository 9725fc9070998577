import { z } from 'zod';
import { defineFormat } from './format';

/** An empty word leaves that answer out. */
export const yesNo = defineFormat({
  name: 'yesno',
  label: 'Words for yes and no',
  writes: 'yesno',
  options: z.object({ yes: z.string().max(200).default('Yes'), no: z.string().max(200).default('') }),
  controls: [
    { name: 'yes', label: 'Yes', as: 'words' },
    { name: 'no', label: 'No', as: 'words' },
  ],
  write: (value, { yes, no }) => (value ? yes : no),
});
