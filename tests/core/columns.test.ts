import MiniSearch from 'minisearch';
import { describe, expect, it } from 'vitest';
import table from 'world-countries';
import { searchWords, queryWords } from '../../src/lib/core/base/words';
import { RankColumn } from '../../src/lib/core/columns/column';
import { fitKey } from '../../src/lib/core/columns/keys';
import { Order } from '../../src/lib/core/columns/order';
import { wordsStep, type Reading } from '../../src/lib/core/columns/reading';
import { Table } from '../../src/lib/core/columns/table';
import { WordColumn } from '../../src/lib/core/columns/word-column';
import { fits, rowsWithWords } from '../../src/lib/core/columns/words';
import { compareText } from '../../src/lib/core/base/collation';
import { pieceAround } from '../../src/lib/core/content/search';
import { indexModel } from '../../src/lib/core/model/model';
import { field, model } from '../support/world';

/** The names of 250 countries in some 25 languages: the open table of the `world-countries` package. */
const countries = (
  table as unknown as { name: { common: string }; translations: Record<string, { common: string; official: string }> }[]
).map(({ name, translations }, at) => ({
  id: at + 1,
  title: name.common,
  names: Object.values(translations)
    .flatMap(({ common, official }) => [common, official])
    .join('\n'),
}));

const world = indexModel({
  ...model,
  types: [{ ...model.types[0]!, id: 'country', fields: [field('names', 'longtext')] }],
});
const cell = (text: string) => ({ part: 0, empty: false, number: null, text, sort: null });

function laidOut(): { held: Table; reading: Reading } {
  const held = new Table('country');
  held.add(countries.map(({ id }) => ({ id, shown: true, authorId: null })));
  for (const step of ['title', 'names'] as const) {
    const column = new WordColumn();
    for (const one of countries) column.put(held.rowOf(one.id)!, [cell(searchWords(one[step]).join(' '))]);
    held.hold(wordsStep(step === 'title' ? '@title' : step), column);
  }
  const tables = { table: () => held, column: (of: Table, aspect: 'words', step: string) => of.column(aspect, step) };
  return { held, reading: { model: world, tables, drafts: false } as unknown as Reading };
}

describe('searching columns of words', () => {
  const { held, reading } = laidOut();
  const found = (text: string) =>
    rowsWithWords(reading, held, { words: queryWords(text) })
      .array()
      .map((row) => held.ids[row]);
  // Without accents and case, as far as two lines can say it; runs of letters and digits are words.
  const plain = (text: string) =>
    text
      .normalize('NFKD')
      .replace(/\p{M}+/gu, '')
      .toUpperCase()
      .toLowerCase();
  const reference = new MiniSearch({
    fields: ['title', 'names'],
    tokenize: (text) =>
      plain(text)
        .replaceAll('ς', 'σ')
        .normalize('NFC')
        .match(/[\p{L}\p{N}]+/gu) ?? [],
    processTerm: (term) => term,
    searchOptions: { prefix: true, combineWith: 'AND' },
  });
  reference.addAll(countries);
  const theirs = (text: string) =>
    reference
      .search(text)
      .map(({ id }) => id as number)
      .sort((a, b) => a - b);
  const runs = [...new Set(countries.flatMap(({ names }) => names.match(/[\p{L}\p{N}]{2,}/gu) ?? []))];
  const spaced = runs.filter((run) => !/[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}]/u.test(run));

  it('finds by beginnings what the library MiniSearch finds, in Latin, Greek, Cyrillic, Arabic and Korean', () => {
    expect(spaced.filter((run) => /\p{Script=Greek}|\p{Script=Cyrillic}/u.test(run)).length).toBeGreaterThan(200);
    const wrong: string[] = [];
    for (const [i, run] of spaced.entries()) {
      const asked = [run, run.slice(0, 3), `${run.slice(0, 2)} ${spaced[(i * 31) % spaced.length]!.slice(0, 2)}`];
      for (const text of asked) if (String(found(text)) !== String(theirs(text))) wrong.push(text);
    }
    expect(wrong).toEqual([]);
  });

  it('finds in Japanese and Chinese what stands at the beginning of a run of signs, and within it too', () => {
    const han = runs.filter((run) => /^[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}]{2,}$/u.test(run));
    expect(han.length).toBeGreaterThan(300);
    for (const run of han) {
      const own = new Set(found(run.slice(0, 2)));
      expect(theirs(run.slice(0, 2)).filter((id) => !own.has(id))).toEqual([]);
      expect(own.has(countries.find(({ names }) => names.includes(run))!.id)).toBe(true);
    }
  });

  it('puts what fits best first: a country before those that have its name among others', () => {
    const first: string[] = [];
    for (const { title, id } of countries) {
      const keys = new Float64Array(held.size);
      const words = queryWords(title);
      fits(reading, held, { words }, keys);
      const rows = rowsWithWords(reading, held, { words }).array();
      const best = Math.max(...rows.map((row) => keys[row]!));
      if (keys[held.rowOf(id)!] !== best) first.push(title);
    }
    expect(first).toEqual([]);
  });
});

