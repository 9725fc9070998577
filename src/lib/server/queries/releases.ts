import type { Transaction } from 'sequelize';
import { run, select } from '../database/connect';

/** The design of a release, as JSON. */
export async function designOf(id: number, transaction?: Transaction): Promise<unknown> {
  const [row] = await select<{ design: unknown }>('SELECT design FROM releases WHERE id = ?', [id], transaction);
  return row?.design;
}

/** All designs, held to the end of the transaction. */
export const lockDesigns = (transaction: Transaction): Promise<{ id: number; design: unknown }[]> =>
  select<{ id: number; design: unknown }>('SELECT id, design FROM releases ORDER BY id FOR UPDATE', [], transaction);

/** Writes a design in another form. */
export const rewriteDesign = (id: number, design: string, transaction: Transaction): Promise<void> =>
  run('UPDATE releases SET design = ? WHERE id = ?', [design, id], transaction);

export interface ReleaseRow {
  id: number;
  created: Date;
  note: string;
  changes: unknown;
  pages: number | null;
}

/** Releases with the newest first. */
export const releaseRows = (limit: number, offset: number): Promise<ReleaseRow[]> =>
  select<ReleaseRow>('SELECT id, created, note, changes, pages FROM releases ORDER BY id DESC LIMIT ? OFFSET ?', [
    limit,
    offset,
  ]);

/** Created, note, design and changes as JSON, pages; its number. */
export async function insertRelease(row: unknown[], transaction: Transaction): Promise<number> {
  const [made] = await select<{ id: number }>(
    'INSERT INTO releases (created, note, design, changes, pages) VALUES (?) RETURNING id',
    [row],
    transaction,
  );
  return made!.id;
}

export interface FormerRow {
  typeId: string;
  base: string;
  address: string;
}

/** How addresses were made before, the newest first. */
export const formerAddresses = (): Promise<FormerRow[]> =>
  select<FormerRow>('SELECT type_id AS typeId, base, address FROM former_addresses ORDER BY id DESC');

/** Notes how addresses were made until now. The newest stands last, however often it was used before. */
export async function noteFormerAddresses(rows: FormerRow[], transaction: Transaction): Promise<void> {
  if (!rows.length) return;
  const plain = rows.map(({ typeId, base, address }) => [typeId, base, address]);
  await run('DELETE FROM former_addresses WHERE (type_id, base, address) IN (?)', [plain], transaction);
  await run('INSERT INTO former_addresses (type_id, base, address) VALUES ?', [plain], transaction);
}
