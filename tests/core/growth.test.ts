import { readdirSync, readFileSync } from 'node:fs';
import { join, relative } from 'node:path';
import { Readable } from 'node:stream';
import { describe, expect, it } from 'vitest';
import { decodedPath } from '../../src/lib/core/addresses/decoded';
import { placeOf } from '../../src/lib/core/addresses/places';
import { parsePattern } from '../../src/lib/core/addresses/patterns';
import { parseUriTemplate } from '../../src/lib/core/addresses/uri-template';
import { parseMoney } from '../../src/lib/core/base/money';
import { parseDuration } from '../../src/lib/core/base/duration';
import { unsoundIn } from '../../src/lib/core/base/sound';
import { fold, slugOf } from '../../src/lib/core/base/text';
import { searchWords } from '../../src/lib/core/base/words';
import { splitCell } from '../../src/lib/core/exchange/cells';
import { fromDesignTokens } from '../../src/lib/core/exchange/design-tokens';
import { parseFrontMatter } from '../../src/lib/core/exchange/front-matter';
import { fromFeatureCollection } from '../../src/lib/core/exchange/geojson';
import { markdownToHtml } from '../../src/lib/core/exchange/markdown';
import { formats } from '../../src/lib/core/formats';
import { parseValue } from '../../src/lib/core/model/field';
import { kinds } from '../../src/lib/core/model/kinds';
import { passwordProblem, settledPassword } from '../../src/lib/core/people/passwords';
import { FieldSchema } from '../../src/lib/core/schema/field';
import { confineCss } from '../../src/lib/core/styles/confine';
import { contrast } from '../../src/lib/core/theme/contrast';
import { decode } from '../../src/lib/server/exchange/decode';
import { markdownOf } from '../../src/lib/server/exchange/exporting';
import { ImportFileRequest } from '../../src/lib/server/exchange/importing';
import { jsonValues } from '../../src/lib/server/exchange/json-values';
import { guessFormat, nestedAt, sourceRows } from '../../src/lib/server/exchange/sources';
import { fromOf } from '../../src/lib/server/people/coming-in';
import { cleanHtml, cleanSvg, cleanValue } from '../../src/lib/server/services/html';
import { settledPath } from '../../src/lib/server/services/redirects';
import { growth } from '../support/growth';
import { withFile } from '../support/with-file';
import { index } from '../support/world';

/** Pieces that patterns and parsers have stumbled over, each repeated without end. */
const PIECES = [
  '1', 'a', ' ', '-', '.', '(', '+', '<b>', '<p></p>', 'x<p></p>', '<iframe', '<iframe src=', '</p>', '<!--', '&', '&amp',
  '"', "'", '{', '[', '[[', '{"a":', '|', '\\|', '\\', '/', '//', '/a', '%41', '%', '@', 'a@', 'a.', '#', '?', '=', ';',
  '\n', '\r\n', '- ', '> ', '---\n', 'é', '霧', '\u0301', '😀', ':', '::', 'T', '2026-', 'PT1H', 'url(', '\u{200b}', '\t',
  '__a', '_a_', '*a_ ', 'a**b', '[a', '![a](', '`a', '[a]: b\n', '- a\n', '~~a', '|a|b|\n|-|-|\n', '1. a\n', '&a ', '*a ', ',', 'a,',
]; // prettier-ignore
/** Texts of some length that no repeated piece makes. */
const SHAPES: Record<string, (n: number) => string> = {
  'names of columns': (n) => Array.from({ length: n / 6 }, (_, i) => `c${i}`).join(','),
  'anchors': (n) => `---\n${Array.from({ length: n / 12 }, (_, i) => `k${i}: &a${i} x`).join('\n')}\n---\n`,
  'anchors and aliases': (n) => `---\n${Array.from({ length: n / 20 }, (_, i) => `k${i}: &a${i} x\nl${i}: *a${i}`).join('\n')}\n---\n`,
  'keys': (n) => `---\n${Array.from({ length: n / 9 }, (_, i) => `k${i}: x`).join('\n')}\n---\n`,
  'brackets that close': (n) => `[${'['.repeat(n / 2)}${']'.repeat(n / 2)}]`,
  'links to the end': (n) => `${'['.repeat(n / 4)}a${'](b)'.repeat(n / 8)}`,
}; // prettier-ignore

