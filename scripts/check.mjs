import { spawn } from 'node:child_process';
import { ensurePackages, root } from './lib/setup.mjs';

ensurePackages();

/** @type {[string, string[]][]} */
const CHECKS = [
  ['types', ['svelte-check', '--output', 'machine', '--fail-on-warnings']],
  ['lint', ['eslint', '.', '--max-warnings', '0']],
  ['format', ['prettier', '--check', '.']],
  ['import directions', ['depcruise', 'src', '--output-type', 'err']],
  ['dead code', ['knip', '--no-progress']],
];

/** @param {string[]} command @returns {Promise<{ code: number | null, output: string }>} */
const run = (command) =>
  new Promise((done) => {
    let output = '';
    const child = spawn('npx', command, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
    child.stdout.on('data', (data) => (output += data));
    child.stderr.on('data', (data) => (output += data));
    child.once('close', (code) => done({ code, output }));
  });

await run(['svelte-kit', 'sync']);
let failed = 0;
for (const [name, command] of CHECKS) {
  const { code, output } = await run(command);
  console.log(`${code === 0 ? 'ok    ' : 'FAILED'} ${name}`);
  if (code !== 0) {
    failed++;
    console.log(output.trim());
  }
}
console.log(`check: ${CHECKS.length - failed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
