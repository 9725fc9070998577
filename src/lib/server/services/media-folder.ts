import { createHash, randomBytes, randomUUID } from 'node:crypto';
import { mkdir, open, readdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { join, relative } from 'node:path';
import { Refusal } from '../refusal';

/** Where pictures and files are kept. */
export const folder = (): string => process.env.PLUM_MEDIA ?? join('data', 'media');

/** Where files stand while they come in. */
const incoming = (): string => join(folder(), 'incoming');

/** Where files stand that wait to be taken home. */
const waiting = (): string => join(folder(), 'outgoing');

/** A path for a file that is made to be taken home. */
export async function outgoing(ending: string): Promise<string> {
  await mkdir(waiting(), { recursive: true });
  return join(waiting(), `${randomBytes(9).toString('hex')}.${ending}`);
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
  await mkdir(incoming(), { recursive: true });
  const path = join(incoming(), randomBytes(9).toString('hex'));
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

/** How long a transfer may take before what stands there of it is taken for a leftover, in milliseconds. */
const LONGEST_TRANSFER = 24 * 3_600_000;

const ageOf = (path: string): Promise<number> =>
  stat(path).then(
    ({ mtimeMs }) => Date.now() - mtimeMs,
    () => 0,
  );

/** Clears away what came in or waits since more than a day. Whose process it was says nothing: numbers of processes recur. */
export async function tidyIncoming(): Promise<void> {
  for (const place of [incoming(), waiting()])
    for (const name of await readdir(place).catch(() => []))
      if ((await ageOf(join(place, name))) > LONGEST_TRANSFER) await rm(join(place, name), { force: true });
}

/** What a file in this folder is called, whatever the folder. */
export const nameWithin = (path: string): string => relative(folder(), path);

/** The path of a kept file. */
export const pathOf = (file: string): string => join(folder(), file);

/**
 * Keeps what was made of a file. Written aside and moved, so that no reader ever meets half of it; by a name of its own,
 * since others make the same one.
 */
export async function keepMade(path: string, bytes: Uint8Array): Promise<void> {
  const aside = `${path}.${randomUUID()}`;
  await writeFile(aside, bytes);
  await rename(aside, path);
}

/** The name of a picture's rendition; it begins as the file does that it is made of. */
export const renditionName = (file: string, width: number, format: string): string =>
  `${stemOf(file)}-${width}.${format}`;

const stemOf = (name: string): string => name.replace(/(-\d+)?\.\w+$/, '');

/** Names that this application gives: the SHA-256 of the content, and renditions, formerly by number. */
const OWN = /^([0-9a-f]{64}(-\d+)?|\d+-\d+)\.\w+$/;

const isOriginal = (name: string): boolean => /^[0-9a-f]{64}\./.test(name);

/** Where files stand that no row knows, in a folder for each day on which they were put there. */
const aside = (): string => join(folder(), 'put-aside');
const DAYS_ASIDE = 30;
/** Of more files than this, half must be known, or it is rather the database that is the wrong one. */
const FEW = 4;

export interface Tidied {
  /** Files that were put aside, brought back, and deleted after their time. */
  aside: number;
  back: number;
  deleted: number;
  /** Why nothing was put aside, where there was reason not to. */
  refused?: string;
}

/**
 * Puts files aside that no row knows, for 30 days, and brings back those that a row knows again. Files that the
 * application has not named itself are left alone, and so are all where most are unknown: with the wrong database, or an
 * empty one, nothing in the folder is known.
 */
export async function tidyFolder(known: readonly string[]): Promise<Tidied> {
  await tidyIncoming();
  const stems = new Set(known.map(stemOf));
  const isKnown = (name: string) => stems.has(stemOf(name));
  const tidied: Tidied = { aside: 0, back: 0, deleted: 0 };
  const days = (await readdir(aside()).catch(() => [])).filter((name) => /^\d{4}-\d\d-\d\d$/.test(name));
  for (const day of days)
    for (const name of await readdir(join(aside(), day)).catch(() => [])) {
      if (!isKnown(name)) continue;
      await rename(join(aside(), day, name), pathOf(name));
      tidied.back++;
    }
  const own = (await readdir(folder()).catch(() => [])).filter((name) => OWN.test(name));
  const unknown: string[] = [];
  // A minute, since another process may be about to write the row.
  for (const name of own) if (!isKnown(name) && (await ageOf(pathOf(name))) > 60_000) unknown.push(name);
  // Renditions that were once named by number say nothing of the database; they are made again when they are asked for.
  const [all, strange] = [own.filter(isOriginal).length, unknown.filter(isOriginal).length];
  if (strange > Math.max(FEW, all / 2)) {
    tidied.refused = `Of ${all} files in ${folder()} the database knows ${all - strange}. It may be the wrong database, or the wrong folder; nothing was put aside.`;
    return tidied;
  }
  const today = new Date().toISOString().slice(0, 10);
  if (unknown.length) await mkdir(join(aside(), today), { recursive: true });
  for (const name of unknown) {
    await rename(pathOf(name), join(aside(), today, name));
    tidied.aside++;
  }
  for (const day of days) {
    if (Date.now() - Date.parse(day) <= DAYS_ASIDE * 86_400_000) continue;
    tidied.deleted += (await readdir(join(aside(), day)).catch(() => [])).length;
    await rm(join(aside(), day), { recursive: true, force: true });
  }
  return tidied;
}
