import sign from 'lucide/dist/esm/icons/tags.mjs';
import { z } from 'zod';
import { addressOfArchive } from '../addresses/archives';
import { escapeHtml } from '../base/text';
import { AFTER, BEFORE, box, INLINE, PADDING, pointed, SURFACE } from '../styles/boxes';
import { defineElement, pick } from './element';

export const terms = defineElement({
  name: 'terms',
  label: 'Terms',
  about: 'What a record is filed under, as labels or as a line, with the terms above if you like.',
  sign,
  group: 'Values',
  holds: false,
  props: z.object({
    look: z.enum(['labels', 'line']).default('labels'),
    above: z.boolean().default(false),
    links: z.boolean().default(true),
  }),
  controls: [
    { name: 'look', label: 'Look', as: 'pick', options: pick('labels', 'Labels', 'line', 'A line') },
    { name: 'above', label: 'With the terms above', as: 'switch' },
    { name: 'links', label: 'Each leads to its archive', as: 'switch' },
  ],
  slots: {
    terms: { label: 'Terms', shape: 'terms', required: true },
    label: { label: 'Words before', shape: 'inline' },
  },
  brings: { roles: ['terms'], slot: 'terms' },
  boxes: [
    box('label', 'Words before them', '& > span', INLINE),
    box('term', 'Each term', '& li', [...SURFACE, ...PADDING, ...INLINE]),
    pointed('link', 'Links', '& a'),
    BEFORE,
    AFTER,
  ],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [source, label] = [slot('terms'), slot('label')];
    const open = `<div${attributes('terms', `terms-${props.look}`)}>`;
    const none = studio && !source.bound ? blank('Terms not chosen yet') : '';
    return (env) => {
      const value = source.found(env)?.value;
      const ids = (Array.isArray(value) ? value : value === undefined ? [] : [value]) as string[];
      const names = ids.flatMap((id) => {
        const line = (props.above ? [...env.model.above(id)].reverse() : [id]).map((one) => env.model.term(one)?.name);
        const words = line.filter(Boolean).join(' › ');
        const url = props.links ? addressOfArchive({ of: 'term', termId: id }, env.model) : '';
        const shown = escapeHtml(words);
        return words ? [`<li>${url ? `<a href="${escapeHtml(url)}">${shown}</a>` : shown}</li>`] : [];
      });
      if (!names.length) return none;
      const words = label.inline(env);
      return `${open}${words && `<span>${words}</span>`}<ul>${names.join('')}</ul></div>`;
    };
  },
});
