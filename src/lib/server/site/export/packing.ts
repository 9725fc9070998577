import { createHash } from 'node:crypto';
import { createWriteStream } from 'node:fs';
import { stat } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { counted } from '../../../core/base/counted';
import { escapeHtml } from '../../../core/base/text';
import {
  fileFor,
  FILE_ORIGIN,
  linkTo,
  relink,
  relinkJson,
  relinkPage,
  type Relinking,
} from '../../../core/serving/files';
import { Zip } from '../../files/zip';
import { metaPolicy } from '../policy';

/** What an export came to: a hash of each of its files, by their names. */
export type Manifest = ReadonlyMap<string, string>;

const hashOfFile = (content: Uint8Array): string =>
  createHash('sha256').update(content).digest('base64url').slice(0, 22);

/** A file that a page needs, such as a picture. */
export interface SiteFile {
  bytes: Uint8Array;
  /** Ending of its name, with a dot, where its address has none. */
  ending?: string;
}

/** A file with its address. */
export type FoundFile = SiteFile & { address: string };

/** Something that leads to addresses of the site, which stand in it as on the site, or as whole ones of `FILE_ORIGIN`. */
export interface Text {
  /** Its address with its question, or the name of its file where it has none. */
  address: string;
  /** A page; a page that is shown at any address; a style sheet; or JSON or XML. */
  as: 'page' | 'missing' | 'sheet' | 'data';
  content: string;
  /** What the page's answer has in its policy. */
  css?: string;
  players?: readonly string[];
}

/** What texts lead to and was not told before. */
export interface LedTo {
  /** Addresses of files. */
  assets: string[];
  /** Addresses of further pages of their lists. */
  further: string[];
}

export interface PackWanted {
  /** Where the zip goes. */
  path: string;
  /** Where the site will be, with a slash at the end. */
  site?: string;
  /** What the export before came to, where only what differs from it is wanted. */
  before?: Manifest;
}

export interface Packed {
  files: number;
  /** Of the zip. */
  bytes: number;
  /** Bytes of what is in it, before it was packed. */
  written: number;
  /** What is not in it, in sentences. */
  left: string[];
  manifest: Manifest;
}

/** Names the files of the export before that are no longer of the site. */
const GONE = 'no-longer-there.txt';
/** Bytes of the zip that are written at once. */
const WRITTEN_AT_ONCE = 1_000_000;
/** Further pages of lists, for each page. */
const MOST_ASKED = 200;
/** Lost links that are told. */
const TOLD = 20;

/** A question that leads to another page of one list, without what it says of others, as they stand in `now`. */
export function oneListOnly(link: string, now: string): string {
  const wanted = [...new URLSearchParams(link.slice(1))];
  if (wanted.length < 2) return link;
  const here = new URLSearchParams(now);
  const changed = wanted.filter(([key, value]) => here.get(key) !== value);
  return `?${new URLSearchParams(changed.length ? changed : wanted.slice(0, 1))}`;
}

/** A page with the policy that its answer has as a header. */
const withPolicy = (html: string, { css, players }: Text): string =>
  html.replace('<meta charset="utf-8">', (meta) => meta + metaPolicy(css, players));

/** Each list is paged by itself, or there would be a file for every state that several lists can be in together. */
function listsApart(html: string, address: string): string {
  const [path = '/', question = ''] = address.split('?');
  return html.replace(
    / href="(\?[^"]*)"/g,
    (_, link: string) => ` href="${path}${escapeHtml(oneListOnly(link.replaceAll('&amp;', '&'), question))}"`,
  );
}

const ASSETS =
  /(?:"|, |\(|')((?:http:\/\/files\.invalid)?\/(?:media|player|_app|styles\/icon|styles\/faces)[^"\s,)']*)/g;
