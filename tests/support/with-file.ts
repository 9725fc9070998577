import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

/** Gives a file with this content to `use`, for as long as it takes. */
export async function withFile<T>(content: string | Uint8Array, use: (path: string) => Promise<T>): Promise<T> {
  const folder = mkdtempSync(join(tmpdir(), 'plum-thread-file-'));
  try {
    const path = join(folder, 'file');
    writeFileSync(path, content);
    return await use(path);
  } finally {
    rmSync(folder, { recursive: true, force: true });
  }
}
