import sign from 'lucide/dist/esm/icons/pilcrow.mjs';
import { z } from 'zod';
import { rich as family } from '../families/rich';
import { htmlText } from '../../base/text';
import { defineKind } from './kind';
import { Language, languageControl } from './language';
import { lengthControls, Lengths, textOf } from './limits';
import { comesFrom, embedFrom, framed, Hosts, hostsControl } from './player';

const MOST = 500_000;
const MEDIA = /<(?:img|iframe)\b/i;
/** The code of a player as text: what was pasted so, and what cleaning leaves of a player from elsewhere. */
const PLAYER_TEXT = /&lt;iframe\b/i;
/** One as cleaning writes it. */
const PLAYER = /<iframe\b[^>]*><\/iframe>/gi;
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
  settings: z.object({ ...Lengths, hosts: Hosts, language: Language }),
  settingControls: [...lengthControls, languageControl, hostsControl],
  value: (settings) =>
    z
      .string({ error: 'This is text with markup.' })
      .max(MOST, {
        error: `This takes ${MOST.toLocaleString('en')} characters with its markup at most.`,
        abort: true,
      })
      .refine((value) => !PLAYER_TEXT.test(value), {
        error: `This has the code of a player (iframe) that cannot be kept: as text, or from elsewhere than ${comesFrom(settings.hosts)}. Put it in as a player from there, or let its host be allowed in the settings of the field.`,
      })
      .superRefine((value, context) => {
        const parsed = textOf(settings, MOST).safeParse(htmlText(value));
        for (const issue of parsed.error?.issues ?? []) context.addIssue({ code: 'custom', message: issue.message });
      }),
  isEmpty: (value) => !MEDIA.test(value) && htmlText(value).trim() === '',
  text: (value) => htmlText(value),
  blocks: (value, { hosts }) =>
    value.includes('<iframe') ? value.replace(PLAYER, (tag) => framed(embedFrom(tag), hosts)) : value,
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
