import { randomUUID } from 'node:crypto';
import { createReadStream } from 'node:fs';
import { copyFile, mkdir, readdir, readFile, rename, rm, rmdir, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { folder } from './local';
import type { FileStore, Stored } from './file-store';

const codeOf = (error: unknown) => (error as NodeJS.ErrnoException).code;

/** What is not there, or undefined; other errors stand. */
const orNothing = (error: unknown): undefined => {
  if (['ENOENT', 'ENOTDIR'].includes(codeOf(error) ?? '')) return undefined;
  throw error;
};

/** Files in a folder, which processes on several machines may share. */
export function folderStore(): FileStore {
  const pathOf = (name: string): string => join(folder(), name);
  /** Written aside and moved, so that no reader ever meets half of it; by a name of its own, since others make the same one. */
  const aside = (name: string): string => `${pathOf(name)}.${randomUUID()}`;
  const within = async <T>(name: string, write: () => Promise<T>): Promise<T> => {
    try {
      return await write();
    } catch (error) {
      if (codeOf(error) !== 'ENOENT') throw error;
      await mkdir(dirname(pathOf(name)), { recursive: true });
      return write();
    }
  };
  return {
    where: folder(),
    take: (path, name) =>
      within(name, async () => {
        try {
          await rename(path, pathOf(name));
        } catch (error) {
          if (codeOf(error) !== 'EXDEV') throw error;
          const copy = aside(name);
          await copyFile(path, copy);
          await rename(copy, pathOf(name));
          await rm(path);
        }
      }),
    put: (name, bytes) =>
      within(name, async () => {
        const written = aside(name);
        await writeFile(written, bytes);
        await rename(written, pathOf(name));
      }),
    has: (name) =>
      stat(pathOf(name))
        .then(() => true, orNothing)
        .then(Boolean),
    async read(name) {
      const found = await stat(pathOf(name)).catch(orNothing);
      return found && { size: found.size, content: createReadStream(pathOf(name)) };
    },
    bytes: (name) => readFile(pathOf(name)).catch(orNothing),
    async local(name, use) {
      return (await stat(pathOf(name)).catch(orNothing)) ? use(pathOf(name)) : undefined;
    },
    async *list(under) {
      for (const entry of (await readdir(pathOf(under), { withFileTypes: true }).catch(orNothing)) ?? []) {
        if (!entry.isFile()) continue;
        const name = under + entry.name;
        const found = await stat(pathOf(name)).catch(orNothing);
        if (found) yield { name, size: found.size, written: found.mtimeMs } satisfies Stored;
      }
    },
    folders: async (under) =>
      ((await readdir(pathOf(under), { withFileTypes: true }).catch(orNothing)) ?? [])
        .filter((entry) => entry.isDirectory())
        .map(({ name }) => name),
    move: (name, to) => within(to, () => rename(pathOf(name), pathOf(to))),
    async remove(name) {
      await rm(pathOf(name), { force: true });
      // A folder that nothing is in any more.
      if (name.includes('/')) await rmdir(dirname(pathOf(name))).catch(() => undefined);
    },
  };
}
