import { constants } from 'node:fs';
import { access, mkdir, rm, writeFile } from 'node:fs/promises';
import { randomUUID } from 'node:crypto';
import { join } from 'node:path';
import { NewerTables } from '../database/migrate';
import { folder } from '../files/local';

/** What MariaDB refuses a connection or a statement with, and what whoever runs the application does about it. */
const BY_NUMBER: Record<number, string> = {
  1044: 'The account in PLUM_DATABASE may not use this database. Give it rights: GRANT ALL ON name.* TO user.',
  1045: 'The database refuses the account or the password in PLUM_DATABASE. Signs such as @ : / % # in a password are written as %40 %3A %2F %25 %23.',
  1049: 'The database that PLUM_DATABASE names does not exist. Make it: CREATE DATABASE name CHARACTER SET utf8mb4.',
  1142: 'The account in PLUM_DATABASE may not make or change tables. Give it rights: GRANT ALL ON name.* TO user.',
  1227: 'The account in PLUM_DATABASE lacks rights. Give it rights: GRANT ALL ON name.* TO user.',
  1698: 'The database refuses the account in PLUM_DATABASE; it may be one that signs in by the system alone. Make one with a password.',
};

/** One line about why the application cannot start, without any secret; undefined where it is not known. */
export function startProblem(error: unknown): string | undefined {
  if (error instanceof NewerTables || error instanceof Unwritable) return error.message;
  const { original, errno } = error as { original?: { errno?: number }; errno?: number };
  return BY_NUMBER[original?.errno ?? errno ?? 0];
}

export class Unwritable extends Error {}

/** Asks whether files can be written where they are to be; throws `Unwritable` where not. */
export async function checkFolder(): Promise<void> {
  const at = folder();
  const mark = join(at, `.writable-${randomUUID()}`);
  try {
    await mkdir(at, { recursive: true });
    await access(at, constants.W_OK | constants.X_OK);
    await writeFile(mark, '');
    await rm(mark, { force: true });
  } catch (error) {
    const { code = '' } = error as NodeJS.ErrnoException;
    throw new Unwritable(
      `Nothing can be written into ${at} (${code}). Give PLUM_MEDIA a folder that belongs to whoever runs the application, with room on its disk.`,
    );
  }
}