describe('what was found', () => {
  it('is shown with the words around it, which are not cut', () => {
    const long = `${'before '.repeat(40)}the Grey Crag stands ${'after '.repeat(40)}`;
    expect(pieceAround(long, queryWords('crag'))).toMatch(/^…before .*the Grey Crag stands .* after…$/);
    expect(pieceAround('Ägre und grün', queryWords('GRU'))).toBe('Ägre und grün');
    expect(pieceAround('nothing of it', queryWords('crag'))).toBeUndefined();
    expect(pieceAround(`${'霧'.repeat(200)}山${'霧'.repeat(200)}`, queryWords('山'))).toMatch(/^…霧+山霧*…$/);
    const signs = pieceAround(`${'😀 '.repeat(90)}crag ${'😀 '.repeat(90)}`, queryWords('crag'))!;
    expect(signs.isWellFormed?.() ?? !/^…[\udc00-\udfff]|[\ud800-\udbff]…$/.test(signs)).toBe(true);
  });
});

describe('what a table keeps', () => {
  it('does not grow with questions that come without end', () => {
    const { held, reading } = laidOut();
    const ask = (n: number) => {
      for (let i = 0; i < n; i++) {
        const key = fitKey({ words: [`zz${i}`] }, reading, held);
        held.order([key], false, key.derived);
        held.keep(`asked ${i}`, () => rowsWithWords(reading, held, { words: [`zz${i}`] }));
      }
      return held.bytes();
    };
    expect(ask(2000)).toBe(ask(400));
  });

  it('is put in order anew where what an order is worked out from has changed', () => {
    const { held } = laidOut();
    let way = 1;
    const key = {
      name: 'way',
      down: false,
      derived: true,
      keys: () => held.derive(`way ${way}`, [], (keys) => keys.forEach((_, row) => (keys[row] = row * way))),
    };
    const first = () => held.order([key], false, true).at(0);
    expect(first()).toBe(0);
    way = -1;
    expect(first()).toBe(held.size - 1);
  });
});

describe('orders and ranks', () => {
  it('stay right through any changes, also where no number is left between two ranks', () => {
    const column = new RankColumn('en');
    const texts: string[] = [];
    const ids = new Int32Array(4000).map((_, i) => i);
    const put = (row: number, text: string) => {
      texts[row] = text;
      column.put(row, [{ part: 0, empty: false, number: null, text: null, sort: text }]);
    };
    for (let row = 0; row < 50; row++) put(row, `t${(row * 7) % 50}`);
    const key = { keys: () => column.keys, down: false };
    const order = new Order(
      [key],
      () => ids,
      Int32Array.from({ length: 50 }, (_, i) => i),
    );
    // Each goes right below the one before it, which halves what is left between them every time.
    for (let row = 50; row < 400; row++) {
      put(row, `t1${'a'.repeat(400 - row)}`);
      order.put(row);
    }
    for (let row = 0; row < 200; row += 3) {
      order.take(row);
      put(row, `x${row % 17}`);
      order.put(row);
    }
    const rows = Array.from(order.part(0, 400));
    const right = Array.from({ length: 400 }, (_, i) => i).sort(
      (a, b) => compareText(texts[a]!, texts[b]!, 'en') || a - b,
    );
    expect(rows).toEqual(right);
  });
});
