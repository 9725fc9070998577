import type { Transaction } from 'sequelize';
import type { Media } from '../../core/schema/record';
import { run, select } from '../database/connect';
import { table } from '../database/tables';

/** What is known of a picture or file, as the core sees it. */
const COLUMNS = 'id, name, mime, width, height, alt, size, focal_x AS focalX, focal_y AS focalY, lightest, darkest';

export type StoredMedia = Media & { file: string };

export const loadMedia = async (ids: readonly number[], transaction?: Transaction): Promise<Media[]> =>
  ids.length ? select<Media>(`SELECT ${COLUMNS} FROM media WHERE id IN (?)`, [ids], transaction) : [];

/** A picture or file with the name of its file in the folder of media. */
export const storedMedia = async (id: number): Promise<StoredMedia | undefined> =>
  (await select<StoredMedia>(`SELECT ${COLUMNS}, file FROM media WHERE id = ?`, [id]))[0];

/** What has these bytes, by their SHA-256. */
export const mediaWithHash = async (hash: string): Promise<Media | undefined> =>
  (await select<Media>(`SELECT ${COLUMNS} FROM media WHERE hash = ?`, [hash]))[0];

export const mediaNamed = (
  names: readonly string[],
  transaction: Transaction,
): Promise<{ id: number; name: string }[]> =>
  select<{ id: number; name: string }>('SELECT id, name FROM media WHERE name IN (?)', [names], transaction);

/** Media with the newest first, by a `LIKE` pattern (with `!` before `%` and `_`) of name or alternative text. */
export async function searchMedia(
  part: string,
  { pictures, limit, offset }: { pictures: boolean; limit: number; offset: number },
): Promise<{ media: Media[]; total: number }> {
  const where = `(name LIKE ? ESCAPE '!' OR alt LIKE ? ESCAPE '!')${pictures ? " AND mime LIKE 'image/%'" : ''}`;
  const [media, [count]] = await Promise.all([
    select<Media>(`SELECT ${COLUMNS} FROM media WHERE ${where} ORDER BY id DESC LIMIT ? OFFSET ?`, [
      part,
      part,
      limit,
      offset,
    ]),
    select<{ n: number }>(`SELECT COUNT(*) AS n FROM media WHERE ${where}`, [part, part]),
  ]);
  return { media, total: Number(count?.n ?? 0) };
}

/** The first media by number. */
export const firstMedia = (limit: number): Promise<Media[]> =>
  select<Media>(`SELECT ${COLUMNS} FROM media ORDER BY id LIMIT ?`, [limit]);

/** Numbers of the newest pictures, or of the newest files that are none. */
export const newestMedia = async (what: 'pictures' | 'files', limit: number): Promise<number[]> =>
  (
    await select<{ id: number }>(
      `SELECT id FROM media WHERE mime ${what === 'pictures' ? '' : 'NOT '}LIKE 'image/%' ORDER BY id DESC LIMIT ?`,
      [limit],
    )
  ).map(({ id }) => id);

/** The names of all files that a row knows, also a row that was removed and may come back. */
export async function filesKnown(): Promise<string[]> {
  const [there, removed] = await Promise.all([
    select<{ file: string }>('SELECT file FROM media'),
    select<{ data: string }>("SELECT data FROM removed_rows WHERE table_name = 'media'"),
  ]);
  return [...there, ...removed.map((row) => JSON.parse(row.data) as { file: string })].map(({ file }) => file);
}

export const isPicture = (mime: string): boolean => mime.startsWith('image/');

/** Pictures of which it is not known how light and how dark they are, by number from after one. */
export const withoutColours = (after: number, limit: number): Promise<{ id: number; file: string; mime: string }[]> =>
  select<{ id: number; file: string; mime: string }>(
    "SELECT id, file, mime FROM media WHERE id > ? AND lightest IS NULL AND mime LIKE 'image/%' ORDER BY id LIMIT ?",
    [after, limit],
  );

export const writeColours = (id: number, lightest: string, darkest: string): Promise<unknown> =>
  run('UPDATE media SET lightest = ?, darkest = ? WHERE id = ?', [lightest, darkest, id]);

/** Name, MIME type, width, height, alternative text, file, size, hash, created, and its lightest and darkest colour. */
export async function insertMedia(row: unknown[], transaction: Transaction): Promise<number> {
  const [made] = await select<{ id: number }>(
    'INSERT INTO media (name, mime, width, height, alt, file, size, hash, created, lightest, darkest) VALUES (?) RETURNING id',
    [row],
    transaction,
  );
  return made!.id;
}

/** Those of these that are there, held to the end of the transaction. */
export const lockMedia = (ids: readonly number[], transaction: Transaction): Promise<{ id: number; name: string }[]> =>
  select<{ id: number; name: string }>('SELECT id, name FROM media WHERE id IN (?) FOR UPDATE', [ids], transaction);

/** Takes pictures away from the terms and authors that have them. */
export async function takePicturesOff(ids: readonly number[], transaction: Transaction): Promise<void> {
  for (const table of ['terms', 'authors'])
    await run(`UPDATE ${table} SET picture_id = NULL WHERE picture_id IN (?)`, [ids], transaction);
}

/** Sets what is said of a picture or file. */
export const updateMedia = async (
  id: number,
  columns: Pick<Media, 'name' | 'alt' | 'focalX' | 'focalY'>,
  transaction: Transaction,
): Promise<void> => {
  await table('media').update(columns, { where: { id }, transaction });
};
