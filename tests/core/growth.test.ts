import { parseFrontMatter } from '../../src/lib/core/exchange/front-matter';
import { splitCell } from '../../src/lib/core/exchange/cells';
import { searchWords } from '../../src/lib/core/base/words';
import { fold, slugOf } from '../../src/lib/core/base/text';
import { placeOf } from '../../src/lib/core/addresses/places';
import { parseUriTemplate } from '../../src/lib/core/addresses/uri-template';
import { unsoundIn } from '../../src/lib/core/base/sound';
import { parseValue } from '../../src/lib/core/model/field';
import { kinds } from '../../src/lib/core/model/kinds';
import { FieldSchema } from '../../src/lib/core/schema/field';
import { cleanHtml, cleanSvg, cleanValue } from '../../src/lib/server/services/html';
import { settledPath } from '../../src/lib/server/services/redirects';
import { confineCss } from '../../src/lib/core/styles/confine';
import { passwordProblem } from '../../src/lib/core/people/passwords';
import { parse as parseCsv } from 'csv-parse/sync';
import { describe, expect, it } from 'vitest';
import { index } from '../support/world';

/** Pieces that patterns and parsers have stumbled over, each repeated without end. */
const PIECES = [
  '1', 'a', ' ', '-', '.', '(', '+', '<b>', '<p></p>', 'x<p></p>', '<iframe', '<iframe src=', '</p>', '<!--', '&', '&amp',
  '"', "'", '{', '[', '[[', '{"a":', '|', '\\|', '\\', '/', '//', '/a', '%41', '%', '@', 'a@', 'a.', '#', '?', '=', ';',
  '\n', '\r\n', '- ', '> ', '---\n', 'é', '霧', '\u0301', '😀', ':', '::', 'T', '2026-', 'PT1H', 'url(', '\u{200b}', '\t',
]; // prettier-ignore

/** Settings without which a kind is nothing. */
const starts = (kind: string): object =>
  ({
    choice: { options: [{ key: 'a', label: 'A' }] },
    choices: { options: [{ key: 'a', label: 'A' }] },
    rows: { fields: [{ id: 's', key: 's', label: 'S', kind: 'phone', settings: {} }] },
    relation: { relationId: 'r', side: 'a', many: true, typeIds: ['house'] },
  })[kind] ?? {};

const kindParsers = kinds
  .filter((kind) => kind.forFields)
  .map((kind): [string, (text: string) => unknown] => {
    const made = FieldSchema.safeParse({
      id: 'f',
      key: 'f',
      label: 'F',
      kind: kind.name,
      settings: starts(kind.name),
    });
    const field = made.data!;
    return [`a value of the kind ${kind.name}`, (text) => parseValue(field, cleanValue(field, text), 'f')];
  });

/** As `exchange/sources.ts` reads tables. */
const CSV = { bom: true, relax_column_count: true, skip_empty_lines: true, max_record_size: 1_000_000 };

const PARSERS: [string, (text: string) => unknown][] = [
  ...kindParsers,
  ['rich text', cleanHtml],
  ['a drawing', cleanSvg],
  ['front matter', parseFrontMatter],
  ['a cell of several values', splitCell],
  ['words that are searched for', searchWords],
  ['text without case', fold],
  ['the part of an address', slugOf],
  ['an address of the site', (text) => placeOf(`/${text}`, index)],
  ['a pattern of addresses', (text) => parseUriTemplate(text)],
  ['a path that leads elsewhere', settledPath],
  ['own CSS', (text) => confineCss(text, 'c')],
  ['own CSS within a rule', (text) => confineCss(`h1 { color: ${text} }`, 'c')],
  ['a password', (text) => passwordProblem(text, () => false, ['x'])],
  ['lines of a table', (text) => parseCsv(text, CSV)],
  ['anything as JSON', (text) => unsoundIn([text])],
];

/** Milliseconds. */
const timeOf = (work: () => unknown): number => {
  const from = performance.now();
  try {
    work();
  } catch {
    // What is refused is refused in time, too.
  }
  return performance.now() - from;
};

describe('text from outside takes time that grows as it does, at most 2.6 times where it doubles', () => {
  it.each(PARSERS)('%s', (_, parse) => {
    for (const piece of PIECES) {
      const of = (n: number) => piece.repeat(n / piece.length);
      // Long enough to be told apart from what the machine does beside it; what is quick is not measured any further.
      for (let n = 2000; n <= 64_000; n *= 2) {
        if (timeOf(() => parse(of(n))) < 8) continue;
        const best = (text: string) => Math.min(...[0, 1, 2, 3].map(() => timeOf(() => parse(text))));
        // Four doublings at once, since the collection of rubbish is no small part of short times; what is done in half a
        // second then stops nobody, however it came to it.
        if (timeOf(() => parse(of(16 * n))) <= 500) break;
        const [short, long] = [best(of(n)), best(of(16 * n))];
        if (long > 500) expect(long / short, `${JSON.stringify(piece)} × ${n}`).toBeLessThan(2.6 ** 4);
        break;
      }
    }
  });
});
