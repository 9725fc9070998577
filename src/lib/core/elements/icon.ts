import sign from 'lucide/dist/esm/icons/shapes.mjs';
import { z } from 'zod';
import { drawIcon } from '../base/icons';
import { withoutLinks } from './common';
import { AFTER, BEFORE, box, face, INLINE, WITH_LINKS } from '../styles/boxes';
import { defineElement } from './element';

export const icon = defineElement({
  name: 'icon',
  label: 'Icon',
  about: 'A sign of the shipped set, with words beside it if you like; it may lead somewhere.',
  sign,
  group: 'Pictures',
  holds: false,
  props: z.object({ size: z.enum(['s', 'm', 'l', 'xl']).default('m') }),
  controls: [],
  slots: {
    icon: { label: 'Icon', shape: 'icon', required: true },
    label: { label: 'Words', shape: 'inline' },
    link: { label: 'Leads to', shape: 'url' },
  },
  brings: { roles: ['icon'], slot: 'icon' },
  boxes: [
    face('& .icon', ['size']),
    face('&', ['colour'], { css: WITH_LINKS }),
    box('words', 'Words', '& > span, & > a > span', INLINE, { css: WITH_LINKS }),
    BEFORE,
    AFTER,
  ],
  brought: { size: { s: { size: '1em' }, m: { size: '1.5rem' }, l: { size: '2.5rem' }, xl: { size: '4rem' } } },
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [sign, label, link] = [slot('icon'), slot('label'), slot('link')];
    const open = `<p${attributes('icon-line', `icon-${props.size}`)}>`;
    const none = studio && !sign.bound ? blank('Icon not chosen yet') : '';
    return (env) => {
      const name = sign.found(env)?.value as string | undefined;
      if (!name) return none;
      const words = label.inline(env);
      const url = words ? link.url(env) : '';
      const inner = `${drawIcon(name)}${words && `<span>${url ? withoutLinks(words) : words}</span>`}`;
      return `${open}${url ? `<a href="${url}">${inner}</a>` : inner}</p>`;
    };
  },
});
