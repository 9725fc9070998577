import { exposeInThread } from '../../threads/thread';
import { Packing, type PackWanted } from './packing';

/** Packs an export beside the thread that draws it. */
export const packThread = exposeInThread(import.meta.url, (wanted: PackWanted) => new Packing(wanted));
