import { ensureBuild, ensurePackages, root } from './lib/setup.mjs';
import { tooHeavy, weighBuild } from './lib/weigh.mjs';

ensurePackages();
await ensureBuild();
const weights = weighBuild(root);
for (const [route, bytes] of Object.entries(weights).sort(([, a], [, b]) => b - a))
  console.log(`${String(Math.round(bytes / 1000)).padStart(5)} kB ${route}`);
const heavy = tooHeavy(weights);
for (const words of heavy) console.error(words);
process.exitCode = heavy.length ? 1 : 0;
