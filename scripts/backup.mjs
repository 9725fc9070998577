import { createWriteStream, existsSync } from 'node:fs';
import { rename, rm } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { inOneLine, settle, tell } from './lib/operate.mjs';
import { stop } from './lib/setup.mjs';

// npm run backup -- FILE [--with-people]: everything of this moment, whether the application runs or not.
const args = process.argv.slice(2);
const file = args.find((one) => !one.startsWith('-'));
const strange = args.filter((one) => one !== file && one !== '--with-people');
if (!file || strange.length)
  stop(
    `${strange.length ? `${strange.join(' ')} is nothing that this takes. ` : ''}Say where it goes: npm run backup -- FILE [--with-people]`,
  );
if (existsSync(file)) stop(`${file} is there already. Choose another name, or take it away first.`);
await settle();
const { writeBackup } = await import(new URL('../src/lib/server/exchange/backup/write.ts', import.meta.url).href);
const { enterServer } = await import(new URL('../src/lib/server/application/create-server.ts', import.meta.url).href);
const server = enterServer();
const half = `${file}.half`;
let last = { done: 0, total: 0, bytes: 0 };
try {
  const pieces = writeBackup({
    withPeople: args.includes('--with-people'),
    tell: (/** @type {typeof last} */ now) => {
      last = { ...now };
      tell(`${now.done} of ${now.total} rows and files, ${(now.bytes / 1e6).toFixed(1)} MB`);
    },
  });
  // Whoever reads it needs more than what the site shows.
  await pipeline(pieces, createWriteStream(half, { mode: 0o600 }));
  await rename(half, file);
  console.log(
    `${process.stderr.isTTY ? '\n' : ''}${file}: ${last.total} rows and files, ${(last.bytes / 1e6).toFixed(1)} MB.`,
  );
} catch (error) {
  await rm(half, { force: true });
  stop(`The backup was not written: ${inOneLine(error)}`);
} finally {
  await server.close();
}
