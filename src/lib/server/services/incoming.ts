import { createHash, randomBytes } from 'node:crypto';
import { mkdir, open, readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Refusal } from '../refusal';

/** Where pictures and files are kept. */
export const folder = (): string => process.env.PLUM_MEDIA ?? join('data', 'media');

/** Where files stand while they come in. */
const incoming = (): string => join(folder(), 'incoming');

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
  await mkdir(incoming(), { recursive: true });
  // Named after the process, so that what a dead one has left behind is known for what it is.
  const path = join(incoming(), `${process.pid}-${randomBytes(6).toString('hex')}`);
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

const alive = (pid: number): boolean => {
  try {
    process.kill(pid, 0);
    return true;
  } catch {
    return false;
  }
};

/** Clears away what processes that are gone were taking in. */
export async function tidyIncoming(): Promise<void> {
  for (const name of await readdir(incoming()).catch(() => []))
    if (!alive(Number(name.split('-')[0]))) await rm(join(incoming(), name), { force: true });
}
