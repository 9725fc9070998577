import sign from 'lucide/dist/esm/icons/pilcrow.mjs';
import { z } from 'zod';
import { AFTER, BEFORE, face, pointed } from '../styles/boxes';
import { defineElement, pick } from './element';

export const text = defineElement({
  name: 'text',
  label: 'Text',
  about: 'A line or paragraphs of text, with words before and after a bound value.',
  sign,
  group: 'Words',
  holds: false,
  props: z.object({
    size: z.enum(['s', 'm', 'l']).default('m'),
    tone: z.enum(['plain', 'quiet', 'strong', 'badge']).default('plain'),
  }),
  controls: [
    {
      name: 'tone',
      label: 'Tone',
      as: 'pick',
      options: pick('plain', 'Plain', 'quiet', 'Quiet', 'strong', 'Strong', 'badge', 'Badge'),
    },
  ],
  slots: { text: { label: 'Text', shape: 'blocks', required: true } },
  starts: { text: { fixed: 'Some words.' } },
  brings: {
    roles: ['words', 'story'],
    slot: 'text',
  },
  boxes: [face('&', ['dropCap', 'lines', 'textColumns']), BEFORE, AFTER, pointed('link', 'Links in it', '& a')],
  brought: { size: { m: {}, s: { size: 's' }, l: { size: 'l' } } },
  draw: ({ props, slot, attributes, studio, blank }) => {
    const slotText = slot('text');
    const own = attributes(
      'text',
      props.size === 'm' ? '' : `text-${props.size}`,
      props.tone === 'plain' ? '' : `tone-${props.tone}`,
    );
    const none = studio && !slotText.bound ? blank('Text without words') : '';
    return (env) => slotText.blocks(env, own) || none;
  },
});
