import type { FileStore } from './file-store';
import { folderStore } from './folder-store';
import { objectStore } from './object-store';

let made: { of: string; store: FileStore } | undefined;

/** The store that `PLUM_STORE` names; the folder `PLUM_MEDIA` without. */
export function files(): FileStore {
  const { PLUM_STORE, PLUM_MEDIA } = process.env;
  const of = `${PLUM_STORE ?? ''}\n${PLUM_MEDIA ?? ''}`;
  if (made?.of !== of) made = { of, store: PLUM_STORE ? objectStore(PLUM_STORE) : folderStore() };
  return made.store;
}
