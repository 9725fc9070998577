import { existsSync } from 'node:fs';
import { inOneLine, settle, tell } from './lib/operate.mjs';
import { stop } from './lib/setup.mjs';

// npm run restore -- FILE: fills an empty place from a backup, before the application is started or beside it.
const [file, ...more] = process.argv.slice(2);
if (!file || more.length) stop('Say which backup: npm run restore -- FILE');
if (!existsSync(file)) stop(`There is no file ${file}.`);
await settle();
const { prepareDatabase } = await import(new URL('../src/lib/server/services/start.ts', import.meta.url).href);
const { readBackup } = await import(new URL('../src/lib/server/exchange/backup/read.ts', import.meta.url).href);
const { ownerLink } = await import(new URL('../src/lib/server/people/first-link.ts', import.meta.url).href);
const { enterServer } = await import(new URL('../src/lib/server/application/create-server.ts', import.meta.url).href);
const server = enterServer();
try {
  await prepareDatabase();
  const done = await readBackup(file, {
    signal: new AbortController().signal,
    report: (/** @type {number} */ now, /** @type {number} */ total) =>
      tell(`${now} of ${total ?? '?'} rows and files`),
  });
  await prepareDatabase();
  console.log(
    `${process.stderr.isTTY ? '\n' : ''}Restored ${done.records} records of ${done.types} content types, ${done.media} files, ${done.templates} templates and ${done.releases ?? 'no'} releases. Visitors see the release that they saw.`,
  );
  const link = await ownerLink(server.configuration.origin);
  if (link) console.log(`No password is in this backup. Set the owner's here (good once, for an hour): ${link}`);
} catch (error) {
  stop(`Nothing was restored: ${inOneLine(error)}`);
} finally {
  await server.close();
}
