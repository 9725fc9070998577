import { perServer } from '../base/server';
import type { FileStore } from './file-store';
import { folderStore } from './folder-store';
import { objectStore } from './object-store';

/** The store that `PLUM_STORE` names; the folder `PLUM_MEDIA` without. */
export const files = perServer(({ objectStore: address }): FileStore =>
  address ? objectStore(address) : folderStore(),
);
