import commons from 'compress-commons';
import { PassThrough, type Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { crc32, deflateRawSync } from 'node:zlib';

/** As it is; its types say that it takes nothing. */
interface Entry extends InstanceType<typeof commons.ZipArchiveEntry> {
  setTime(at: Date): void;
}
type Added = (error: Error | null, entry: Entry) => void;
/** What the library's stream is made of, which its types leave out. */
interface OutputStream extends NodeJS.ReadWriteStream {
  offset: number;
  writableNeedDrain: boolean;
  entry(entry: Entry, source: Buffer | Readable, added: Added): void;
  finish(): void;
  _appendBuffer(entry: Entry, source: Buffer, added: Added): void;
  _writeLocalFileHeader(entry: Entry): void;
  _afterAppend(entry: Entry): void;
}
const ZipArchiveOutputStream = commons.ZipArchiveOutputStream as unknown as new (options: object) => OutputStream;
const ZipArchiveEntry = commons.ZipArchiveEntry as unknown as new (name: string) => Entry;

const DEFLATED = 8;
const STORED = 0;
const LEVEL = { level: 6 };
/** What is smaller is deflated at once; beyond, by the pieces, so that nobody waits for it. */
const SMALL = 65_536;
/** Bytes that are handed on at once. */
const HANDED_ON = 65_536;

/**
 * A stream of its own for each file, and some twenty writes for its header, cost several times what deflating it does: small
 * files are deflated in one go, and what is written is handed on by larger pieces.
 */
class Output extends ZipArchiveOutputStream {
  private pieces: Uint8Array[] = [];
  private waiting = 0;

  override write(piece: Uint8Array | string, ...more: unknown[]): boolean {
    const bytes = typeof piece === 'string' ? Buffer.from(piece) : piece;
    this.pieces.push(bytes);
    this.waiting += bytes.length;
    this.offset += bytes.length;
    return this.waiting < HANDED_ON && !more.length ? true : this.handOn(...more);
  }

  override end(): this {
    this.handOn();
    return super.end() as unknown as this;
  }

  override _appendBuffer(entry: Entry, source: Buffer, added: Added): void {
    if (entry.getMethod() !== DEFLATED || !source.length || source.length > SMALL)
      return super._appendBuffer(entry, source, added);
    const deflated = deflateRawSync(source, LEVEL);
    entry.getGeneralPurposeBit().useDataDescriptor(false);
    entry.setSize(source.length);
    entry.setCompressedSize(deflated.length);
    entry.setCrc(crc32(source));
    this._writeLocalFileHeader(entry);
    this.write(deflated);
    this._afterAppend(entry);
    if (this.writableNeedDrain) this.once('drain', () => added(null, entry));
    else added(null, entry);
  }

  private handOn(...more: unknown[]): boolean {
    const all = Buffer.concat(this.pieces);
    this.pieces = [];
    this.waiting = 0;
    // It is counted already.
    this.offset -= all.length;
    return (super.write as (piece: Buffer, ...more: unknown[]) => boolean).call(this, all, ...more);
  }
}

/** Bytes that wait to be written, so that entries need not wait for each small write. */
const WAITING = 4_000_000;

/**
 * A zip that is written while entries are added, one after the other, however many they are (ZIP64 where it takes that). What
 * goes wrong on its way is thrown by whatever is added after it, and by the end.
 */
export class Zip {
  private readonly zip = new Output({ zlib: LEVEL });
  /** What is read of it: the zip itself. */
  readonly output = new PassThrough({ highWaterMark: WAITING });
  private readonly passed = pipeline(this.zip, this.output);
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
      entry.setMethod(compress ? DEFLATED : STORED);
      entry.setTime(new Date());
      const source = typeof content === 'function' ? await content() : content;
      await new Promise<void>((done, failed) => {
        const end = () => failed(this.failure ?? new Error('The zip has ended.'));
        this.output.once('close', end);
        this.zip.entry(entry, source, (error) => {
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
