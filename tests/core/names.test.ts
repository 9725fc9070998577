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

/** What settings are is for a kind to say; all others ask by the functions of `model/settings.ts`, and assert nothing. */
const ASSERTED = [
  /\bsettings(?: \?\? \{\})?\)? as \{/,
  /\bsettings(?: as [^)]+\))?\??\.\w+(?: \?\? (?:\[\]|\{\})\))? as (?!const)\w/,
];

/** Places in files where one of these patterns is found, each with its line. */
const found = (sources: readonly [path: string, text: string][], patterns: readonly RegExp[]): string[] =>
  sources.flatMap(([path, text]) =>
    text
      .split('\n')
      .flatMap((line, i) =>
        patterns.some((pattern) => pattern.test(line)) ? [`${path}:${i + 1} ${line.trim()}`] : [],
      ),
  );
const sources = files.map((path): [string, string] => [path, readFileSync(path, 'utf8')]);

it('no kind and no family of fields is named outside the model', () => {
  expect(files.length).toBeGreaterThan(300);
  expect(found(sources, NAMED)).toEqual([]);
});

it('nothing outside the model asserts what the settings of a field are', () => {
  expect(found(sources, ASSERTED)).toEqual([]);
});

it('neither escapes where it is planted', () => {
  const planted = (line: string, patterns: readonly RegExp[]) => found([['x.ts', line]], patterns).length;
  for (const line of ["if (type.kind.family.name === 'money')", "if (kind === 'number')"])
    expect([line, planted(line, NAMED)]).toEqual([line, 1]);
  for (const line of [
    'const { unit } = path.type.settings as { unit?: string };',
    'const { hosts = [] } = (known.settings ?? {}) as { hosts?: string[] };',
    'const fields = field.settings.fields as Field[] | undefined;',
    'const options = (settings.options ?? []) as Option[];',
  ])
    expect([line, planted(line, ASSERTED)]).toEqual([line, 1]);
});