/** Settings without which a kind is nothing. */
const starts = (kind: string): object =>
  ({
    choice: { options: [{ key: 'a', label: 'A' }] },
    choices: { options: [{ key: 'a', label: 'A' }] },
    rows: { fields: [{ id: 's', key: 's', label: 'S', kind: 'phone', settings: {} }] },
    relation: { relationId: 'r', side: 'a', many: true, typeIds: ['house'] },
  })[kind] ?? {};

type Parser = [name: string, parse: (text: string) => unknown];
const json = (text: string): unknown => JSON.parse(text);

/** What reads text from outside, by the file it stands in. Kinds, formats of values and formats of files come from their registries. */
const PARSERS: Record<string, Parser[]> = {
  'core/model/field': kinds
    .filter((kind) => kind.forFields)
    .map(({ name }): Parser => {
      const field = FieldSchema.parse({ id: 'f', key: 'f', label: 'F', kind: name, settings: starts(name) });
      return [`a value of the kind ${name}`, (text) => parseValue(field, cleanValue(field, text), 'f')];
    }),
  'server/exchange/sources': [
    ...ImportFileRequest.shape.format.options.map((format): Parser => [
      `a file as ${format}`,
      (text) =>
        withFile(text, async (path) => {
          for await (const _ of sourceRows({ path, name: 'x', format, bodyAsMarkup: true }));
        }),
    ]),
    ['what a file is', (text) => withFile(text, (path) => guessFormat(path, 'x'))],
    ['how deep Markdown is nested', nestedAt],
  ],
  'server/exchange/json-values': [
    ['values of JSON', async (text) => { for await (const _ of jsonValues(Readable.from([text]))); }], // prettier-ignore
  ],
  'server/exchange/decode': [
    ['bytes', async (text) => { for await (const _ of decode(Readable.from([Buffer.from(text)]), 'utf-8')); }], // prettier-ignore
  ],
  'server/exchange/exporting': [['markup as Markdown', (text) => markdownOf(cleanHtml(text), () => true)]],
  'server/services/html': [
    ['rich text', cleanHtml],
    ['a drawing', cleanSvg],
  ],
  'server/services/redirects': [['a path that leads elsewhere', settledPath]],
  'server/people/coming-in': [
    [
      'what a browser calls itself',
      (text) =>
        fromOf({ request: new Request('http://x', { headers: { 'user-agent': text } }), getClientAddress: () => '' }),
    ],
  ],
  'core/exchange/front-matter': [['front matter', parseFrontMatter]],
  'core/exchange/markdown': [['Markdown', markdownToHtml]],
  'core/exchange/cells': [['a cell of several values', splitCell]],
  'core/exchange/geojson': [['GeoJSON', (text) => fromFeatureCollection(json(text))]],
  'core/exchange/design-tokens': [
    ['design tokens', (text) => fromDesignTokens({ colour: { a: { $type: 'color', $value: text } } })],
  ],
  'core/formats/phone': [
    [
      'a telephone number',
      (text) => formats.find(({ name }) => name === 'phone')?.write(text, {} as never, {} as never),
    ],
  ],
  'core/theme/contrast': [['a colour', (text) => contrast(text, '#fff')]],
  'core/base/words': [['words that are searched for', searchWords]],
  'core/base/text': [
    ['text without case', fold],
    ['the part of an address', slugOf],
  ],
  'core/base/duration': [['a duration', parseDuration]],
  'core/base/money': [['an amount of money', parseMoney]],
  'core/base/sound': [['anything as JSON', (text) => unsoundIn([text])]],
  'core/addresses/places': [['an address of the site', (text) => placeOf(`/${text}`, index)]],
  'core/addresses/decoded': [['a path with escapes', decodedPath]],
  'core/addresses/uri-template': [['a pattern of addresses', parseUriTemplate]],
  'core/addresses/patterns': [['a pattern of addresses with its names', parsePattern]],
  'core/styles/confine': [
    ['own CSS', (text) => confineCss(text, 'c')],
    ['own CSS within a rule', (text) => confineCss(`h1 { color: ${text} }`, 'c')],
  ],
  'core/people/passwords': [
    ['a password', (text) => passwordProblem(text, () => false, ['x'])],
    ['a password as it is compared', settledPassword],
  ],
};

