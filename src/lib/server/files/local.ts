import { createHash, randomBytes } from 'node:crypto';
import { mkdir, open, readdir, rm, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { Refusal } from '../base/refusal';
import { configuration } from '../base/server';

/** The folder of this process: files come in there, and are made there before they are kept. Without another store they are kept in it too. */
export const folder = (): string => configuration().mediaFolder;

/** Where files stand while they come in, or are made. */
const incoming = (): string => join(folder(), 'incoming');

/** A path for a file that comes in or is made; whoever asked for it takes it away again. */
export async function localPath(ending = ''): Promise<string> {
  await mkdir(incoming(), { recursive: true });
  return join(incoming(), randomBytes(9).toString('hex') + ending);
}

export interface Received {
  path: string;
  /** Bytes. */
  size: number;
  /** SHA-256, hexadecimal. */
  hash: string;
}

export const megabytes = (bytes: number): string =>
  `${(bytes / 1_000_000).toLocaleString('en', { maximumFractionDigits: 1 })} MB`;

/** Takes a file in piece by piece, up to `most` bytes. Nothing is left of one that breaks off, is empty or too large. */
export async function receive(name: string, content: AsyncIterable<Uint8Array>, most: number): Promise<Received> {
  const path = await localPath();
  const hash = createHash('sha256');
  let size = 0;
  try {
    const file = await open(path, 'w');
    try {
      for await (const piece of content) {
        size += piece.length;
        if (size > most)
          throw new Refusal(413, `“${name}” is larger than ${megabytes(most)}, which is the most that is taken.`);
        hash.update(piece);
        await file.write(piece);
      }
    } finally {
      await file.close();
    }
    if (!size) throw new Refusal(422, `“${name}” is empty.`);
  } catch (error) {
    await rm(path, { force: true });
    throw error;
  }
  return { path, size, hash: hash.digest('hex') };
}

const ageOf = (path: string): Promise<number> =>
  stat(path).then(
    ({ mtimeMs }) => Date.now() - mtimeMs,
    () => 0,
  );

/** Clears away what came in longer ago than so many milliseconds. Whose process it was says nothing: numbers of processes recur. */
export async function tidyIncoming(longest: number): Promise<void> {
  for (const name of await readdir(incoming()).catch(() => []))
    if ((await ageOf(join(incoming(), name))) > longest) await rm(join(incoming(), name), { force: true });
}
