import { spawn, spawnSync } from 'node:child_process';
import { once } from 'node:events';
import { createHash } from 'node:crypto';
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from 'node:fs';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { take } from './lock.mjs';
import { step } from './steps.mjs';

export const root = join(dirname(fileURLToPath(import.meta.url)), '..', '..');

/** Says what is wrong and how to go on, and ends with 1. @param {string} message @returns {never} */
export function stop(message) {
  console.error(message);
  process.exit(1);
}

/** Debian packages by what they are needed for. @type {Record<string, {package: string, found: () => boolean}>} */
const DEBIAN = {
  database: { package: 'mariadb-server', found: () => onPath('mariadbd') && onPath('mariadb-install-db') },
  browser: { package: 'chromium', found: () => onPath('chromium') },
};

const PATHS = [
  '/usr/local/sbin',
  '/usr/local/bin',
  '/usr/sbin',
  '/usr/bin',
  '/sbin',
  '/bin',
  ...(process.env.PATH ?? '').split(':'),
];

/** The full path of a program, or undefined. @param {string} name */
export const programPath = (name) => PATHS.map((folder) => join(folder, name)).find((path) => existsSync(path));

/** @param {string} name */
const onPath = (name) => programPath(name) !== undefined;

/** Installs the Debian packages that are missing, or says how to. @param {...('database' | 'browser')} needs */
export function ensureDebian(...needs) {
  const missing = needs
    .map((need) => /** @type {{package: string, found: () => boolean}} */ (DEBIAN[need]))
    .filter((entry) => !entry.found());
  if (!missing.length) return;
  const names = missing.map((entry) => entry.package);
  const install = `apt-get install -y --no-install-recommends ${names.join(' ')}`;
  if (process.getuid?.() !== 0)
    stop(`Debian packages are missing. Run this once, then try again:\n  sudo sh -c 'apt-get update && ${install}'`);
  console.error(`Installing ${names.join(' and ')} from Debian (a minute or two, once) …`);
  const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
  for (const command of ['apt-get update', install]) {
    const done = spawnSync('sh', ['-c', command], { env, encoding: 'utf8' });
    if (done.status !== 0)
      stop(`This did not work:\n  ${command}\n${(done.stderr || done.stdout).trim().split('\n').slice(-5).join('\n')}`);
  }
  const still = missing.filter((entry) => !entry.found());
  if (still.length)
    stop(`${still.map((e) => e.package).join(', ')} is installed, but its programs are not to be found.`);
}

/** Installs npm packages from the lock file where they are missing or older than it. */
export function ensurePackages() {
  const stamp = join(root, 'node_modules', '.plum-thread-lock');
  const lock = createHash('sha256')
    .update(readFileSync(join(root, 'package-lock.json')))
    .digest('hex');
  if (existsSync(stamp) && readFileSync(stamp, 'utf8') === lock) return;
  const from = Date.now();
  console.error('Installing npm packages from the lock file (a minute or two, once) …');
  // Not `npm ci`: it insists on entries for every foreign platform's binaries, which not every registry carries.
  const done = spawnSync('npm', ['install', '--no-save', '--no-audit', '--no-fund'], { cwd: root, encoding: 'utf8' });
  if (done.status !== 0) stop(`npm install did not work:\n${done.stderr.trim().split('\n').slice(-12).join('\n')}`);
  writeFileSync(stamp, lock);
  console.error(`  done after ${Math.round((Date.now() - from) / 1000)} s`);
}

/** @param {string} path @param {import('node:crypto').Hash} hash */
function addToHash(path, hash) {
  const full = join(root, path);
  if (!existsSync(full)) return;
  if (statSync(full).isDirectory()) for (const name of readdirSync(full).sort()) addToHash(join(path, name), hash);
  else hash.update(path).update(readFileSync(full));
}

/** Builds the application unless it was built from just these sources. Two builds at once take turns. */
export async function ensureBuild() {
  const cache = join(root, '.cache', 'build');
  let release = await take(cache);
  for (; !release; release = await take(cache)) await new Promise((done) => setTimeout(done, 500));
  try {
    const hash = createHash('sha256');
    for (const path of ['src', 'static', 'package.json', 'package-lock.json', 'svelte.config.js', 'vite.config.ts'])
      addToHash(path, hash);
    const state = hash.digest('hex');
    const stamp = join(root, 'build', '.built-from');
    if (existsSync(stamp) && readFileSync(stamp, 'utf8') === state) return;
    await step('Building (a minute or two, only after a change)', async () => {
      const done = spawn('npx', ['vite', 'build'], { cwd: root, stdio: ['ignore', 'pipe', 'pipe'] });
      let said = '';
      done.stdout.on('data', (data) => (said += data));
      done.stderr.on('data', (data) => (said += data));
      const code = await new Promise((ended) => done.once('close', ended));
      if (code !== 0) stop(`The build did not work:\n${said.trim().split('\n').slice(-30).join('\n')}`);
      writeFileSync(stamp, state);
    });
  } finally {
    release();
  }
}

/**
 * Runs a TypeScript file of the project. This process goes on meanwhile: it may be what the file asks. Rejects where it does not end well.
 * @param {string} file @param {string[]} args @param {Record<string, string>} env @returns {Promise<void>}
 */
export async function runTypeScript(file, args, env) {
  const child = spawn(process.execPath, ['--import', 'tsx', join(root, file), ...args], {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'inherit', 'inherit'],
  });
  const [code, signal] = await once(child, 'exit');
  if (code !== 0) throw new Error(`${file} has ended with ${code ?? signal}.`);
}
