// Writes the vocabulary of schema.org that ships with the application, from the types of the package schema-dts.
// Run it again after that package has been brought up to date: node scripts/vocabulary.mjs
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './lib/setup.mjs';

const source = readFileSync(join(root, 'node_modules/schema-dts/dist/schema.d.ts'), 'utf8');
const { version } = JSON.parse(readFileSync(join(root, 'node_modules/schema-dts/package.json'), 'utf8'));

/** The first sentence of a comment, without links. @param {string} text */
const firstSentence = (text) => {
  const plain = text
    .replace(/\{@link \S+ ([^}]*)\}/g, '$1')
    .replace(/\s*\*\s*/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();
  const sentence = /^.*?[.!?](?=\s|$)/.exec(plain)?.[0] ?? plain;
  return sentence.length > 200 ? `${sentence.slice(0, 197)}…` : sentence;
};

/** @type {Record<string, { about: string, above: string[], own: string[] }>} */
const types = {};
/** @type {Record<string, { about: string, takes: string[] }>} */
const properties = {};

for (const [, comment = '', name = ''] of source.matchAll(/\/\*\*((?:(?!\*\/)[^])*)\*\/\s*export type ([A-Z]\w*) =/g))
  types[name] = { about: firstSentence(comment), above: [], own: [] };
for (const [, name = '', above = '', body = ''] of source.matchAll(
  /interface (\w+)Base extends ([^{]+)\{([^]*?)\n\}/g,
)) {
  const type = (types[name] ??= { about: '', above: [], own: [] });
  type.above = [...above.matchAll(/(\w+)Base\b/g)].map(([, one = '']) => one);
  for (const [, comment = '', property = '', takes = ''] of body.matchAll(
    /\/\*\*((?:(?!\*\/)[^])*)\*\/\s*"(\w+)"\?: SchemaValue<([^,]+)/g,
  )) {
    type.own.push(property);
    properties[property] = {
      about: firstSentence(comment),
      takes: takes
        .split('|')
        .map((one) => one.trim())
        .filter((one) => one !== 'IdReference'),
    };
  }
}
// A type that adds nothing has no base of its own: it stands right under what its leaf extends.
for (const [, name = '', above = ''] of source.matchAll(/interface (\w+)Leaf extends (\w+)Base\b/g))
  if (types[name] && above !== name) types[name].above = [above];
for (const name of Object.keys(types)) {
  // What the package has for itself, and the types of plain values.
  /** @param {string} one @param {number} depth @returns {boolean} */
  const reachesThing = (one, depth = 0) =>
    one === 'Thing' || (depth < 20 && (types[one]?.above ?? []).some((up) => reachesThing(up, depth + 1)));
  if (!reachesThing(name)) delete types[name];
}
const out = { from: `schema-dts ${version}`, types, properties };
writeFileSync(join(root, 'src/lib/core/base/vocabulary/set.json'), `${JSON.stringify(out)}\n`);
console.log(`${Object.keys(types).length} types, ${Object.keys(properties).length} properties`);
