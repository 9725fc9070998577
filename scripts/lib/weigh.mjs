import { existsSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';

/**
 * What browsers load before a screen can be used: the code that its page and layouts import, and nothing that comes later.
 * In bytes, before compression.
 *
 * @typedef {{ file: string, imports?: string[] }} Chunk
 */

/** @param {Record<string, Chunk>} manifest @param {string[]} entries @returns {Set<string>} */
function importedBy(manifest, entries) {
  const found = new Set(/** @type {string[]} */ ([]));
  const left = [...entries];
  for (let key = left.pop(); key !== undefined; key = left.pop()) {
    if (found.has(key)) continue;
    found.add(key);
    left.push(...(manifest[key]?.imports ?? []));
  }
  return found;
}

const GENERATED = '.svelte-kit/generated/client-optimized';

/**
 * The weight of each screen by its route, as the manifest of a build has it.
 *
 * @param {Record<string, Chunk>} manifest
 * @param {string} routes The generated list of routes with the numbers of their nodes: the page, then its layouts.
 * @param {(file: string) => number} sizeOf
 * @returns {Record<string, number>}
 */
export function weighScreens(manifest, routes, sizeOf) {
  const node = (/** @type {number | string} */ n) => `${GENERATED}/nodes/${n}.js`;
  const start = [`${GENERATED}/app.js`, 'node_modules/@sveltejs/kit/src/runtime/client/entry.js', node(0)];
  const all = [...routes.matchAll(/"(\/[^"]*)": \[~?(\d+)(?:,\s*\[([^\]]*)\])?/g)];
  if (!all.length) throw new Error('The generated list of routes has no route; its form has changed.');
  return Object.fromEntries(
    all.map(([, route, page, layouts = '']) => {
      const keys = [...start, ...[page, ...layouts.split(',').filter(Boolean)].map((n) => node(String(n)))];
      const missing = keys.find((key) => !manifest[key]);
      if (missing) throw new Error(`The manifest of the build has no ${missing}; its form has changed.`);
      const files = [...importedBy(manifest, keys)].map((key) => /** @type {Chunk} */ (manifest[key]).file);
      return [route, files.filter((file) => file.endsWith('.js')).reduce((sum, file) => sum + sizeOf(file), 0)];
    }),
  );
}

/** The weight of each screen of the build in a folder. @param {string} root @returns {Record<string, number>} */
export function weighBuild(root) {
  const client = join(root, '.svelte-kit', 'output', 'client');
  const manifest = join(client, '.vite', 'manifest.json');
  if (!existsSync(manifest)) throw new Error('There is no build to weigh: npm run build makes one.');
  return weighScreens(
    JSON.parse(readFileSync(manifest, 'utf8')),
    readFileSync(join(root, GENERATED, 'app.js'), 'utf8'),
    (file) => statSync(join(client, file)).size,
  );
}

/** The most that a screen may weigh, in bytes; all others have the last. @type {[RegExp, number][]} */
const MOST = [
  [/^\/studio$/, 300_000],
  [/^\/studio\/workbench\//, 900_000],
  [/./, 900_000],
];

/** Each screen that weighs more than it may, in words. @param {Record<string, number>} weights @returns {string[]} */
export const tooHeavy = (weights) =>
  Object.entries(weights).flatMap(([route, bytes]) => {
    const most = MOST.find(([pattern]) => pattern.test(route))?.[1] ?? 0;
    return bytes > most ? [`${route} loads ${bytes} bytes of code, the most is ${most}`] : [];
  });
