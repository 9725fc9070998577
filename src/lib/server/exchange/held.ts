import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { notFound } from '../refusal';

/** A file that waits in the data folder for whoever sent it or had it made: to be imported, or to be taken home. */
interface Held {
  /** The account; 0 for the application itself. */
  by: number;
  path: string;
  name: string;
  /** Bytes. */
  size: number;
  since: number;
}

/** Milliseconds that a file waits at most, and how many and how much one person may have waiting. */
const LONGEST = 24 * 3_600_000;
const MOST_HELD = { files: 10, bytes: 1_000_000_000 };

const held = new Map<string, Held>();

const drop = async (id: string): Promise<void> => {
  const file = held.get(id);
  held.delete(id);
  if (file) await rm(file.path, { force: true });
};

/** Lets go of what has waited for longer than a day. */
async function letGo(): Promise<void> {
  for (const [id, { since }] of held) if (Date.now() - since > LONGEST) await drop(id);
}

/** Makes room for another file of somebody: what has waited longest goes where they have too many. */
export async function roomFor(by: number): Promise<void> {
  await letGo();
  const own = [...held].filter(([, file]) => file.by === by).sort(([, a], [, b]) => a.since - b.since);
  let bytes = own.reduce((sum, [, { size }]) => sum + size, 0);
  while (own.length >= MOST_HELD.files || bytes >= MOST_HELD.bytes) {
    const [oldest] = own.splice(0, 1);
    if (!oldest) return;
    bytes -= oldest[1].size;
    await drop(oldest[0]);
  }
}

/** Keeps a file for somebody, and gives what it is asked for by. */
export function hold(by: number, { path, name, size }: Pick<Held, 'path' | 'name' | 'size'>): string {
  const id = randomBytes(16).toString('base64url');
  held.set(id, { by, path, name, size, since: Date.now() });
  return id;
}

/** A file that waits; nobody else has it. */
export function heldFile(id: string, by: number): Held {
  const file = held.get(id);
  if (!file || file.by !== by || Date.now() - file.since > LONGEST)
    throw notFound('file waiting under this name any more; send it, or have it made, again');
  return file;
}

export const forgetHeld = drop;
