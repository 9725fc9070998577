import sign from 'lucide/dist/esm/icons/list.mjs';
import { z } from 'zod';
import { escapeHtml } from '../base/text';
import { box, face, PADDING, pointed, SURFACE, WITH_LINKS } from '../styles/boxes';
import { defineElement, pick } from './element';

export const list = defineElement({
  name: 'list',
  label: 'List',
  about: 'Each of several values on a line of its own, such as choices, terms or the titles of related records.',
  sign,
  group: 'Values',
  holds: false,
  props: z.object({
    marks: z.enum(['bullets', 'numbers', 'none', 'inline']).default('bullets'),
    links: z.boolean().default(true),
    most: z.number().int().min(0).max(1000).default(0),
  }),
  controls: [
    {
      name: 'marks',
      label: 'Marked by',
      as: 'pick',
      options: pick('bullets', 'Bullets', 'numbers', 'Numbers', 'none', 'Nothing', 'inline', 'Nothing, in a row'),
    },
    { name: 'links', label: 'Records and links lead to their page', as: 'switch' },
    { name: 'most', label: 'At most (0: all)', as: 'number', min: 0, max: 1000 },
  ],
  slots: { items: { label: 'Values', shape: 'list', required: true } },
  brings: { roles: ['list'], slot: 'items' },
  boxes: [
    face('&', ['textColumns', 'colour'], { css: WITH_LINKS }),
    box('marker', 'Marks before its lines', '& > li::marker', ['colour', 'size', 'weight']),
    box('item', 'Its lines', '& > li', [...SURFACE, ...PADDING, 'above', 'colour', 'weight', 'size'], {
      css: WITH_LINKS,
    }),
    pointed('link', 'Links in it', '& a'),
  ],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const items = slot('items');
    const tag = props.marks === 'numbers' ? 'ol' : 'ul';
    const open = `<${tag}${attributes('list', `marks-${props.marks}`)}>`;
    const none = studio && !items.bound ? blank('List without values') : '';
    return (env) => {
      const found = items.found(env);
      if (!found) return none;
      const all = (Array.isArray(found.value) ? found.value : [found.value]) as unknown[];
      let out = '';
      for (const one of props.most ? all.slice(0, props.most) : all) {
        const words = escapeHtml(found.write(one, env));
        const url = props.links && found.type.kind.url ? escapeHtml(found.type.kind.url(one, env.reader)) : '';
        if (words) out += `<li>${url ? `<a href="${url}">${words}</a>` : words}</li>`;
      }
      return out && `${open}${out}</${tag}>`;
    };
  },
});
