import { z } from 'zod';
import { escapeHtml, htmlText } from '../../base/text';

const HOST = /^(?=.{1,253}$)[a-z0-9-]+(\.[a-z0-9-]+)+$/;
/** The player that ships with the application; the frame's own `sandbox` keeps it apart. */
const OWN = /^\/player\/[a-z0-9-]{1,80}$/;

interface Right {
  /** As HTML writes it. */
  name: string;
  label: string;
}

/** What a frame may be given by its `allow` attribute (W3C Permissions Policy; the names are those of each feature's own specification). */
export const FEATURES: readonly Right[] = [
  { name: 'fullscreen', label: 'fill the screen' },
  { name: 'autoplay', label: 'begin by itself' },
  { name: 'picture-in-picture', label: 'float above other windows' },
  { name: 'encrypted-media', label: 'play protected films' },
  { name: 'screen-wake-lock', label: 'keep the screen on' },
  { name: 'clipboard-write', label: 'copy to the clipboard' },
  { name: 'web-share', label: 'share its address' },
  { name: 'accelerometer', label: 'feel how the device moves' },
  { name: 'gyroscope', label: 'feel how the device turns' },
];

/** What its `sandbox` may give back (WHATWG HTML, 7.1.5). Leading the whole window away is never given. */
export const TOKENS: readonly Right[] = [
  { name: 'allow-scripts', label: 'run scripts' },
  { name: 'allow-same-origin', label: 'keep its own storage' },
  { name: 'allow-popups', label: 'open windows' },
  { name: 'allow-popups-to-escape-sandbox', label: 'open windows without these bounds' },
  { name: 'allow-forms', label: 'send forms' },
  { name: 'allow-modals', label: 'ask in dialogs' },
  { name: 'allow-downloads', label: 'save files' },
  { name: 'allow-presentation', label: 'show on another screen' },
  { name: 'allow-orientation-lock', label: 'hold the screen’s direction' },
  { name: 'allow-pointer-lock', label: 'hold the pointer' },
];

/** What the host learns of the page it is shown on, the least first (W3C Referrer Policy, 3), between sites on https. */
const TELLS: readonly (readonly string[])[] = [
  ['no-referrer', 'same-origin'],
  ['strict-origin', 'origin', 'strict-origin-when-cross-origin', 'origin-when-cross-origin'],
  ['no-referrer-when-downgrade', 'unsafe-url'],
];
export const REFERRERS: readonly Right[] = [
  { name: 'no-referrer', label: 'nothing' },
  { name: 'strict-origin', label: 'the site’s address' },
  { name: 'no-referrer-when-downgrade', label: 'the page’s address' },
];
const tells = (policy: string): number => TELLS.findIndex((level) => level.includes(policy));

const nameOf = (rights: readonly Right[], what: string) =>
  z.enum(rights.map(({ name }) => name) as [string, ...string[]], {
    error: `${what} is one of ${rights.map(({ name }) => name).join(', ')}.`,
  });
const Allow = z.array(nameOf(FEATURES, 'What a player may do')).max(FEATURES.length);
const Sandbox = z.array(nameOf(TOKENS, 'What a player may do')).max(TOKENS.length);
const Pixels = z.number().int().min(1).max(10_000);

/** A host that players may come from, and the most that its players are given. The name alone stands for a careful choice. */
const Host = z.preprocess(
  (value) => (typeof value === 'string' ? { host: value } : value),
  z
    .strictObject({
      host: z
        .string()
        .max(253)
        .transform((host) => host.toLowerCase())
        .refine((host) => HOST.test(host), { error: 'A host is written like films.larkfell.example.' }),
      allow: Allow.default(['fullscreen']),
      sandbox: Sandbox.default(['allow-scripts']),
      referrer: nameOf(REFERRERS, 'What the host learns').default('no-referrer'),
      /** Pixels: the shape that all of its players have; without, each has its own. */
      width: Pixels.optional(),
      height: Pixels.optional(),
    })
    .refine(({ width, height }) => (width === undefined) === (height === undefined), {
      path: ['height'],
      error: 'The shape of players is told by width and height together, or by neither.',
    }),
);
export type PlayerHost = z.infer<typeof Host>;

export const Hosts = z
  .array(Host)
  .max(50)
  .default([])
  .superRefine((hosts, context) => {
    hosts.forEach(({ host }, i) => {
      if (hosts.findIndex((other) => other.host === host) < i)
        context.addIssue({ code: 'custom', path: [i, 'host'], message: `“${host}” stands here twice.` });
    });
  });

