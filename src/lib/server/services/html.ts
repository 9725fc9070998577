import { hostsIn } from '../../core/model/settings';
import { subFieldsOf } from '../../core/model/field';
import sanitizeHtml from 'sanitize-html';
import { attributesFor, embedFrom, embedOf, mayEmbed, reduced, type PlayerHost } from '../../core/model/kinds/player';
import { kindOf, type Field } from '../../core/model/model';
import { Refusal } from '../base/refusal';

/** What rich text may hold. Everything else goes; its text stays. */
const rich = (hosts: readonly PlayerHost[]): sanitizeHtml.IOptions => ({
  allowedTags: [
    'p',
    'br',
    'h2',
    'h3',
    'h4',
    'strong',
    'em',
    's',
    'u',
    'sub',
    'sup',
    'code',
    'pre',
    'blockquote',
    'ul',
    'ol',
    'li',
    'a',
    'img',
    'hr',
    'iframe',
  ],
  allowedAttributes: {
    a: ['href'],
    img: ['src', 'alt', 'width', 'height'],
    ol: ['start'],
    iframe: ['src', 'title', 'width', 'height', 'allow', 'sandbox', 'referrerpolicy'],
  },
  allowedSchemes: ['http', 'https', 'mailto', 'tel'],
  allowProtocolRelative: false,
  // Pictures come from our own library only, players from where they may.
  exclusiveFilter: (frame) =>
    (frame.tag === 'img' && !/^\/media\/\d+\/[\w.]+$/.test(frame.attribs.src ?? '')) ||
    (frame.tag === 'iframe' && !mayEmbed(frame.attribs.src ?? '', hosts)),
  transformTags: {
    b: 'strong',
    i: 'em',
    h1: 'h2',
    del: 's',
    strike: 's',
    iframe: (tagName, attribs) => ({
      tagName,
      attribs: attributesFor(reduced(embedOf(new Map(Object.entries(attribs))), hosts).player),
    }),
  },
  nestingLimit: 60,
});

const PLAYER_CODE = /<iframe\b/gi;
/** The same as text: what a kind refuses. */
const PLAYER_TEXT = '&lt;iframe';

/** Clean markup without what stood in frames, which no browser shows. */
function emptyFrames(clean: string): string {
  let [out, at, depth] = ['', 0, 0];
  for (const tag of clean.matchAll(/<(\/?)iframe\b[^>]*>/g)) {
    depth += tag[1] ? -1 : 1;
    if (depth === (tag[1] ? 0 : 1)) {
      const end = tag.index + tag[0].length;
      out += tag[1] ? tag[0] : clean.slice(at, end);
      at = end;
    }
  }
  return out + clean.slice(at);
}

/** A fragment of HTML with nothing in it but what rich text may hold, with players from these hosts and our own. */
export function cleanHtml(html: string, hosts: readonly PlayerHost[] = []): string {
  const clean = emptyFrames(sanitizeHtml(shallow(html), rich(hosts)));
  let [from, to] = [0, clean.length];
  while (clean.startsWith(NOTHING, from)) from += NOTHING.length;
  while (to - NOTHING.length >= from && clean.endsWith(NOTHING, to)) to -= NOTHING.length;
  return clean.slice(from, to);
}

const NOTHING = '<p></p>';

/** Elements that end where the next of their kind begins (HTML Living Standard, 13.1.2.4). */
const ENDS_ITSELF = /^(p|li|dt|dd|tr|td|th|option)$/;
/** Elements that hold nothing (13.1.2). */
const VOID = /^(area|base|br|col|embed|hr|img|input|link|meta|source|track|wbr)$/;
const MOST_OPEN = 100;

/** Markup in which no more than so many elements stand in each other: tags that open more are left out. */
function shallow(html: string, xml = false): string {
  const open: string[] = [];
  let out = '';
  let at = 0;
  for (const tag of html.matchAll(/<(\/?)([a-zA-Z][a-zA-Z0-9]*)/g)) {
    const name = (tag[2] ?? '').toLowerCase();
    if (!xml && VOID.test(name)) continue;
    const rest = /[<>]/g;
    rest.lastIndex = tag.index + tag[0].length;
    const end = rest.exec(html);
    if (xml && end?.[0] === '>' && html[end.index - 1] === '/') continue;
    if (tag[1]) {
      const last = open.lastIndexOf(name);
      if (last >= 0) open.length = last;
    } else {
      if (ENDS_ITSELF.test(name) && open.at(-1) === name) open.pop();
      if (open.length < MOST_OPEN) open.push(name);
      else {
        // The tag goes as far as it reaches, or as far as the next one begins.
        out += html.slice(at, tag.index);
        at = end === null ? html.length : end.index + (end[0] === '>' ? 1 : 0);
      }
    }
  }
  return out + html.slice(at);
}

const SHAPES = [
  'svg',
  'g',
  'defs',
  'symbol',
  'use',
  'title',
  'desc',
  'path',
  'rect',
  'circle',
  'ellipse',
  'line',
  'polyline',
  'polygon',
  'text',
  'tspan',
  'linearGradient',
  'radialGradient',
  'stop',
  'clipPath',
  'mask',
  'pattern',
];
const DRAWN = [
  'id',
  'class',
  'x',
  'y',
  'x1',
  'y1',
  'x2',
  'y2',
  'cx',
  'cy',
  'r',
  'rx',
  'ry',
  'fx',
  'fy',
  'd',
  'points',
  'width',
  'height',
  'viewBox',
  'preserveAspectRatio',
  'transform',
  'opacity',
  'fill',
  'fill-opacity',
  'fill-rule',
  'clip-path',
  'clip-rule',
  'clipPathUnits',
  'mask',
  'stroke',
  'stroke-width',
  'stroke-opacity',
  'stroke-linecap',
  'stroke-linejoin',
  'stroke-miterlimit',
  'stroke-dasharray',
  'stroke-dashoffset',
  'offset',
  'stop-color',
  'stop-opacity',
  'gradientUnits',
  'gradientTransform',
  'spreadMethod',
  'patternUnits',
  'patternTransform',
  'font-family',
  'font-size',
  'font-weight',
  'text-anchor',
  'dx',
  'dy',
  'xmlns',
  'version',
];

