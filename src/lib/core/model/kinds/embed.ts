import sign from 'lucide/dist/esm/icons/square-play.mjs';
import { z } from 'zod';
import { embed as family } from '../families/embed';
import { escapeHtml } from '../../base/text';
import { defineKind } from './kind';

/** What is kept of an embed: where the player is, and words and shape for its frame. */
interface Embed {
  src: string;
  title?: string;
  /** Pixels, for the shape of the frame. */
  width?: number;
  height?: number;
}

const HOST = /^(?=.{1,253}$)[a-z0-9-]+(\.[a-z0-9-]+)+$/i;
/** The player that ships with the application; the frame's own `sandbox` keeps it apart. */
const OWN = /^\/player\/[a-z0-9-]{1,80}$/;

/** Whether a frame may show this address: the application's own player, or https on one of the hosts. */
export function mayEmbed(src: string, hosts: readonly string[]): boolean {
  if (OWN.test(src)) return true;
  try {
    const url = new URL(src);
    return url.protocol === 'https:' && !url.username && !url.port && hosts.includes(url.hostname);
  } catch {
    return false;
  }
}

const attribute = (tag: string, name: string): string | undefined =>
  new RegExp(`\\s${name}\\s*=\\s*(?:"([^"]*)"|'([^']*)'|([^\\s"'>]+))`, 'i')
    .exec(tag)
    ?.slice(1)
    .find((part) => part !== undefined)
    ?.replace(/&amp;/g, '&');

const MOST_PASTED = 20_000;

/** Reduces what was pasted, an address or the code of a frame, to what is kept of it. */
export function embedFrom(pasted: string): Embed {
  // Longer than any code of a player: it is kept as it came, and refused as an address that is too long.
  const begin = pasted.length > MOST_PASTED ? -1 : pasted.search(/<iframe\b/i);
  const end = begin < 0 ? -1 : pasted.indexOf('>', begin);
  if (end < 0) return { src: pasted.trim() };
  const tag = pasted.slice(begin, end + 1);
  const size = (name: string) => {
    const n = Number(attribute(tag, name));
    return Number.isInteger(n) && n > 0 && n <= 10_000 ? n : undefined;
  };
  const title = attribute(tag, 'title')?.slice(0, 200);
  const [width, height] = [size('width'), size('height')];
  return {
    src: (attribute(tag, 'src') ?? '').trim().replace(/^\/\//, 'https://'),
    ...(title ? { title } : {}),
    ...(width && height ? { width, height } : {}),
  };
}

/** The nearest of four shapes; pages take no style from values. */
function frameShape(width: number, height: number): string {
  const ratio = width / height;
  return ratio > 1.55 ? 'wide' : ratio > 1.15 ? 'classic' : ratio > 0.8 ? 'square' : 'tall';
}

const Pixels = z.number().int().min(1).max(10_000).optional();

export const embed = defineKind({
  name: 'embed',
  label: 'Embed',
  sign,
  family,
  outside: 'player',
  forFields: true,
  control: 'embed',
  settings: z.object({
    hosts: z
      .array(z.string().regex(HOST, { error: 'A host is written like films.larkfell.example.' }))
      .max(50)
      .default([]),
  }),
  settingControls: [
    {
      name: 'hosts',
      label: 'Players may come from',
      as: 'lines',
      help: 'One host on each line. The site’s own player is always allowed.',
    },
  ],
  value: ({ hosts }) =>
    z.strictObject(
      {
        src: z
          .string()
          .max(2000, { error: 'The address of a player has 2,000 characters at most.', abort: true })
          .refine((src) => src === '' || mayEmbed(src, hosts), {
            error: `No player may come from there. Allowed are /player/…${hosts.map((host) => `, https://${host}/…`).join('')}.`,
          }),
        title: z.string().max(200).optional(),
        width: Pixels,
        height: Pixels,
      },
      { error: 'This is an embed: the address of a player, or its code.' },
    ),
  isEmpty: (value) => value.src === '',
  text: (value) => value.title ?? value.src,
  url: (value) => value.src,
  blocks: ({ src, title, width = 16, height = 9 }, { hosts }) =>
    mayEmbed(src, hosts)
      ? `<iframe class="player player-${frameShape(width, height)}" src="${escapeHtml(src)}" title="${escapeHtml(title ?? 'Player')}" sandbox="allow-scripts" allow="fullscreen" loading="lazy" referrerpolicy="no-referrer"></iframe>`
      : '',
  schema: ({ hosts }) => ({
    type: 'object',
    properties: {
      src: {
        type: 'string',
        maxLength: 2000,
        pattern: `^($|/player/[a-z0-9-]{1,80}$${hosts.map((host) => `|https://${host.replace(/\./g, '\\.')}($|[/?#])`).join('')})`,
      },
      title: { type: 'string', maxLength: 200 },
      width: { type: 'integer', minimum: 1, maximum: 10_000 },
      height: { type: 'integer', minimum: 1, maximum: 10_000 },
    },
    required: ['src'],
    additionalProperties: false,
  }),
  // The address alone, or all that is kept of it as JSON.
  fromCell: (cell) => {
    if (!cell.trim().startsWith('{')) return embedFrom(cell);
    try {
      return JSON.parse(cell) as unknown;
    } catch {
      return cell;
    }
  },
  toCell: (value) => (Object.keys(value).length > 1 ? JSON.stringify(value) : value.src),
  invent: (make) => ({
    src: `/player/${
      make
        .words(1)
        .toLowerCase()
        .replace(/[^a-z0-9]/g, '') || 'film'
    }`,
    title: make.words(3),
  }),
});
