import sign from 'lucide/dist/esm/icons/pilcrow.mjs';
import { z } from 'zod';
import { rich as family } from '../families/rich';
import { htmlText } from '../../base/text';
import { defineKind } from './kind';
import { lengthControls, Lengths, textOf } from './limits';

const MOST = 500_000;
const MEDIA = /<(?:img|iframe)\b/i;
/** The code of a player, as text that was pasted. */
const PLAYER = /&lt;iframe\b/i;
/** Pictures of the library inside rich text. */
const PICTURE = /\ssrc="\/media\/(\d+)\//g;

/**
 * A fragment of HTML. What comes in is reduced to an allow-list on the server before it is kept; from then on its type
 * says that it is safe. Lengths count the text, without markup.
 */
export const richText = defineKind({
  name: 'richtext',
  label: 'Rich text',
  sign,
  family,
  outside: 'markup',
  forFields: true,
  control: 'rich',
  settings: z.object(Lengths),
  settingControls: lengthControls,
  value: (settings) =>
    z
      .string({ error: 'This is text with markup.' })
      .max(MOST, {
        error: `This takes ${MOST.toLocaleString('en')} characters with its markup at most.`,
        abort: true,
      })
      .refine((value) => !PLAYER.test(value), {
        error:
          'This has the code of a player (iframe). Players stand in a field of the kind Embed, which says where they may come from; take the code away here.',
      })
      .superRefine((value, context) => {
        const parsed = textOf(settings, MOST).safeParse(htmlText(value));
        for (const issue of parsed.error?.issues ?? []) context.addIssue({ code: 'custom', message: issue.message });
      }),
  isEmpty: (value) => !MEDIA.test(value) && htmlText(value).trim() === '',
  text: (value) => htmlText(value),
  blocks: (value) => value,
  words: (value) => htmlText(value),
  schema: () => ({ type: 'string', contentMediaType: 'text/html', maxLength: MOST }),
  refs: (value) => ({ records: [], media: [...value.matchAll(PICTURE)].map((match) => Number(match[1])) }),
  without: (value, _settings, { media }) =>
    value.replace(/<img\b[^>]*>/gi, (tag) => (media.some((id) => tag.includes(`src="/media/${id}/`)) ? '' : tag)) ||
    undefined,
  invent: (make, { maxLength = 100_000 }) => {
    const parts = [make.sentence(), `${make.sentence()} ${make.sentence()}`];
    return parts.join(' ').length > maxLength
      ? `<p>${make.words(3).slice(0, maxLength)}</p>`
      : parts.map((part) => `<p>${part}</p>`).join('');
  },
});
