import { createServer } from '../../src/lib/server/application/create-server';
import { configurationFrom, type Configuration } from '../../src/lib/server/base/configuration';
import { Server } from '../../src/lib/server/base/server';

/** The server that tests work for just now: over no database until one is used. */
let active: Server = createServer(configurationFrom({}));

/** Stands for whichever server is used, since a test runs within one from its beginning to its end. */
const standIn = new Proxy(active, { get: (_, key) => Reflect.get(active, key) as unknown });

/** Runs tests for the server that they use. */
export const runForServer = <T>(body: () => T): T => Server.prototype.run.call(standIn, body) as T;

/** The server that tests work for just now. */
export const activeServer = (): Server => active;

/** The variables by which a process of its own works for the same database and files. */
export function environmentOf({ configuration }: Server = active): Record<string, string> {
  const { database, mediaFolder, objectStore } = configuration;
  return {
    ...(database && { PLUM_DATABASE: database }),
    PLUM_MEDIA: mediaFolder,
    ...(objectStore && { PLUM_STORE: objectStore }),
  };
}

/** Has all that follows work for a server that differs in this; gives what goes back to the one before, and closes it. */
export function useServer(changes: Partial<Configuration>): () => Promise<void> {
  const before = active;
  const own = createServer({ ...before.configuration, databasePatience: 60_000, ...changes });
  active = own;
  return async () => {
    await own.close();
    active = before;
  };
}
