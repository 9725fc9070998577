import { subFieldsOf } from '../../core/model/field';
import sanitizeHtml from 'sanitize-html';
import { embedFrom } from '../../core/model/kinds/embed';
import { kindOf, type Field } from '../../core/model/model';

/** What rich text may hold. Everything else goes; its text stays. */
const RICH: sanitizeHtml.IOptions = {
  allowedTags: [
    ...['p', 'br', 'h2', 'h3', 'h4', 'strong', 'em', 's', 'u', 'sub', 'sup', 'code', 'pre', 'blockquote'],
    ...['ul', 'ol', 'li', 'a', 'img', 'hr'],
  ],
  allowedAttributes: { a: ['href'], img: ['src', 'alt', 'width', 'height'], ol: ['start'] },
  allowedSchemes: ['http', 'https', 'mailto', 'tel'],
  allowProtocolRelative: false,
  // Pictures come from our own library only.
  exclusiveFilter: (frame) => frame.tag === 'img' && !/^\/media\/\d+\/[\w.]+$/.test(frame.attribs.src ?? ''),
  transformTags: { b: 'strong', i: 'em', h1: 'h2', del: 's', strike: 's' },
  nestingLimit: 60,
};

/** A fragment of HTML with nothing in it but what rich text may hold. */
export function cleanHtml(html: string): string {
  const clean = sanitizeHtml(shallow(html), RICH);
  let [from, to] = [0, clean.length];
  while (clean.startsWith(NOTHING, from)) from += NOTHING.length;
  while (to - NOTHING.length >= from && clean.endsWith(NOTHING, to)) to -= NOTHING.length;
  return clean.slice(from, to);
}

const NOTHING = '<p></p>';

/** Elements that end where the next of their kind begins (HTML Living Standard, 13.1.2.4). */
const ENDS_ITSELF = /^(p|li|dt|dd|tr|td|th|option|br|hr|img|input|wbr)$/i;
const MOST_OPEN = 100;

/** Markup in which no more than so many elements stand in each other: tags that open more are left out. */
function shallow(html: string): string {
  const open: string[] = [];
  let out = '';
  let at = 0;
  for (const tag of html.matchAll(/<(\/?)([a-zA-Z][a-zA-Z0-9]*)/g)) {
    const name = (tag[2] ?? '').toLowerCase();
    if (tag[1]) {
      const last = open.lastIndexOf(name);
      if (last >= 0) open.length = last;
    } else {
      if (ENDS_ITSELF.test(name) && open.at(-1) === name) open.pop();
      if (open.length < MOST_OPEN) open.push(name);
      else {
        // The tag goes as far as it reaches, or as far as the next one begins.
        const rest = /[<>]/g;
        rest.lastIndex = tag.index + tag[0].length;
        const end = rest.exec(html);
        out += html.slice(at, tag.index);
        at = end === null ? html.length : end.index + (end[0] === '>' ? 1 : 0);
      }
    }
  }
  return out + html.slice(at);
}

const SHAPES = [
  ...['svg', 'g', 'defs', 'symbol', 'use', 'title', 'desc', 'path', 'rect', 'circle', 'ellipse', 'line', 'polyline'],
  ...['polygon', 'text', 'tspan', 'linearGradient', 'radialGradient', 'stop', 'clipPath', 'mask', 'pattern'],
];
const DRAWN = [
  ...['id', 'class', 'x', 'y', 'x1', 'y1', 'x2', 'y2', 'cx', 'cy', 'r', 'rx', 'ry', 'fx', 'fy', 'd', 'points'],
  ...['width', 'height', 'viewBox', 'preserveAspectRatio', 'transform', 'opacity', 'fill', 'fill-opacity', 'fill-rule'],
  ...['clip-path', 'clip-rule', 'clipPathUnits', 'mask', 'stroke', 'stroke-width', 'stroke-opacity', 'stroke-linecap'],
  ...['stroke-linejoin', 'stroke-miterlimit', 'stroke-dasharray', 'stroke-dashoffset', 'offset', 'stop-color'],
  ...['stop-opacity', 'gradientUnits', 'gradientTransform', 'spreadMethod', 'patternUnits', 'patternTransform'],
  ...['font-family', 'font-size', 'font-weight', 'text-anchor', 'dx', 'dy', 'xmlns', 'version'],
];

/** An SVG drawing reduced to shapes and paint: no scripts, styles, outside addresses or foreign markup. */
export function cleanSvg(svg: string): string {
  const local = (value: string) => !/url\(/i.test(value) || /^url\(\s*["']?#[\w-]+["']?\s*\)$/i.test(value.trim());
  return sanitizeHtml(shallow(svg), {
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
  if (known.kind.outside === 'markup') return typeof value === 'string' ? cleanHtml(value) : value;
  if (known.kind.outside === 'player') return typeof value === 'string' ? embedFrom(value) : value;
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
