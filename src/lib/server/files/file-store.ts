import type { Readable } from 'node:stream';

/** A file as it is kept. */
export interface Stored {
  name: string;
  /** Bytes. */
  size: number;
  /** When it was written, in milliseconds since 1970. */
  written: number;
}

/**
 * Where pictures and files are kept, by names of letters, digits, `.`, `-` and `/`. Whoever reads meets a file whole or
 * not at all. Many processes keep theirs in one.
 */
export interface FileStore {
  /** What it is called where somebody is told of it. */
  readonly where: string;
  /** Takes a local file in, which is gone from where it was. */
  take(path: string, name: string): Promise<void>;
  put(name: string, bytes: Uint8Array): Promise<void>;
  has(name: string): Promise<boolean>;
  /** A file piece by piece; undefined where there is none of this name. Who does not read it to its end destroys it. */
  read(name: string): Promise<{ content: Readable; size: number } | undefined>;
  bytes(name: string): Promise<Buffer | undefined>;
  /** Gives a local file with the same content, for as long as `use` takes; undefined where there is none. */
  local<T>(name: string, use: (path: string) => Promise<T>): Promise<T | undefined>;
  /** Files right under a name that ends with a slash, or those under none. */
  list(under: string): AsyncIterable<Stored>;
  /** Names right under a name that others are under, without slashes. */
  folders(under: string): Promise<string[]>;
  move(name: string, to: string): Promise<void>;
  /** Nothing happens where there is none. */
  remove(name: string): Promise<void>;
}
