import { z } from 'zod';
import { defineFormat, pick } from './format';

/** Links as their words (or nothing where they have none), their host (without `www.`), or the whole address. */
export const link = defineFormat({
  name: 'link',
  label: 'Link',
  writes: 'address',
  options: z.object({ part: z.enum(['label', 'words', 'host', 'address']).default('label') }),
  controls: [
    {
      name: 'part',
      label: 'Written as',
      as: 'pick',
      options: pick(
        'label',
        'Its words, or its address',
        'words',
        'Its words alone',
        'host',
        'Its host',
        'address',
        'The whole address',
      ),
    },
  ],
  write: (value, { part }) => {
    const { url, label } =
      typeof value === 'string' ? { url: value, label: undefined } : (value as { url: string; label?: string });
    if (part === 'words') return label ?? '';
    if (part === 'label' && label) return label;
    const bare = url.replace(/^(https?:\/\/|mailto:|tel:)/i, '');
    if (part === 'address') return url;
    const host = /^[a-z][a-z0-9+.-]*:\/\//i.test(url)
      ? (bare.split(/[/?#]/)[0] as string)
      : (bare.split('@')[1] ?? bare);
    return part === 'host' ? host.replace(/^www\./i, '') : bare.replace(/\/$/, '');
  },
});
