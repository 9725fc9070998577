import { z } from 'zod';
import { defineFormat, pick } from './format';

export const email = defineFormat({
  name: 'email',
  label: 'Email address',
  writes: 'address',
  options: z.object({ as: z.enum(['address', 'spelled', 'name']).default('address') }),
  controls: [
    {
      name: 'as',
      label: 'Written as',
      as: 'pick',
      options: pick(
        'address',
        'The address',
        'spelled',
        'Spelled out, as name (at) host',
        'name',
        'What stands before the @',
      ),
    },
  ],
  write: (value, { as }) => {
    const text = (typeof value === 'string' ? value : (value as { url: string }).url).replace(/^mailto:/i, '');
    if (as === 'name') return text.split('@')[0] as string;
    return as === 'spelled' ? text.replace('@', ' (at) ') : text;
  },
});
