import { mkdirSync, mkdtempSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { zipFiles } from '../src/lib/server/exchange/sources';
import { release } from '../src/lib/server/services/releases';
import { exportSite } from '../src/lib/server/site/export/export';
import { fillOne } from './support/fill';
import { pagesWithList } from './support/page';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/** A site of 10,000 record pages as a zip of files, beside writing the same bytes to disk. */
const PAGES = 10_000;
await fillOne('many', PAGES);
await pagesWithList(6);
await release();

const folder = mkdtempSync(join(tmpdir(), 'plum-thread-export-bench-'));
const path = join(folder, 'site.zip');
const megabytes = (bytes: number) => (bytes / 1e6).toFixed(1);
const progress = { signal: new AbortController().signal, report: () => undefined };
const wanted = { path, base: 'body{margin:0}', site: 'https://a.example/', other: () => Promise.resolve(undefined) };
const ROUNDS = 3;
let highest = 0;
const watch = setInterval(() => (highest = Math.max(highest, process.memoryUsage.rss())), 100);
const timed = async <Of>(does: () => Of): Promise<[Awaited<Of>, number]> => {
  const began = performance.now();
  return [await does(), (performance.now() - began) / 1000];
};

async function filesOfZip(): Promise<[string, Buffer][]> {
  const files: [string, Buffer][] = [];
  for await (const { name, bytes } of zipFiles(path, { each: 1e9, all: 4e9, wanted: () => true })) {
    const pieces: Uint8Array[] = [];
    for await (const piece of bytes) pieces.push(piece);
    files.push([name, Buffer.concat(pieces)]);
  }
  return files;
}
function write(files: [string, Buffer][], to: string): void {
  for (const [name, bytes] of files) {
    mkdirSync(dirname(join(to, name)), { recursive: true });
    writeFileSync(join(to, name), bytes);
  }
}

// By turns: what a disk does with the same files may take twenty times as long a moment later.
const exports: number[] = [];
const plain: number[] = [];
let said = '';
for (let round = 0; round < ROUNDS; round++) {
  const [made, took] = await timed(() => exportSite(wanted, progress));
  exports.push(took);
  const files = await filesOfZip();
  plain.push((await timed(() => write(files, join(folder, String(round)))))[1]);
  rmSync(join(folder, String(round)), { recursive: true });
  said = `${made?.pages} pages, ${made?.files} files, ${megabytes(made?.written ?? 0)} MB, as a zip of ${megabytes(statSync(path).size)} MB`;
}
clearInterval(watch);
const middle = (all: number[]) => all.toSorted((a, b) => a - b)[Math.floor(all.length / 2)] as number;
const row = (all: number[]) =>
  `${middle(all).toFixed(1).padStart(7)} s   ${all.map((one) => one.toFixed(1)).join(', ')}`;
console.log(`\n${said}; in the middle of ${ROUNDS} rounds`);
console.log(`  export                 ${row(exports)}, at most ${megabytes(highest)} MB of memory`);
console.log(`  the same bytes to disk ${row(plain)}`);
console.log(`  ratio                  ${(middle(exports) / middle(plain)).toFixed(1).padStart(7)}     aim: 10`);
rmSync(folder, { recursive: true, force: true });
await server.close();
