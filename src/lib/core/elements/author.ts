import sign from 'lucide/dist/esm/icons/user-round.mjs';
import { z } from 'zod';
import { altOf, drawImage, imagePlace } from './common';
import { atMost, PAGE_ROOM } from '../styles/available-width';
import { AFTER, BEFORE, box, face, INLINE, pointed, SURFACE, WITH_LINKS } from '../styles/boxes';
import { defineElement } from './element';

const SMALL = imagePlace(atMost(PAGE_ROOM, 4));

export const author = defineElement({
  name: 'author',
  label: 'Author line',
  about: 'Who wrote it, with their picture and the day it was published.',
  sign,
  group: 'Values',
  holds: false,
  props: z.object({ round: z.boolean().default(true) }),
  controls: [{ name: 'round', label: 'Round picture', as: 'switch' }],
  slots: {
    name: { label: 'Name', shape: 'inline', required: true },
    picture: { label: 'Picture', shape: 'picture', drops: true },
    date: { label: 'Date', shape: 'inline' },
    link: { label: 'Leads to', shape: 'url' },
  },
  startsWith: { name: '@author', picture: '@author_picture', date: '@published' },
  startFormats: { date: [{ format: 'date', options: { style: 'long' } }] },
  boxes: [
    face('&', ['colour'], { css: WITH_LINKS }),
    box('picture', 'Picture', '& img', SURFACE),
    box('name', 'Name', '& strong', INLINE, { css: WITH_LINKS }),
    box('day', 'Day', '& p > span', INLINE),
    pointed('link', 'Link', '& a'),
    BEFORE,
    AFTER,
  ],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [name, picture, date, link] = [slot('name'), slot('picture'), slot('date'), slot('link')];
    const open = `<div${attributes('author', props.round ? 'author-round' : '')}>`;
    const none = studio && !name.bound ? blank('Author line without a name') : '';
    return (env) => {
      const words = name.inline(env);
      if (!words) return none;
      const id = picture.picture(env);
      const media = id === undefined ? undefined : env.pool.media(id);
      const image = media ? drawImage(media, env, { alt: altOf(media), ...SMALL, cut: true, most: 320 }) : '';
      const url = link.url(env);
      const day = date.inline(env);
      return `${open}${image}<p><strong>${url ? `<a href="${url}">${words}</a>` : words}</strong>${day && `<span>${day}</span>`}</p></div>`;
    };
  },
});