const SHEET_ASSETS = /url\(["']?(\/(?!\/)[^"')]+)/g;
const FURTHER = / href="([^"]+)"[^>]*rel="(?:next|prev)"|rel="next" href="([^"]+)"/g;

/**
 * The zip of an exported site while it is made: what was drawn is looked through for what it leads to, its links are made
 * anew for the files it goes into, and it is packed and written. Knows neither the database nor the design, so that it may
 * run in a thread of its own.
 */
export class Packing {
  private readonly zip = new Zip();
  private readonly written: Promise<void>;
  private readonly files = new Set<string>();
  private readonly manifest = new Map<string, string>();
  /** Endings of files whose address has none. */
  private readonly types: Record<string, string> = {};
  private readonly told = new Set<string>();
  private readonly linked = new Set<string>();
  /** By address; one whose ending is not known yet is asked for only after that. */
  private readonly targets = new Map<string, string>();
  /** Taken in and not added yet, as they were taken in together. */
  private readonly looked: (readonly Text[])[] = [];
  private bytes = 0;

  constructor(private readonly wanted: PackWanted) {
    const file = createWriteStream(wanted.path, { highWaterMark: WRITTEN_AT_ONCE });
    this.written = pipeline(this.zip.output, file);
    // Told by whatever is added next.
    this.written.catch((error: unknown) => this.zip.fail(error));
  }

  /** Takes texts in, and tells what they lead to that was not told before. */
  look(texts: readonly Text[]): LedTo {
    const led: LedTo = { assets: [], further: [] };
    const isNew = (address: string) => !this.told.has(address) && Boolean(this.told.add(address));
    const looked = texts.map((text) =>
      text.as === 'page' ? { ...text, content: listsApart(text.content, text.address) } : text,
    );
    for (const { as, content } of looked) {
      for (const [, found = ''] of content.matchAll(as === 'sheet' ? SHEET_ASSETS : ASSETS)) {
        const path = found.replace(FILE_ORIGIN, '');
        if (isNew(path)) led.assets.push(path);
      }
      if (as !== 'page') continue;
      let further = 0;
      for (const [, a, b] of content.matchAll(FURTHER)) {
        const next = (a ?? b ?? '').replaceAll('&amp;', '&');
        if (further < MOST_ASKED && next.startsWith('/') && isNew(next)) {
          led.further.push(next);
          further++;
        }
      }
    }
    this.looked.push(looked);
    return led;
  }

  /** Adds files. Resolves once they are in the zip. */
  async addFiles(files: readonly FoundFile[]): Promise<void> {
    await Promise.all(
      files.map(({ address, bytes, ending }) => {
        if (ending) this.types[address] = ending;
        const name = fileFor(address, this.types);
        return this.add(name, Buffer.from(bytes), /\.(svg|html|css|xml|json)$/.test(name));
      }),
    );
  }

  /**
   * Adds the texts that were taken in together before all others, with their links made anew: files that these were the
   * first to lead to were added before. Resolves once they are in the zip.
   */
  async addLooked(): Promise<void> {
    await Promise.all(
      (this.looked.shift() ?? []).map((text) => {
        const name = text.address.startsWith('/') ? fileFor(text.address) : text.address;
        return this.add(name, Buffer.from(this.relinked(text, this.relinking(name))));
      }),
    );
  }

  private relinked(text: Text, how: Relinking): string {
    const { as, content } = text;
    switch (as) {
      case 'page':
        return withPolicy(relinkPage(content, how), text);
      case 'missing':
        return withPolicy(relinkPage(content, { ...how, whole: true }), text);
      case 'sheet':
        return content.replace(
          /url\((["']?)(\/(?!\/)[^"')]+)/g,
          (_, quote: string, path: string) => `url(${quote}${relink(path, how)}`,
        );
      case 'data':
        return relinkJson(content, how);
    }
  }

  private relinking(name: string): Relinking {
    return {
      file: name,
      site: this.wanted.site,
      targetOf: (address) => {
        let target = this.targets.get(address);
        if (target === undefined) {
          const file = fileFor(address, this.types);
          this.linked.add(file);
          this.targets.set(address, (target = linkTo(file)));
        }
        return target;
      },
    };
  }

  private async add(name: string, content: Buffer, compress = true): Promise<void> {
    if (this.files.has(name)) return;
    this.files.add(name);
    const hash = hashOfFile(content);
    this.manifest.set(name, hash);
    if (this.wanted.before?.get(name) === hash) return;
    this.bytes += content.length;
    await this.zip.add(name, content, { compress });
  }

  /** Ends the zip, with the names of what is no longer of the site. Nothing may be added after it. */
  async end(): Promise<Packed> {
    const left = [...this.linked]
      .filter((file) => !this.files.has(file))
      .slice(0, TOLD)
      .map((file) => `Something leads to /${linkTo(file)}, which is no page of the files.`);
    const gone = [...(this.wanted.before?.keys() ?? [])]
      .filter((name) => name !== GONE && !this.files.has(name))
      .sort();
    if (gone.length) {
      await this.add(GONE, Buffer.from(`${gone.join('\n')}\n`));
      left.push(
        `${counted(gone.length, 'file')} of the export before ${gone.length === 1 ? 'is' : 'are'} no longer of the site; ${GONE} names ${gone.length === 1 ? 'it' : 'them'}.`,
      );
    }
    await this.zip.end();
    await this.written;
    const { size } = await stat(this.wanted.path);
    return { files: this.files.size, bytes: size, written: this.bytes, left, manifest: this.manifest };
  }
}
