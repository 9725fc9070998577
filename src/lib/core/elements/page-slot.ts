import sign from 'lucide/dist/esm/icons/app-window.mjs';
import { z } from 'zod';
import { defineElement } from './element';

export const pageSlot = defineElement({
  name: 'slot',
  label: 'The page',
  about: 'In the frame: where the page itself stands.',
  sign,
  group: 'Repeats and pieces',
  holds: false,
  only: ['frame'],
  props: z.object({}),
  controls: [],
  slots: {},
  draw: ({ attributes, studio, blank }) => {
    const open = `<main id="main"${attributes()}>`;
    const here = studio ? blank('The page stands here') : '';
    return (env) => (studio ? here : `${open}${env.content ?? ''}</main>`);
  },
});