export const hostsControl = {
  name: 'hosts',
  label: 'Players may come from',
  as: 'players',
  help: 'The site’s own player is always allowed.',
} as const;

/** What is kept of a player: where it is, words and shape for its frame, and what its code asked for. */
export interface Player {
  src: string;
  title?: string;
  /** Pixels, for the shape of the frame. */
  width?: number;
  height?: number;
  /** Names of {@link FEATURES}; without, all that its host is given. The same for `sandbox` and `referrer`. */
  allow?: string[];
  sandbox?: string[];
  referrer?: string;
}

const OURS: PlayerHost = { host: '', allow: ['fullscreen'], sandbox: ['allow-scripts'], referrer: 'no-referrer' };

/** The most that a player at this address is given; undefined where no frame may show it. */
function hostOf(src: string, hosts: readonly PlayerHost[]): PlayerHost | undefined {
  if (OWN.test(src)) return OURS;
  try {
    const url = new URL(src);
    return url.protocol === 'https:' && !url.username && !url.port
      ? hosts.find(({ host }) => host === url.hostname)
      : undefined;
  } catch {
    return undefined;
  }
}

/** Whether a frame may show this address: the application's own player, or https on one of the hosts. */
export const mayEmbed = (src: string, hosts: readonly PlayerHost[]): boolean => hostOf(src, hosts) !== undefined;

/** From where players may come, to be told. */
export const comesFrom = (hosts: readonly PlayerHost[]): string =>
  ['/player/…', ...hosts.map(({ host }) => `https://${host}/…`)].join(', ');

const MOST_PASTED = 20_000;
const MOST_ASKED = 40;

