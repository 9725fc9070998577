import { mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { closeDatabase } from '../src/lib/server/database/connect';
import { zipFiles } from '../src/lib/server/exchange/sources';
import { release } from '../src/lib/server/services/releases';
import { exportSite } from '../src/lib/server/site/export/export';
import { fillOne } from './support/fill';
import { pagesWithList } from './support/page';

/** A site of 10,000 record pages as a zip of files, beside writing the same bytes to disk. */
const PAGES = 10_000;
await fillOne('many', PAGES);
await pagesWithList(6);
await release();

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-export-bench-'));
const path = join(folder, 'site.zip');
const progress = { signal: new AbortController().signal, report: () => undefined };
const wanted = { path, base: 'body{margin:0}', site: 'https://a.example/', other: () => Promise.resolve(undefined) };
let highest = 0;
const watch = setInterval(() => (highest = Math.max(highest, process.memoryUsage.rss())), 100);
const began = performance.now();
const made = await exportSite(wanted, progress);
const took = (performance.now() - began) / 1000;
clearInterval(watch);

const files: [string, Buffer][] = [];
for await (const { name, bytes } of zipFiles(path, { each: 1e9, all: 4e9, wanted: () => true })) {
  const pieces: Uint8Array[] = [];
  for await (const piece of bytes) pieces.push(piece);
  files.push([join(folder, 'plain', name), Buffer.concat(pieces)]);
}
const wrote = performance.now();
for (const [name, bytes] of files) {
  mkdirSync(dirname(name), { recursive: true });
  writeFileSync(name, bytes);
}
const plain = (performance.now() - wrote) / 1000;
const megabytes = (bytes: number) => (bytes / 1e6).toFixed(1);
console.log(
  `\n${made?.pages} pages, ${made?.files} files, ${megabytes(made?.written ?? 0)} MB, as a zip of ${megabytes(statSync(path).size)} MB`,
);
console.log(
  `  export                 ${took.toFixed(1).padStart(7)} s   ${((made?.pages ?? 0) / took).toFixed(0)} pages/s, at most ${megabytes(highest)} MB of memory`,
);
console.log(`  the same bytes to disk ${plain.toFixed(1).padStart(7)} s   ratio ${(took / plain).toFixed(1)}`);
rmSync(folder, { recursive: true, force: true });
await closeDatabase();
