import commons from 'compress-commons';
import { PassThrough, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';

/** As it is; its types say that it takes nothing. */
interface Entry extends InstanceType<typeof commons.ZipArchiveEntry> {
  setTime(at: Date): void;
}
const { ZipArchiveOutputStream } = commons;
const ZipArchiveEntry = commons.ZipArchiveEntry as unknown as new (name: string) => Entry;

/** Bytes that wait to be written, so that entries need not wait for each small write. */
const WAITING = 4_000_000;

/**
 * A zip that is written while entries are added, one after the other, however many they are (ZIP64 where it takes that). What
 * goes wrong on its way is thrown by whatever is added after it, and by the end.
 */
export class Zip {
  private readonly zip = new ZipArchiveOutputStream({ zlib: { level: 6 } } as object);
  /** What is read of it: the zip itself. */
  readonly output = new PassThrough({ highWaterMark: WAITING });
  private readonly passed = pipeline(this.zip as unknown as Readable, this.output);
  private last: Promise<void> = Promise.resolve();
  private failure: unknown;

  constructor() {
    // Told to whoever adds or ends.
    this.passed.catch((error: unknown) => this.fail(error));
    this.output.on('error', (error) => this.fail(error));
  }

  /** Something that it is written to has failed; nothing more comes of it. */
  fail(error: unknown): void {
    this.failure ??= error;
    this.output.destroy();
  }

  /** Adds an entry after those before it; a stream is asked for when it is its turn. Resolves once it is in. */
  add(name: string, content: Buffer | (() => Promise<Readable>), { compress = true } = {}): Promise<void> {
    const before = this.last;
    const own = (async () => {
      await before;
      this.throwFailure();
      const entry = new ZipArchiveEntry(name);
      entry.setMethod(compress ? 8 : 0);
      entry.setTime(new Date());
      const source = typeof content === 'function' ? await content() : content;
      await new Promise<void>((done, failed) => {
        const end = () => failed(this.failure ?? new Error('The zip has ended.'));
        this.output.once('close', end);
        this.zip.entry(entry, source as Buffer, (error) => {
          this.output.off('close', end);
          if (error) failed(error);
          else done();
        });
      });
    })();
    this.last = own;
    own.catch((error: unknown) => (this.failure ??= error));
    return own;
  }

  /** Ends it after everything that was added. */
  async end(): Promise<void> {
    await this.last;
    this.throwFailure();
    this.zip.finish();
    await this.passed;
  }

  /** The zip piece by piece, while `fill` adds to it; what goes wrong there is thrown here. */
  async *pieces(fill: () => Promise<void>): AsyncGenerator<Uint8Array> {
    const filled = fill().then(() => this.end());
    filled.catch((error: unknown) => this.fail(error));
    try {
      yield* this.output as AsyncIterable<Uint8Array>;
    } catch (error) {
      this.throwFailure();
      throw error;
    }
    await filled;
  }

  private throwFailure(): void {
    if (this.failure !== undefined)
      throw this.failure instanceof Error ? this.failure : new Error('The zip could not be written.');
  }
}
