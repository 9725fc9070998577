import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { ensurePackages, root, runTypeScript } from './lib/setup.mjs';

ensurePackages();
// Named ones, or all: npm run bench -- draw
const wanted = process.argv.slice(2);
for (const file of readdirSync(join(root, 'bench')).sort()) {
  const name = file.replace(/\.ts$/, '');
  if (!wanted.length || wanted.includes(name)) runTypeScript(join('bench', file), [], { NODE_ENV: 'production' });
}
