import set from './set.json';

/**
 * The vocabulary of schema.org as `scripts/vocabulary.mjs` took it from the package schema-dts (Apache-2.0): types with
 * those right above them and the properties that each adds.
 */
interface Vocabulary {
  types: Record<string, { about: string; above: string[]; own: string[] }>;
  properties: Record<string, { about: string; takes: string[] }>;
}
const { types, properties } = set as Vocabulary;

export interface Described {
  name: string;
  about: string;
}

export const isType = (name: string): boolean => Object.hasOwn(types, name);

/** A type with all those above it, nearest first. */
export function lineOf(name: string): string[] {
  const line: string[] = [];
  const open = [name];
  for (let at = open.shift(); at; at = open.shift()) {
    const type = Object.hasOwn(types, at) ? types[at] : undefined;
    if (!type || line.includes(at)) continue;
    line.push(at);
    open.push(...type.above);
  }
  return line;
}

/** The properties that things of a type may have, its own first. */
export function propertiesOf(type: string): (Described & { takes: string[] })[] {
  const names = new Set(lineOf(type).flatMap((one) => types[one]?.own ?? []));
  return [...names].flatMap((name) => {
    const property = properties[name];
    return property ? [{ name, ...property }] : [];
  });
}

/** Types whose name, in parts, or description has these words; names that begin with them first. */
export function findTypes(words: string, most = 30): Described[] {
  const asked = words.trim().toLowerCase();
  const rank = (name: string, about: string): number => {
    const plain = name.toLowerCase();
    const apart = name.replace(/([a-z])([A-Z])/g, '$1 $2').toLowerCase();
    if (plain === asked || apart === asked) return 0;
    if (plain.startsWith(asked)) return 1;
    if (apart.includes(asked) || plain.includes(asked)) return 2;
    return about.toLowerCase().includes(asked) ? 3 : 9;
  };
  return Object.entries(types)
    .map(([name, { about }]) => ({ name, about, rank: rank(name, about) }))
    .filter((one) => one.rank < 9)
    .sort((a, b) => a.rank - b.rank || a.name.length - b.name.length || (a.name < b.name ? -1 : 1))
    .slice(0, most)
    .map(({ name, about }) => ({ name, about }));
}
