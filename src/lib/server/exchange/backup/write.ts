import { Readable } from 'node:stream';
import { inSnapshot, type PlainRow, type Snapshot } from '../../queries/snapshot';
import { migrations } from '../../database/migrations';
import { asideOrThere } from '../../files/tidy';
import { files } from '../../files/store';
import { Zip } from '../../files/zip';
import { BACKUP_TABLES, partOf, VERSION, type BackupTable } from './tables';

/** How far a backup is. */
export interface BackupProgress {
  /** Rows and files, of so many in all. */
  done: number;
  total: number;
  /** Bytes of the zip so far. */
  bytes: number;
}

export interface BackupOptions {
  /** With what lets people in: passwords as their hashes, passkeys, codes. */
  withPeople?: boolean;
  /** Told every so often. */
  tell?: (progress: BackupProgress) => void;
  /** Told once, when the moment is settled of which this is the backup. */
  begun?: () => Promise<void> | void;
  signal?: AbortSignal;
}

/** Rows between two times at which it is told how far it is. */
const TOLD_EVERY = 1000;

/** Everything there is at one moment, as a zip: each table row by row, and the files of the library under the hash of their content. */
export async function* writeBackup({
  withPeople = false,
  tell,
  begun,
  signal,
}: BackupOptions = {}): AsyncGenerator<Uint8Array> {
  const zip = new Zip();
  const progress: BackupProgress = { done: 0, total: 0, bytes: 0 };
  const step = () => {
    signal?.throwIfAborted();
    if (++progress.done % TOLD_EVERY === 0) tell?.(progress);
  };
  const write = async (snapshot: Snapshot): Promise<void> => {
    await begun?.();
    const tables = BACKUP_TABLES.filter(({ secret }) => withPeople || !secret);
    const rows: Record<string, number> = {};
    for (const { name } of tables) rows[name] = await snapshot.count(name);
    progress.total = Object.values(rows).reduce((sum, n) => sum + n, rows.media ?? 0);
    const head = {
      format: 'plum-thread-backup',
      version: VERSION,
      schema: migrations.at(-1)?.name,
      withPeople,
      rows,
      created: new Date().toISOString(),
    };
    await zip.add('backup.json', Buffer.from(`${JSON.stringify(head, null, 1)}\n`));
    const media: { file: string; mime: string }[] = [];
    for (const table of tables) {
      const lines = tableLines(snapshot, table, withPeople, (row, columns) => {
        step();
        if (table.name === 'media')
          media.push({ file: row[columns.indexOf('file')] ?? '', mime: row[columns.indexOf('mime')] ?? '' });
      });
      await zip.add(partOf(table.name), () => Promise.resolve(Readable.from(lines, { objectMode: false })));
    }
    const missing: string[] = [];
    for (const { file, mime } of media) {
      // Pictures are packed already.
      if (!(await addFile(zip, file, !mime.startsWith('image/') || mime === 'image/svg+xml'))) missing.push(file);
      step();
    }
    if (missing.length) await zip.add('missing.json', Buffer.from(`${JSON.stringify(missing, null, 1)}\n`));
    tell?.(progress);
  };
  for await (const piece of zip.pieces(() => inSnapshot(write))) {
    progress.bytes += piece.length;
    tell?.(progress);
    yield piece;
  }
}

/** One line with the names of the columns, and one for each row. */
async function* tableLines(
  snapshot: Snapshot,
  { name, secrets = [], left = [] }: BackupTable,
  withPeople: boolean,
  seen: (row: PlainRow, columns: readonly string[]) => void,
): AsyncGenerator<string> {
  const columns = (await snapshot.columns(name)).filter(
    (one) => !left.includes(one) && (withPeople || !secrets.includes(one)),
  );
  yield `${JSON.stringify(columns)}\n`;
  let text = '';
  for await (const row of snapshot.rows(name, columns)) {
    seen(row, columns);
    text += `${JSON.stringify(row)}\n`;
    if (text.length < 65_536) continue;
    yield text;
    text = '';
  }
  if (text) yield text;
}

/** Adds a file of the library, wherever it lies by now; false where it is gone. */
async function addFile(zip: Zip, file: string, compress: boolean): Promise<boolean> {
  const at = await asideOrThere(file);
  if (at === undefined) return false;
  await zip.add(
    `media/${file}`,
    // One file after the other is opened, when it is its turn.
    async () => {
      const found = await files().read(at);
      if (!found) throw new Error(`${file} has gone while it was copied.`);
      return found.content;
    },
    { compress },
  );
  return true;
}
