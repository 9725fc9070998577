import { exposeInThread } from '../threads/thread';
import { RowReader } from './row-reader';
import type { SourceFile } from './sources';

/** Reads a file to import in a thread of its own, so that whatever it holds keeps nobody waiting. */
export const readThread = exposeInThread(import.meta.url, (file: SourceFile) => new RowReader(file));
