import { configurationFrom, type Configuration } from '../base/configuration';
import { Server } from '../base/server';
import { serveJobs, type JobKind } from '../jobs/jobs';
import { sharedCaches } from '../queries/shared-caches';

/**
 * A server of its own over what this configuration names: its database, files, caches, jobs and mail, which nothing else in
 * the process shares. Nothing is connected before it is asked for. Whoever asks anything of it does so within `run`;
 * `close` ends it.
 */
export function createServer(configuration: Configuration, jobKinds: readonly JobKind[] = []): Server {
  const server = new Server(configuration);
  server.run(() => {
    // From the beginning, so that they are told of everything that is written.
    sharedCaches();
    serveJobs(jobKinds);
  });
  return server;
}

/** A server for a script: all that follows in the script works for it. What the environment says, but for `changes`. */
export function enterServer(changes: Partial<Configuration> = {}): Server {
  const server = createServer({ ...configurationFrom(), ...changes });
  server.enter();
  return server;
}
