import { z } from 'zod';
import { defineFormat, pick } from './format';

/** Text without markup: a value reaches formats of text as people read it, so nothing more is to be taken off. */
export const plain = defineFormat({
  name: 'plain',
  label: 'Without markup',
  writes: 'text',
  ofProse: true,
  options: z.object({ part: z.enum(['all', 'first', 'line']).default('all') }),
  controls: [
    {
      name: 'part',
      label: 'How much',
      as: 'pick',
      options: pick('all', 'All of it', 'first', 'The first paragraph', 'line', 'The first line'),
    },
  ],
  write: (value, { part }) => {
    const text = String(value).replace(/\r\n?/g, '\n').trim();
    if (part === 'all') return text;
    return (text.split(part === 'first' ? /\n[ \t]*\n/ : '\n')[0] as string).trim();
  },
});
