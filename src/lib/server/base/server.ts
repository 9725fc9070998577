import { AsyncLocalStorage } from 'node:async_hooks';
import type { Configuration } from './configuration';

/** How something that each server has of its own is built, and closed. */
interface Part<T> {
  build(configuration: Configuration): T;
  close?(built: T): unknown;
}

/**
 * One server: its configuration, and whatever modules keep for it, such as connections, caches and timers. Whoever works
 * within `run` works for this server, through every `await`, timer and callback that is begun there, so that two servers in
 * one process share nothing. See docs/decisions/0036.
 */
export class Server {
  private readonly parts = new Map<Part<unknown>, unknown>();

  constructor(readonly configuration: Configuration) {}

  /** Runs `body` for this server. */
  run<T>(body: () => T): T {
    return current.run(this, body);
  }

  /** The rest of the program that calls this works for this server: for scripts, which have one. */
  enter(): void {
    current.enterWith(this);
  }

  part<T>(part: Part<T>): T {
    if (!this.parts.has(part)) this.parts.set(part, part.build(this.configuration));
    return this.parts.get(part) as T;
  }

  /** Closes what was built, the last first. What is asked for after that is built anew. */
  async close(): Promise<void> {
    const built = [...this.parts].reverse();
    this.parts.clear();
    await this.run(async () => {
      for (const [part, value] of built) await part.close?.(value);
    });
  }
}

const current = new AsyncLocalStorage<Server>();

/** The server that is worked for just now. Throws outside of `Server.run`. */
export function currentServer(): Server {
  const server = current.getStore();
  if (!server) throw new Error('No server is worked for here; run this within Server.run().');
  return server;
}

/** What the operator says about the server that is worked for just now. */
export const configuration = (): Configuration => currentServer().configuration;

/**
 * What is made piece by piece for the server that is worked for now, whoever takes the pieces: a response is sent after
 * whoever answered has left `run`.
 */
export function forServer<T>(pieces: AsyncIterable<T>): AsyncIterableIterator<T> {
  const server = currentServer();
  const own = server.run(() => pieces[Symbol.asyncIterator]());
  return {
    next: () => server.run(() => own.next()),
    return: (value) =>
      server.run(() => own.return?.(value) ?? Promise.resolve<IteratorResult<T>>({ done: true, value })),
    [Symbol.asyncIterator]() {
      return this;
    },
  };
}

/**
 * Something that each server has of its own. Gives a function that gives it to whoever works for a server: built when it is
 * first asked for, closed with the server.
 */
export function perServer<T>(build: (configuration: Configuration) => T, close?: (built: T) => unknown): () => T {
  const part: Part<T> = { build, ...(close && { close }) };
  return () => currentServer().part(part);
}
