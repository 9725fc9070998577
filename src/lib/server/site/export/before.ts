import { randomBytes } from 'node:crypto';
import { promisify } from 'node:util';
import { gunzip, gzip } from 'node:zlib';
import { files } from '../../files/store';
import { exportRow, exportRows, noteExport } from '../../queries/exports';
import { Refusal } from '../../base/refusal';
import type { Manifest } from './packing';

/** Where manifests stand among the files. */
const MANIFESTS = 'exports/';

/** The last export for each address, the newest first; the address is empty where none was given. */
export const exportsBefore = async (): Promise<{ site: string; made: string; pages: number }[]> =>
  (await exportRows()).map(({ site, made, pages }) => ({ site, made: made.toISOString(), pages }));

/** What the last export for an address came to. Refused where there was none. */
export async function manifestBefore(site: string): Promise<Manifest> {
  const row = await exportRow(site);
  const packed = row && (await files().bytes(row.file));
  if (!packed)
    throw new Refusal(422, 'The site cannot be exported so.', [
      {
        at: 'changed',
        what: site
          ? `There is no export for ${site} before this one.`
          : 'There is no export without an address before this one.',
        fix: 'Export all files.',
      },
    ]);
  return new Map(JSON.parse((await promisify(gunzip)(packed)).toString()) as [string, string][]);
}

/** Keeps what an export came to, for the next one to the same address. */
export async function keepManifest(site: string, pages: number, manifest: Manifest): Promise<void> {
  const file = `${MANIFESTS}${randomBytes(9).toString('hex')}`;
  const before = await exportRow(site);
  await files().put(file, await promisify(gzip)(JSON.stringify([...manifest])));
  await noteExport({ site, made: new Date(), pages, file });
  if (before) await files().remove(before.file);
}
