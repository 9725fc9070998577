import sign from 'lucide/dist/esm/icons/text-quote.mjs';
import { z } from 'zod';
import { linkWords } from './common';
import { box, face, pointed, WITH_LINKS, WORDS } from '../styles/boxes';
import { defineElement, pick } from './element';

/** Words of somebody, with who said them and where (WHATWG HTML, 4.4.4: the attribution stands outside the blockquote). */
export const quote = defineElement({
  name: 'quote',
  label: 'Quote',
  about: 'Somebody’s words, set apart, with who said them and a link to where.',
  sign,
  group: 'Words',
  holds: false,
  props: z.object({
    size: z.enum(['m', 'l']).default('m'),
    mark: z.boolean().default(true),
  }),
  controls: [
    { name: 'size', label: 'Words are set', as: 'pick', options: pick('m', 'As the text', 'l', 'Large') },
    { name: 'mark', label: 'With a line beside it', as: 'switch' },
  ],
  slots: {
    words: { label: 'Words', shape: 'blocks', required: true },
    source: { label: 'Who said so', shape: 'inline' },
    link: { label: 'Where that stands', shape: 'url' },
  },
  starts: { words: { fixed: 'Somebody’s words.' } },
  boxes: [
    face('& blockquote', [...WORDS, 'text', 'wrap', 'hyphens']),
    box('source', 'Who said so', '& figcaption', [...WORDS, 'text', 'above'], { css: WITH_LINKS }),
    pointed('link', 'Link to where', '& figcaption a'),
  ],
  draw: ({ props, slot, attributes, studio, blank }) => {
    const [words, source, link] = [slot('words'), slot('source'), slot('link')];
    const own = attributes('quote', props.size === 'l' ? 'quote-large' : '', props.mark ? 'quote-marked' : '');
    const none = studio && !words.bound ? blank('Quote without words') : '';
    return (env) => {
      const inner = words.blocks(env);
      if (!inner) return none;
      const url = link.url(env);
      const said = source.inline(env);
      const cite = url ? ` cite="${url}"` : '';
      const by = said && `<figcaption>${url ? `<a href="${url}">${linkWords(url, said)}</a>` : said}</figcaption>`;
      return `<figure${own}><blockquote${cite}>${inner}</blockquote>${by}</figure>`;
    };
  },
});
