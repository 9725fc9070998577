import { perServer } from '../base/server';

/** A question to the database about what state the content is in, with the time at which it was put. */
export interface VersionRequest {
  from: number;
  version: Promise<string>;
}

interface LastVersion {
  known: { version: string; requestedAt: number } | undefined;
  request: VersionRequest | undefined;
}

/** What the database said last, and what it is asked just now. */
export const lastVersion = perServer((): LastVersion => ({ known: undefined, request: undefined }));

/** To be called after anything has been written here, and where another database is meant. */
export function versionMoved(): void {
  const last = lastVersion();
  last.known = undefined;
  // Whoever waits for this question gets its answer; nobody else does.
  last.request = undefined;
}
