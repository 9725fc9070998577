import type { FileStore } from './file-store';
import { tidyIncoming } from './local';
import { files } from './store';

/** The name of a picture's rendition; it begins as the file does that it is made of. */
export const renditionName = (file: string, width: number, format: string): string =>
  `${stemOf(file)}-${width}.${format}`;

const stemOf = (name: string): string => name.replace(/(-\d+)?\.\w+$/, '');

/** Names that this application gives: the SHA-256 of the content, and renditions, formerly by number. */
const OWN = /^([0-9a-f]{64}(-\d+)?|\d+-\d+)\.\w+$/;

const isOriginal = (name: string): boolean => /^[0-9a-f]{64}\./.test(name);

/** Where files stand that wait for somebody: to be imported, or to be taken home. */
export const WAITING = 'outgoing/';
/** How long one may wait, or be on its way, before it is taken for a leftover, in milliseconds. */
const LONGEST = 24 * 3_600_000;

/** Where files stand that no row knows, in a folder for each day on which they were put there. */
const ASIDE = 'put-aside/';
const DAYS_ASIDE = 30;
/** Of more files than this, half must be known, or it is rather the database that is the wrong one. */
const FEW = 4;

export interface Tidied {
  /** Files that were put aside, brought back, and deleted after their time. */
  aside: number;
  back: number;
  deleted: number;
  /** Why nothing was put aside, where there was reason not to. */
  refused?: string;
}

/** Where a file of the library lies: in its place, or put aside; undefined where it is gone. */
export async function asideOrThere(file: string): Promise<string | undefined> {
  const store = files();
  if (await store.has(file)) return file;
  for (const day of await store.folders(ASIDE))
    if (await store.has(`${ASIDE}${day}/${file}`)) return `${ASIDE}${day}/${file}`;
  return undefined;
}

async function namesIn(store: FileStore, under: string): Promise<string[]> {
  const out: string[] = [];
  for await (const { name } of store.list(under)) out.push(name.slice(under.length));
  return out;
}

/**
 * Puts files aside that no row knows, for 30 days, and brings back those that a row knows again. Files that the
 * application has not named itself are left alone, and so are all where most are unknown: with the wrong database, or an
 * empty one, nothing in the store is known.
 */
export async function tidyFiles(known: readonly string[]): Promise<Tidied> {
  await tidyIncoming(LONGEST);
  const store = files();
  for await (const { name, written } of store.list(WAITING))
    if (Date.now() - written > LONGEST) await store.remove(name);
  const stems = new Set(known.map(stemOf));
  const isKnown = (name: string) => stems.has(stemOf(name));
  const tidied: Tidied = { aside: 0, back: 0, deleted: 0 };
  const days = (await store.folders(ASIDE)).filter((name) => /^\d{4}-\d\d-\d\d$/.test(name));
  for (const day of days)
    for (const name of await namesIn(store, `${ASIDE}${day}/`)) {
      if (!isKnown(name)) continue;
      await store.move(`${ASIDE}${day}/${name}`, name);
      tidied.back++;
    }
  let all = 0;
  const unknown: string[] = [];
  for await (const { name, written } of store.list('')) {
    if (!OWN.test(name)) continue;
    if (isOriginal(name)) all++;
    // A minute, since another process may be about to write the row.
    if (!isKnown(name) && Date.now() - written > 60_000) unknown.push(name);
  }
  // Renditions that were once named by number say nothing of the database; they are made again when they are asked for.
  const strange = unknown.filter(isOriginal).length;
  if (strange > Math.max(FEW, all / 2)) {
    tidied.refused = `Of ${all} files in ${store.where} the database knows ${all - strange}. It may be the wrong database, or the wrong place; nothing was put aside.`;
    return tidied;
  }
  const today = new Date().toISOString().slice(0, 10);
  for (const name of unknown) {
    await store.move(name, `${ASIDE}${today}/${name}`);
    tidied.aside++;
  }
  for (const day of days) {
    if (Date.now() - Date.parse(day) <= DAYS_ASIDE * 86_400_000) continue;
    for (const name of await namesIn(store, `${ASIDE}${day}/`)) {
      await store.remove(`${ASIDE}${day}/${name}`);
      tidied.deleted++;
    }
  }
  return tidied;
}