/** Of what reads text but is no way in, or is bounded by what it reads: why. */
const ELSEWHERE: Record<string, string> = {
  'core/exchange/token-values': 'by core/exchange/design-tokens',
  'core/theme/background': 'colours of the theme, which its schema bounds',
  'core/base/colour': 'by core/theme/contrast, a colour',
  'core/formats/phone-numbers': 'by core/formats/phone',
  'core/formats/phone-numbers.browser': 'by core/formats/phone',
  'core/styles/css-syntax.d': 'the types of a library',
  'core/styles/unknown-variables': 'own CSS, through core/styles/confine first',
  'core/releases/looks': 'style sheets that we wrote',
  'core/content/validate': 'by core/model/field, value by value',
  'core/model/kinds/player': 'by core/model/field, as a value of the kind embed',
  'core/model/model': 'by its schema, which bounds each text',
  'core/releases/theme-file': 'by schemas, which bound each text',
  'core/rules/named': 'by its schema, which bounds each text',
  'core/templates/parse': 'by its schema, which bounds each text',
  'server/services/lists': 'by its schema, which bounds each text',
  'server/services/media': 'by its first bytes',
  'server/services/typefaces': 'a typeface of the size that media may have, looked at by its tables',
};

/**
 * Linear work comes to 1, n to the power of 1.75 to 8, quadratic work to 16; between them is room for caches, and for what collecting rubbish
 * costs (linear work that holds 256,000 small strings at once came to 6.2).
 */
const LIMIT = 8;

/** Libraries that read a language, and names under which functions read text from outside. */
const LIBRARY =
  /from '(csv-parse|js-yaml|markdown-it|sanitize-html|css-tree|turndown|bowser|culori|yauzl|file-type|fontkitten|libphonenumber-js|(?:\.\.\/)+(?:core\/)?base\/colour)[/']/;
const READS_TEXT =
  /^export (?:async )?(?:function\*? (?:parse|clean|split|confine|settled|from|decode)\w*\(\w+: (?:string|unknown)\b|const (?:parse|clean|split|confine|settled)\w* = \(\w+: string\b)/m;

const filesBelow = (folder: string): string[] =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((name) => name.endsWith('.ts'))
    .map((name) => join(folder, name));

/** Files that read text from outside, as paths below `src/lib` without their ending. */
function filesThatRead(sources: readonly { path: string; text: string }[]): string[] {
  return sources.filter(({ text }) => LIBRARY.test(text) || READS_TEXT.test(text)).map(({ path }) => path);
}

describe('text from outside takes work that grows as it does', () => {
  it.each(Object.values(PARSERS).flat())('%s', async (_, parse) => {
    for (const piece of PIECES) {
      const grown = await growth(parse, (n) => piece.repeat(n / piece.length));
      expect(grown, `${JSON.stringify(piece)}, over and over`).toBeLessThan(LIMIT);
    }
    for (const [name, shape] of Object.entries(SHAPES)) expect(await growth(parse, shape), name).toBeLessThan(LIMIT);
  });

  it('everywhere where text is read', () => {
    const lib = join(import.meta.dirname, '../../src/lib');
    const sources = ['core', 'server']
      .flatMap((folder) => filesBelow(join(lib, folder)))
      .map((path) => ({ path: relative(lib, path).replace(/\.ts$/, ''), text: readFileSync(path, 'utf8') }));
    const reading = filesThatRead(sources);
    expect(reading.length).toBeGreaterThan(15);
    const known = new Set([...Object.keys(PARSERS), ...Object.keys(ELSEWHERE)]);
    expect(reading.filter((path) => !known.has(path))).toEqual([]);
    // Nothing is told of that is no longer there.
    const there = new Set(sources.map(({ path }) => path));
    expect([...known].filter((path) => !there.has(path))).toEqual([]);
  });

  it('which a planted file that reads text, and planted work that grows faster, do not escape', async () => {
    const planted = [
      { path: 'core/x', text: "import { load } from 'js-yaml';" },
      { path: 'core/y', text: 'export function parseAnything(text: string): number {' },
      { path: 'core/z', text: 'export const add = (a: number) => a;' },
    ];
    expect(filesThatRead(planted)).toEqual(['core/x', 'core/y']);
    const steps = (n: number) => {
      let sum = 0;
      for (let i = 0; i < n; i++) sum += Math.sqrt(i);
      return sum;
    };
    const of = (n: number) => 'a'.repeat(n);
    expect(await growth((text) => steps(text.length * 2000), of)).toBeLessThan(3);
    expect(await growth((text) => steps(text.length ** 2), of)).toBeGreaterThan(8);
    expect(await growth((text) => steps(text.length ** 1.9), of)).toBeGreaterThan(LIMIT);
    // What disturbs now and then is no growth.
    let calls = 0;
    const disturbed = (text: string) => steps(text.length * (++calls % 7 === 0 ? 1000 : 20));
    expect(await growth(disturbed, of)).toBeLessThan(LIMIT);
  });
});
