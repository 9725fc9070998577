import { spawn } from 'node:child_process';
import { ensurePackages, root } from './lib/setup.mjs';

ensurePackages();

/** The longest first; two run at a time, since most of them keep one core busy. @type {[string, string[]][]} */
const CHECKS = [
  ['lint', ['eslint', '.', '--max-warnings', '0']],
  ['types', ['svelte-check', '--output', 'machine', '--fail-on-warnings']],
  ['format', ['prettier', '--check', '.']],
  ['import directions', ['depcruise', 'src', '--output-type', 'err']],
  ['dead code', ['knip', '--no-progress']],
  ['weight of code', ['node', 'scripts/weight.mjs']],
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
const left = [...CHECKS];
async function work() {
  for (let next = left.shift(); next; next = left.shift()) {
    const [name, command] = next;
    const { code, output } = await run(command);
    console.log(`${code === 0 ? 'ok    ' : 'FAILED'} ${name}`);
    if (code !== 0) {
      failed++;
      console.log(output.trim());
    }
  }
}
await Promise.all([work(), work()]);
console.log(`check: ${CHECKS.length - failed} passed, ${failed} failed`);
process.exitCode = failed ? 1 : 0;
