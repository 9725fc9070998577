import { randomBytes } from 'node:crypto';
import { notFound } from '../base/refusal';
import { addUpload, deleteUploadRow, uploadsOf, uploadById, oldUploads, type UploadRow } from '../queries/uploads';
import type { Readable } from 'node:stream';
import { files } from '../files/store';
import { WAITING } from '../files/tidy';

/** A file that waits among the files of the site for whoever sent it or had it made: to be imported, or to be taken home. */
export interface Upload {
  name: string;
  /** Bytes. */
  size: number;
}

/** Seconds that a file waits at most, and how many and how much one person may have waiting. */
const LONGEST = 24 * 3600;
const MOST_HELD = { files: 10, bytes: 1_000_000_000 };

async function drop({ id, file }: UploadRow): Promise<void> {
  await deleteUploadRow(id);
  await files().remove(file);
}

/** Lets go of what has waited for longer than a day. */
export async function deleteOldUploads(): Promise<void> {
  for (const row of await oldUploads(LONGEST)) await drop(row);
}

/** Makes room for another file of somebody: what has waited longest goes where they have too many. */
export async function makeRoomForUpload(by: number): Promise<void> {
  await deleteOldUploads();
  const own = await uploadsOf(by);
  let bytes = own.reduce((sum, { size }) => sum + size, 0);
  while (own.length >= MOST_HELD.files || bytes >= MOST_HELD.bytes) {
    const [oldest] = own.splice(0, 1);
    if (!oldest) return;
    bytes -= oldest.size;
    await drop(oldest);
  }
}

/** Keeps a local file for somebody, and gives what it is asked for by. */
export async function keepUpload(by: number, path: string, { name, size }: Upload): Promise<string> {
  const id = randomBytes(16).toString('base64url');
  const file = WAITING + randomBytes(9).toString('hex');
  await files().take(path, file);
  await addUpload({ id, accountId: by, file, name, size });
  return id;
}

const gone = () => notFound('file waiting under this name any more; send it, or have it made, again');

async function rowOf(id: string, by: number): Promise<UploadRow> {
  const row = await uploadById(id.slice(0, 100), LONGEST);
  if (row?.accountId !== by) throw gone();
  return row;
}

/** A file that waits; nobody else has it. */
export const uploadOf = async (id: string, by: number): Promise<Upload> => rowOf(id, by);

/** The same, as a local file for as long as `use` takes. */
export async function withUpload<T>(
  id: string,
  by: number,
  use: (path: string, held: Upload) => Promise<T>,
): Promise<T> {
  const row = await rowOf(id, by);
  // What `use` gives may be undefined too.
  const used = await files().local(row.file, async (path) => ({ made: await use(path, row) }));
  if (!used) throw gone();
  return used.made;
}

/** The same, piece by piece. */
export async function readUpload(id: string, by: number): Promise<Upload & { content: Readable }> {
  const row = await rowOf(id, by);
  const found = await files().read(row.file);
  if (!found) throw gone();
  return { ...row, ...found };
}

export async function deleteUpload(id: string): Promise<void> {
  const row = await uploadById(id, LONGEST);
  if (row) await drop(row);
}