/** Shapes that a drawing may come to, with everything that it draws again. */
const MOST_SHAPES = 50_000;

/**
 * How many shapes a drawing comes to, counting what `use` draws again wherever it does: Infinity where something draws
 * itself. A few lines that draw each other tenfold would keep every browser busy for good.
 */
function shapesOf(svg: string): number {
  const inside = new Map<string, { shapes: number; uses: string[] }>([['', { shapes: 0, uses: [] }]]);
  const open: (string | undefined)[] = [];
  for (const [, closing, name = '', attributes = '', alone] of svg.matchAll(
    /<(\/?)([a-zA-Z][\w:-]*)([^<>]*?)(\/?)>/g,
  )) {
    if (closing) {
      open.pop();
      continue;
    }
    const id = /\sid="([^"]*)"/.exec(attributes)?.[1];
    if (id && !inside.has(id)) inside.set(id, { shapes: 0, uses: [] });
    const target = name === 'use' ? /\s(?:xlink:)?href="#([^"]*)"/.exec(attributes)?.[1] : undefined;
    for (const holder of new Set(['', ...open, id])) {
      const held = holder === undefined ? undefined : inside.get(holder);
      if (!held) continue;
      held.shapes++;
      if (target !== undefined) held.uses.push(target);
    }
    if (!alone) open.push(id);
  }
  const known = new Map<string, number>();
  const count = (id: string, above: ReadonlySet<string>): number => {
    if (above.has(id) || above.size > 100) return Infinity;
    const held = inside.get(id);
    if (!held) return 0;
    let sum = known.get(id);
    if (sum !== undefined) return sum;
    sum = held.shapes;
    const below = new Set([...above, id]);
    for (const target of held.uses) {
      sum += count(target, below);
      if (sum > MOST_SHAPES) break;
    }
    known.set(id, sum);
    return sum;
  };
  return count('', new Set());
}

/** An SVG drawing reduced to shapes and paint: no scripts, styles, outside addresses or foreign markup. */
export function cleanSvg(svg: string): string {
  const local = (value: string) => !/url\(/i.test(value) || /^url\(\s*["']?#[\w-]+["']?\s*\)$/i.test(value.trim());
  const clean = sanitizeHtml(shallow(svg, true), {
    allowedTags: SHAPES,
    allowedAttributes: { '*': DRAWN, use: [...DRAWN, 'href', 'xlink:href'] },
    allowedSchemes: [],
    parser: { xmlMode: true },
    disallowedTagsMode: 'completelyDiscard',
    nestingLimit: 100,
    transformTags: {
      '*': (tagName, attribs) => ({
        tagName,
        attribs: Object.fromEntries(
          Object.entries(attribs).filter(
            ([name, value]) => local(value) && (!/href$/i.test(name) || /^#[\w-]+$/.test(value)),
          ),
        ),
      }),
    },
  });
  if (shapesOf(clean) > MOST_SHAPES)
    throw new Refusal(422, 'This drawing cannot be kept.', [
      {
        at: '',
        what: `With what it draws again (use) it comes to more than ${MOST_SHAPES.toLocaleString('en')} shapes.`,
        fix: 'Draw what repeats as a pattern, or fewer times.',
      },
    ]);
  return clean;
}

/** Characters of any single value, with its markup; kinds take less. */
const LONGEST = 1_000_000;

/**
 * What comes from outside, brought into the form that may be kept, before it is checked: rich text through the
 * allow-list, pasted code of players reduced. Goes into rows, as deep as they are.
 */
export function cleanValue(field: Field, value: unknown): unknown {
  const known = kindOf(field);
  if (!known || value === null || value === undefined) return value;
  // What is longer than any text may be is refused for that, and not read before.
  if (typeof value === 'string' && value.length > LONGEST) return value;
  const hosts = hostsIn(known.settings);
  if (known.kind.outside === 'markup') {
    if (typeof value !== 'string') return value;
    const clean = cleanHtml(value, hosts);
    // Told rather than dropped: the kind refuses the code of a player that did not stay, and says from where one may come.
    const left = (value.match(PLAYER_CODE)?.length ?? 0) > (clean.match(PLAYER_CODE)?.length ?? 0);
    return left ? `${clean}${PLAYER_TEXT}` : clean;
  }
  if (known.kind.outside === 'player')
    return typeof value === 'string' ? reduced(embedFrom(value), hosts).player : value;
  const fields = subFieldsOf(field);
  if (!fields || !Array.isArray(value)) return value;
  return (value as unknown[]).map((row) =>
    row && typeof row === 'object'
      ? Object.fromEntries(
          Object.entries(row).map(([id, inner]) => {
            const sub = fields.find((f) => f.id === id);
            return [id, sub ? cleanValue(sub, inner) : (inner as unknown)];
          }),
        )
      : row,
  );
}
