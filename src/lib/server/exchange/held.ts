import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { notFound } from '../refusal';
import { addHeld, forgetHeldRow, heldBy, heldById, heldTooLong, type HeldRow } from '../queries/held';
import { nameWithin, pathOf } from '../services/media-folder';

/** A file that waits in the data folder for whoever sent it or had it made: to be imported, or to be taken home. */
export interface Held {
  path: string;
  name: string;
  /** Bytes. */
  size: number;
}

/** Seconds that a file waits at most, and how many and how much one person may have waiting. */
const LONGEST = 24 * 3600;
const MOST_HELD = { files: 10, bytes: 1_000_000_000 };

async function drop({ id, file }: HeldRow): Promise<void> {
  await forgetHeldRow(id);
  await rm(pathOf(file), { force: true });
}

/** Lets go of what has waited for longer than a day. */
export async function forgetLongHeld(): Promise<void> {
  for (const row of await heldTooLong(LONGEST)) await drop(row);
}

/** Makes room for another file of somebody: what has waited longest goes where they have too many. */
export async function roomFor(by: number): Promise<void> {
  await forgetLongHeld();
  const own = await heldBy(by);
  let bytes = own.reduce((sum, { size }) => sum + size, 0);
  while (own.length >= MOST_HELD.files || bytes >= MOST_HELD.bytes) {
    const [oldest] = own.splice(0, 1);
    if (!oldest) return;
    bytes -= oldest.size;
    await drop(oldest);
  }
}

/** Keeps a file for somebody, and gives what it is asked for by. */
export async function hold(by: number, { path, name, size }: Held): Promise<string> {
  const id = randomBytes(16).toString('base64url');
  await addHeld({ id, accountId: by, file: nameWithin(path), name, size });
  return id;
}

/** A file that waits; nobody else has it. */
export async function heldFile(id: string, by: number): Promise<Held> {
  const row = await heldById(id.slice(0, 100), LONGEST);
  if (row?.accountId !== by) throw notFound('file waiting under this name any more; send it, or have it made, again');
  return { path: pathOf(row.file), name: row.name, size: row.size };
}

export async function forgetHeld(id: string): Promise<void> {
  const row = await heldById(id, LONGEST);
  if (row) await drop(row);
}
