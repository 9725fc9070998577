import sign from 'lucide/dist/esm/icons/search.mjs';
import { z } from 'zod';
import { SEARCH } from '../base/reserved';
import { escapeHtml } from '../base/text';
import { box, INLINE, PADDING, STATES, SURFACE } from '../styles/boxes';
import { defineElement } from './element';

export const search = defineElement({
  name: 'search',
  label: 'Search box',
  about: 'Where visitors search the whole site; leads to the search’s archive.',
  sign,
  group: 'Repeats and pieces',
  holds: false,
  fills: true,
  props: z.object({
    label: z.string().max(80).default('Search this site'),
    button: z.string().max(40).default('Search'),
    /** Whether the label is seen, and not only heard. */
    shown: z.boolean().default(false),
  }),
  controls: [
    { name: 'label', label: 'Label', as: 'words' },
    { name: 'button', label: 'Words on the button', as: 'words' },
    { name: 'shown', label: 'Label can be seen', as: 'switch' },
  ],
  slots: {},
  boxes: [
    box('field', 'Field', '& input', [...SURFACE, ...PADDING, 'size', 'colour']),
    box('button', 'Button', '& button', [...SURFACE, ...PADDING, ...INLINE, 'change'], { states: STATES }),
    box('label', 'Label', '& label > span', INLINE),
  ],
  draw: ({ props, attributes }) => {
    const label = escapeHtml(props.label || 'Search');
    const open = `<search${attributes('search')}><form method="get" action="/${SEARCH}/"><label><span${props.shown ? '' : ' class="heard"'}>${label}</span><input type="search" name="q"`;
    const close = `></label><button type="submit">${escapeHtml(props.button || 'Search')}</button></form></search>`;
    return (env) => {
      if (env.still) return '';
      const words = env.archive?.of === 'search' ? env.archive.words : '';
      return `${open}${words ? ` value="${escapeHtml(words)}"` : ''}${close}`;
    };
  },
});
