import { readdirSync, readFileSync } from 'node:fs';
import { expect, it } from 'vitest';
import { elements } from '../../src/lib/core/elements';
import { kinds } from '../../src/lib/core/model/kinds';

/** Files of the application that are not the descriptions of kinds and families themselves. */
const files = readdirSync('src', { recursive: true, encoding: 'utf8' })
  .map((path) => `src/${path}`)
  .filter((path) => /\.(ts|svelte)$/.test(path) && !path.startsWith('src/lib/core/model/'));

const alsoElements = new Set(elements.map((kind) => kind.name));
const names = kinds.map((kind) => kind.name).filter((name) => !alsoElements.has(name));
const NAMED = [
  /** A family's own file. That of a kind may be used to say what a value of the application's own is, as a title is text. */
  /from '[^']*\/model\/families\/(?!index')[^']*'/,
  /** A family asked for who it is. A family may be compared with another. */
  /family(?:\??\.name)?\s*[!=]==\s*'/,
  /family\.name/,
  new RegExp(`[kK]ind(?:\\??\\.name)?\\s*[!=]==\\s*'(?:${names.join('|')})'`),
  new RegExp(`case '(?:${names.filter((name) => name.includes('-')).join('|')})'`),
];

it('no kind and no family of fields is named outside the model', () => {
  expect(files.length).toBeGreaterThan(300);
  const found = files.flatMap((path) =>
    readFileSync(path, 'utf8')
      .split('\n')
      .flatMap((line, i) => (NAMED.some((pattern) => pattern.test(line)) ? [`${path}:${i + 1} ${line.trim()}`] : [])),
  );
  expect(found).toEqual([]);
});
