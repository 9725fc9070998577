// Writes what the typefaces that ship with the application measure, and those that readers' machines have in their stead,
// into the core. Run when one of them is renewed: node scripts/typefaces.mjs
import { entireMetricsCollection } from '@capsizecss/metrics/entireMetricsCollection';
import { fromFile } from '@capsizecss/unpack/fs';
import { existsSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root } from './lib/setup.mjs';

/** @type {Record<string, string>} */
const SHIPPED = {
  'Hanken Grotesk Variable': 'hanken-grotesk/files/hanken-grotesk-latin-wght-normal.woff2',
  'Fraunces Variable': 'fraunces/files/fraunces-latin-wght-normal.woff2',
  'JetBrains Mono Variable': 'jetbrains-mono/files/jetbrains-mono-latin-wght-normal.woff2',
};

/** What a family of each sort is stood in for by, wherever one of them is installed. @type {Record<string, string[]>} */
const INSTALLED = {
  'sans-serif': ['Arial', 'Roboto', 'DejaVu Sans'],
  serif: ['Times New Roman', 'Noto Serif', 'DejaVu Serif'],
  monospace: ['Courier New', 'DejaVu Sans Mono'],
};

/** Debian's package of these, which browsers there bring along. */
const DEJAVU = '/usr/share/fonts/truetype/dejavu';

/** @param {{ familyName: string, fullName: string, postscriptName: string, ascent: number, descent: number, lineGap: number, unitsPerEm: number, xWidthAvg: number }} metrics */
const kept = ({ familyName, fullName, postscriptName, ascent, descent, lineGap, unitsPerEm, xWidthAvg }) => ({
  familyName,
  fullName,
  postscriptName,
  ascent,
  descent,
  lineGap,
  unitsPerEm,
  xWidthAvg,
});

/** @param {string} name */
async function installed(name) {
  const known = Object.values(entireMetricsCollection).find((one) => one.familyName === name);
  if (known) return kept(/** @type {any} */ (known));
  const file = join(DEJAVU, `${name.replaceAll(' ', '')}.ttf`);
  if (!existsSync(file)) throw new Error(`${file} is not there: install fonts-dejavu-core.`);
  return kept(await fromFile(file));
}

const shipped = await Promise.all(
  Object.entries(SHIPPED).map(async ([family, file]) => [
    family,
    kept(await fromFile(join(root, 'node_modules', '@fontsource-variable', file))),
  ]),
);
const stead = await Promise.all(
  Object.entries(INSTALLED).map(async ([sort, names]) => [sort, await Promise.all(names.map(installed))]),
);
writeFileSync(
  join(root, 'src/lib/core/theme/metrics.json'),
  `${JSON.stringify({ shipped: Object.fromEntries(shipped), installed: Object.fromEntries(stead) }, null, 2)}\n`,
);
