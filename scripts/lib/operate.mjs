import { register } from 'tsx/esm/api';
import { ensurePackages, stop } from './setup.mjs';

/**
 * Settings as the application reads them, for a program that works on its database beside it; ends with one line for each that is wrong.
 * @returns {Promise<void>}
 */
export async function settle() {
  ensurePackages();
  register();
  const { readSettings, serverEnv } = await import(
    new URL('../../src/lib/server/base/settings.ts', import.meta.url).href
  );
  const read = readSettings(process.env);
  if ('wrong' in read)
    stop(
      `A setting is wrong. docs/running.md lists them all.\n${read.wrong.map((/** @type {string} */ line) => `  ${line}`).join('\n')}`,
    );
  Object.assign(process.env, serverEnv(read.settings));
}

/** What went wrong, in one line that says what to do where that is known. @param {unknown} error */
export function inOneLine(error) {
  const { title, message, problems = [] } = /** @type {any} */ (error);
  const more = problems
    .slice(0, 20)
    .map((/** @type {any} */ one) => `\n  ${[one.at, one.what, one.fix].filter(Boolean).join(': ')}`)
    .join('');
  return `${title ?? message ?? error}${more}`;
}

/** Says how far something is, over the line before where somebody watches. @param {string} text */
export function tell(text) {
  if (process.stderr.isTTY) process.stderr.write(`\r${text.padEnd(70)}`);
}