/** Attributes of the tag that begins at the start of the text, their references read. */
function attributesOf(tag: string): Map<string, string> {
  const found = new Map<string, string>();
  const one = /[\s/]*([^\s=>"'/]+)(?:\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'>]+)))?/y;
  one.lastIndex = tag.search(/[\s/>]/);
  for (let m = one.exec(tag); m; m = one.exec(tag)) {
    const name = (m[1] ?? '').toLowerCase();
    const value = m[2] ?? m[3] ?? m[4] ?? '';
    if (!found.has(name)) found.set(name, value.includes('&') ? htmlText(value) : value);
  }
  return found;
}

/** What is kept of a frame with these attributes. */
export function embedOf(attributes: ReadonlyMap<string, string>): Player {
  const size = (name: string) => {
    const n = Number(attributes.get(name));
    return Number.isInteger(n) && n > 0 && n <= 10_000 ? n : undefined;
  };
  const asked = (name: string, between: RegExp) =>
    (attributes.get(name) ?? '')
      .toLowerCase()
      .split(between)
      .flatMap((part) => /^[a-z*-]{1,60}/.exec(part.trim())?.[0] ?? [])
      .slice(0, MOST_ASKED);
  const title = attributes.get('title')?.slice(0, 200);
  const [width, height] = [size('width'), size('height')];
  const allow = asked('allow', /;/);
  if (attributes.has('allowfullscreen')) allow.push('fullscreen');
  const referrer = attributes.get('referrerpolicy')?.toLowerCase();
  return {
    src: (attributes.get('src') ?? '').trim().replace(/^\/\//, 'https://'),
    ...(title ? { title } : {}),
    ...(width && height ? { width, height } : {}),
    allow: [...new Set(allow)],
    ...(attributes.has('sandbox') ? { sandbox: [...new Set(asked('sandbox', /\s/))] } : {}),
    ...(referrer && tells(referrer) >= 0 ? { referrer } : {}),
  };
}

/** Reads what was pasted, an address or the code of a frame, with all that it asks for. */
export function embedFrom(pasted: string): Player {
  // Longer than any code of a player: it is kept as it came, and refused as an address that is too long.
  const begin = pasted.length > MOST_PASTED ? -1 : pasted.search(/<iframe\b/i);
  if (begin < 0 || !pasted.includes('>', begin)) return { src: pasted.trim() };
  return embedOf(attributesOf(pasted.slice(begin)));
}

/**
 * A player with no more than its host is given, and what was taken from it, in words. One from elsewhere is left as it
 * is, to be refused.
 */
export function reduced(player: Player, hosts: readonly PlayerHost[]): { player: Player; left: string[] } {
  const host = hostOf(player.src, hosts);
  if (!host) return { player, left: [] };
  const left: string[] = [];
  const kept: Player = { ...player };
  for (const [key, rights] of [
    ['allow', FEATURES],
    ['sandbox', TOKENS],
  ] as const) {
    const asked = player[key];
    if (!asked) continue;
    kept[key] = asked.filter((name) => host[key].includes(name));
    for (const name of asked)
      if (!host[key].includes(name)) left.push(rights.find((right) => right.name === name)?.label ?? `“${name}”`);
  }
  if (player.referrer && tells(player.referrer) > tells(host.referrer)) {
    left.push(`learn ${REFERRERS[tells(player.referrer)]?.label}`);
    delete kept.referrer;
  }
  if (host.width && host.height && (player.width !== host.width || player.height !== host.height)) {
    if (player.width) left.push(`have a shape of its own (${player.width} × ${player.height})`);
    Object.assign(kept, { width: host.width, height: host.height });
  }
  return { player: kept, left };
}

/** A player that says what it may: where its code asked for nothing because there was none, all that its host is given. */
export function outspoken(player: Player, hosts: readonly PlayerHost[]): Player {
  const host = hostOf(player.src, hosts);
  return host ? { allow: host.allow, sandbox: host.sandbox, referrer: host.referrer, ...player } : player;
}

/** What was taken from a player, in a sentence. */
export const leftWords = (left: readonly string[]): string =>
  left.length
    ? `Taken from its code, as its host is not given it: ${new Intl.ListFormat('en').format(left)}. What a host is given is set with the field.`
    : '';

/** The nearest of four shapes; pages take no style from values. */
function frameShape(width: number, height: number): string {
  const ratio = width / height;
  return ratio > 1.55 ? 'wide' : ratio > 1.15 ? 'classic' : ratio > 0.8 ? 'square' : 'tall';
}

/** A player in its frame, given no more than its host is; nothing where no frame may show it. */
export function framed(player: Player, hosts: readonly PlayerHost[]): string {
  const host = hostOf(player.src, hosts);
  if (!host) return '';
  const {
    title = 'Player',
    width = 16,
    height = 9,
    allow = host.allow,
    sandbox = host.sandbox,
    referrer = host.referrer,
  } = reduced(player, hosts).player;
  return `<iframe class="player player-${frameShape(width, height)}" src="${escapeHtml(player.src)}" title="${escapeHtml(title)}" sandbox="${sandbox.join(' ')}" allow="${allow.join('; ')}" loading="lazy" referrerpolicy="${referrer}"></iframe>`;
}

/** The frame as running text keeps it: what {@link embedFrom} reads to the same player. */
export function attributesFor({ src, title, width, height, allow, sandbox, referrer }: Player): Record<string, string> {
  return {
    src,
    ...(title ? { title } : {}),
    ...(width && height ? { width: String(width), height: String(height) } : {}),
    ...(allow ? { allow: allow.join('; ') } : {}),
    ...(sandbox ? { sandbox: sandbox.join(' ') } : {}),
    ...(referrer ? { referrerpolicy: referrer } : {}),
  };
}

/** Accepts what is kept of a player from one of the hosts. */
export const playerValue = (hosts: readonly PlayerHost[]) =>
  z.strictObject(
    {
      src: z
        .string()
        .max(2000, { error: 'The address of a player has 2,000 characters at most.', abort: true })
        .refine((src) => src === '' || mayEmbed(src, hosts), {
          error: `No player may come from there. Allowed are ${comesFrom(hosts)}.`,
        }),
      title: z.string().max(200).optional(),
      width: Pixels.optional(),
      height: Pixels.optional(),
      allow: Allow.optional(),
      sandbox: Sandbox.optional(),
      referrer: z.enum(TELLS.flat() as [string, ...string[]]).optional(),
    },
    { error: 'This is an embed: the address of a player, or its code.' },
  );

/** The same as JSON Schema (2020-12). */
export const playerSchema = (hosts: readonly PlayerHost[]) => ({
  type: 'object',
  properties: {
    src: {
      type: 'string',
      maxLength: 2000,
      pattern: `^($|/player/[a-z0-9-]{1,80}$${hosts.map(({ host }) => `|https://${host.replace(/\./g, '\\.')}($|[/?#])`).join('')})`,
    },
    title: { type: 'string', maxLength: 200 },
    width: { type: 'integer', minimum: 1, maximum: 10_000 },
    height: { type: 'integer', minimum: 1, maximum: 10_000 },
    allow: { type: 'array', items: { enum: FEATURES.map(({ name }) => name) }, maxItems: FEATURES.length },
    sandbox: { type: 'array', items: { enum: TOKENS.map(({ name }) => name) }, maxItems: TOKENS.length },
    referrer: { enum: TELLS.flat() },
  },
  required: ['src'],
  additionalProperties: false,
});
