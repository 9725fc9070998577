import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { createWriteStream, mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { setImmediate } from 'node:timers/promises';
import fc from 'fast-check';
import JSZip from 'jszip';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { zipFiles } from '../../src/lib/server/exchange/sources';
import { Zip } from '../../src/lib/server/files/zip';

let folder: string;
beforeAll(() => {
  folder = mkdtempSync(join(tmpdir(), 'plum-zip-'));
});
afterAll(() => rmSync(folder, { recursive: true, force: true }));

async function readBack(path: string): Promise<Map<string, Buffer>> {
  const files = new Map<string, Buffer>();
  for await (const { name, bytes } of zipFiles(path, { each: 1e9, all: 1e9, wanted: () => true })) {
    const pieces: Uint8Array[] = [];
    for await (const piece of bytes) pieces.push(piece);
    files.set(name, Buffer.concat(pieces));
  }
  return files;
}

const content = fc.oneof(
  fc.uint8Array({ maxLength: 50 }),
  fc.constantFrom(0, 1, 65_535, 65_536, 65_537, 200_000).map((length) => new Uint8Array(length).fill(97)),
  fc.integer({ min: 1, max: 90_000 }).map((length) => Uint8Array.from({ length }, (_, i) => (i * i) % 251)),
);
const entries = fc.uniqueArray(
  fc.record({
    name: fc
      .constantFrom('a', 'hütte', '山小屋', 'x/y', 'καταφύγιο')
      .chain((word) => fc.nat(999).map((n) => `${word}-${n}.txt`)),
    content,
    stream: fc.boolean(),
    compress: fc.boolean(),
  }),
  { maxLength: 12, selector: ({ name }) => name },
);

describe('a zip', () => {
  it('has what was put into it, small and large, as it is or deflated, whole or as a stream, for another program too', async () => {
    const path = join(folder, 'a.zip');
    await fc.assert(
      fc.asyncProperty(entries, async (wanted) => {
        const zip = new Zip();
        const written = pipeline(zip.output, createWriteStream(path));
        await Promise.all(
          wanted.map(({ name, content, stream, compress }) =>
            zip.add(
              name,
              stream ? () => Promise.resolve(Readable.from([Buffer.from(content)])) : Buffer.from(content),
              {
                compress,
              },
            ),
          ),
        );
        await zip.end();
        await written;
        const read = await readBack(path);
        expect([...read.keys()]).toEqual(wanted.map(({ name }) => name));
        for (const { name, content } of wanted) expect(read.get(name)?.equals(content), name).toBe(true);
        // By a general-purpose library that compares checksums as well.
        const other = await JSZip.loadAsync(readFileSync(path), { checkCRC32: true });
        const files = Object.values(other.files).filter(({ dir }) => !dir);
        expect(files.map(({ name }) => name)).toEqual(wanted.map(({ name }) => name));
        for (const { name, content } of wanted)
          expect(Buffer.from(await other.file(name)!.async('uint8array')).equals(content), name).toBe(true);
      }),
      { numRuns: 60 },
    );
  });

  it('waits for whoever reads it, so that it never stands in memory as a whole', async () => {
    const zip = new Zip();
    let added = 0;
    const all = Array.from({ length: 400 }, (_, i) =>
      // What hardly gets smaller: 24 MB in all.
      zip.add(`${i}`, randomBytes(60_000)).then(() => added++),
    );
    const first = await once(zip.output, 'readable').then(async () => {
      // Whoever adds has all the time there is, and nobody reads.
      let before = -1;
      while (before !== added) {
        before = added;
        for (let n = 0; n < 50; n++) await setImmediate();
      }
      return added;
    });
    expect(first).toBeGreaterThan(40);
    expect(first).toBeLessThan(150);
    let bytes = 0;
    zip.output.on('data', (piece: Buffer) => (bytes += piece.length));
    await Promise.all(all);
    await zip.end();
    expect([added, bytes > 24_000_000]).toEqual([400, true]);
  });

  it('tells whoever adds that it cannot be written any more', async () => {
    const zip = new Zip();
    await zip.add('a', Buffer.from('a'));
    zip.fail(new Error('ENOSPC: no space left on device'));
    await expect(zip.add('b', randomBytes(9000))).rejects.toThrow('ENOSPC');
    await expect(zip.end()).rejects.toThrow('ENOSPC');
  });
});
