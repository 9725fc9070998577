import {
  CopyObjectCommand,
  DeleteObjectCommand,
  GetObjectCommand,
  HeadObjectCommand,
  ListObjectsV2Command,
  PutObjectCommand,
  S3Client,
  type ListObjectsV2CommandOutput,
} from '@aws-sdk/client-s3';
import { Upload } from '@aws-sdk/lib-storage';
import { createReadStream, createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import type { Readable } from 'node:stream';
import { buffer } from 'node:stream/consumers';
import { pipeline } from 'node:stream/promises';
import { log } from '../base/log';
import { Refusal } from '../base/refusal';
import { localPath } from './local';
import { storeAddress } from '../base/store-address';
import type { FileStore, Stored } from './file-store';
import { quietLibraries } from '../base/configuration';

const statusOf = (error: unknown): number | undefined =>
  (error as { $metadata?: { httpStatusCode?: number } }).$metadata?.httpStatusCode;

/** Bytes that are sent at once of a larger file; at least 5 MiB by the interface. */
const PIECE = 8 * 1024 * 1024;

/**
 * Files in an object store of the S3 interface, which answers requests that are signed (Signature Version 4). Names of
 * buckets stand in the path, and what every such store understands is asked alone: no checksums beside those of the
 * signature.
 */
export function objectStore(given: string): FileStore {
  const address = storeAddress(given);
  if (!address) throw new Error('PLUM_STORE is no address of a store.');
  const { endpoint, bucket: Bucket, prefix, region, key, secret } = address;
  quietLibraries();
  const client = new S3Client({
    endpoint,
    region,
    forcePathStyle: true,
    maxAttempts: 4,
    credentials: { accessKeyId: key, secretAccessKey: secret },
    requestChecksumCalculation: 'WHEN_REQUIRED',
    responseChecksumValidation: 'WHEN_REQUIRED',
  });
  const at = (name: string) => ({ Bucket, Key: prefix + name });
  const where = `${new URL(endpoint).host}/${Bucket}`;
  /** What is asked of the store. */
  const asked = async <T>(ask: () => Promise<T>): Promise<T> => {
    try {
      return await ask();
    } catch (error) {
      const status = statusOf(error);
      log().error({ store: where, status, error: (error as Error).name }, 'Object store request failed');
      throw new Refusal(
        503,
        status === 403
          ? `The store ${where} refuses the key that it is asked with. Whoever looks after the site must look at PLUM_STORE.`
          : `The store ${where}, in which pictures and files are kept, does not answer as it should. Try again in a moment.`,
      );
    }
  };
  /** The same of a file; undefined where it has none of that name. */
  const askedOf = <T>(ask: () => Promise<T>): Promise<T | undefined> =>
    asked<T | undefined>(() =>
      ask().catch((error: unknown) => {
        if (statusOf(error) === 404 && (error as Error).name !== 'NoSuchBucket') return undefined;
        throw error;
      }),
    );
  /** What stands right under a name, page by page. */
  async function* pagesUnder(under: string) {
    for (let next: string | undefined, first = true; first || next; first = false) {
      const asking = { Bucket, Prefix: prefix + under, Delimiter: '/', ContinuationToken: next };
      const page: ListObjectsV2CommandOutput = await asked(() => client.send(new ListObjectsV2Command(asking)));
      yield page;
      next = page.NextContinuationToken;
    }
  }
  const store: FileStore = {
    where,
    async take(path, name) {
      await asked(() =>
        new Upload({ client, params: { ...at(name), Body: createReadStream(path) }, partSize: PIECE }).done(),
      );
      await rm(path, { force: true });
    },
    put: async (name, bytes) =>
      void (await asked(() => client.send(new PutObjectCommand({ ...at(name), Body: bytes })))),
    has: async (name) => (await askedOf(() => client.send(new HeadObjectCommand(at(name))))) !== undefined,
    async read(name) {
      const found = await askedOf(() => client.send(new GetObjectCommand(at(name))));
      return found && { content: found.Body as Readable, size: Number(found.ContentLength ?? 0) };
    },
    async bytes(name) {
      const found = await store.read(name);
      return found && asked(() => buffer(found.content));
    },
    async local(name, use) {
      const found = await store.read(name);
      if (!found) return undefined;
      const path = await localPath();
      try {
        await asked(() => pipeline(found.content, createWriteStream(path)));
        return await use(path);
      } finally {
        await rm(path, { force: true });
      }
    },
    async *list(under) {
      for await (const { Contents = [] } of pagesUnder(under))
        for (const { Key, Size, LastModified } of Contents)
          if (Key && !Key.endsWith('/'))
            yield {
              name: Key.slice(prefix.length),
              size: Number(Size ?? 0),
              written: LastModified?.getTime() ?? 0,
            } satisfies Stored;
    },
    async folders(under) {
      const out: string[] = [];
      for await (const { CommonPrefixes = [] } of pagesUnder(under))
        for (const { Prefix } of CommonPrefixes)
          if (Prefix) out.push(Prefix.slice((prefix + under).length).replace(/\/$/, ''));
      return out;
    },
    async move(name, to) {
      const source = `${Bucket}/${prefix}${name}`.split('/').map(encodeURIComponent).join('/');
      await asked(() => client.send(new CopyObjectCommand({ ...at(to), CopySource: source })));
      await store.remove(name);
    },
    remove: async (name) => void (await askedOf(() => client.send(new DeleteObjectCommand(at(name))))),
  };
  return store;
}
