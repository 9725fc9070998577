import { counted } from '../../core/base/counted';
import { readQuestion } from '../../core/loops/visitors';
import { escapeHtml } from '../../core/base/text';
import { createWriteStream } from 'node:fs';
import { rm, stat } from 'node:fs/promises';
import { pipeline } from 'node:stream/promises';
import { type ArchiveOf, addressOfArchive } from '../../core/addresses/archives';
import { addressOf } from '../../core/addresses/addresses';
import { atomFeed, jsonFeed } from '../../core/serving/feeds';
import { FILE_ORIGIN, fileFor, linkTo, relink, relinkJson, relinkPage, type Relinking } from '../../core/serving/files';
import { sitemap, sitemapIndex } from '../../core/serving/sitemap';
import { ICON_ADDRESS, siteIcon } from '../../core/theme/icon';
import { Zip } from '../exchange/zip';
import type { Progress } from '../jobs/jobs';
import { Refusal } from '../refusal';
import { readOriginal, readRendition } from '../services/media';
import { siteDesign, type SiteDesign } from './design';
import { addressable, datesThere, feedAt, feedsOf, sitemapPart } from './outlets';
import { readAside } from '../database/replicas';
import { keptNow } from '../queries/kept';
import { loadRecords } from '../queries/load';
import { batchPool } from '../queries/pool';
import { hashOfFile, type Manifest } from './export-before';
import { metaPolicy } from './send';
import { answer } from './respond';
import type { Surroundings } from './visit';

/** A file that a page needs, such as a picture. */
export interface SiteFile {
  bytes: Uint8Array;
  /** Ending of its name, with a dot, where its address has none. */
  ending?: string;
}

export interface ExportWanted {
  /** Where the zip goes. */
  path: string;
  /** The site's own style sheet. */
  base: string;
  /** Where the site will be; without it addresses are relative only. */
  site?: string;
  /** What the export before came to, where only what differs from it is wanted. */
  before?: Manifest;
  /** What no service of ours has: typefaces, the icon, players. */
  other(path: string): Promise<SiteFile | undefined>;
}

export interface Exported {
  pages: number;
  files: number;
  bytes: number;
  /** Bytes of the pages before they were packed. */
  written: number;
  /** What is not in it, in sentences. */
  left: string[];
  /** What all files of the site come to, whether they are in it or not. */
  manifest: Manifest;
}

/** Names the files of the export before that are no longer of the site. */
const GONE = 'no-longer-there.txt';
/** Bytes of the zip that are written at once. */
const WRITTEN_AT_ONCE = 1_000_000;
/** So many pages are drawn at once, from what is fetched for all of them. */
const GROUP = 250;
/** Pages of lists that are asked for in a question, for each page. */
const MOST_ASKED = 200;
/** Pages of an export; records beyond are left out, and told. */
const MOST_PAGES = 300_000;

const ENDINGS: Record<string, string> = {
  'image/jpeg': '.jpg',
  'image/png': '.png',
  'image/webp': '.webp',
  'image/avif': '.avif',
  'image/gif': '.gif',
  'image/svg+xml': '.svg',
};

/** A picture or file of the library by its address. */
async function mediaFile(path: string): Promise<SiteFile | undefined> {
  const [, id, name] = /^\/media\/(\d+)\/(.+)$/.exec(path) ?? [];
  if (!id || !name) return undefined;
  const rendition = /^(\d{2,4})\.([a-z]{3,4})$/.exec(name);
  if (rendition)
    return { bytes: (await readRendition(Number(id), Number(rendition[1]), rendition[2] as string)).bytes };
  const { content, mime } = await readOriginal(Number(id));
  const pieces: Buffer[] = [];
  for await (const piece of content as AsyncIterable<Buffer>) pieces.push(Buffer.from(piece));
  return { bytes: Buffer.concat(pieces), ending: name === 'original' ? ENDINGS[mime] : undefined };
}

/** The address of where a site will be, with a slash at the end; refused where it is none. */
export function siteAddress(given: string): string | undefined {
  if (!given.trim()) return undefined;
  try {
    const url = new URL(given.trim());
    if (!/^https?:$/.test(url.protocol) || url.search || url.hash) throw new Error();
    return url.href.replace(/\/*$/, '/');
  } catch {
    throw new Refusal(422, 'The site cannot be exported so.', [
      {
        at: 'origin',
        what: `“${given}” is no address of a site.`,
        fix: 'Write it like https://huts.example/site/, or leave it out.',
      },
    ]);
  }
}

/** A question that leads to another page of one list, without what it says of others, as they stand in `now`. */
export function oneListOnly(link: string, now: string): string {
  const wanted = [...new URLSearchParams(link.slice(1))];
  if (wanted.length < 2) return link;
  const here = new URLSearchParams(now);
  const changed = wanted.filter(([key, value]) => here.get(key) !== value);
  return `?${new URLSearchParams(changed.length ? changed : wanted.slice(0, 1))}`;
}

/** Writes the released site as a zip of plain files. What stops it on its way leaves nothing behind. */
export async function exportSite(wanted: ExportWanted, progress: Progress): Promise<Exported | undefined> {
  const design = await siteDesign('released');
  const zip = new Zip();
  const file = createWriteStream(wanted.path, { highWaterMark: WRITTEN_AT_ONCE });
  const written = pipeline(zip.output, file);
  // Told by whatever is added next.
  written.catch((error: unknown) => zip.fail(error));
  try {
    const exported = await writeSite(zip, design, wanted, progress);
    if (progress.signal.aborted) {
      zip.fail(new Error('The export was stopped.'));
      await written.catch(() => undefined);
      await rm(wanted.path, { force: true });
      return undefined;
    }
    await zip.end();
    await written;
    return { ...exported, bytes: (await stat(wanted.path)).size };
  } catch (error) {
    zip.fail(error);
    await written.catch(() => undefined);
    if (!wanted.path.startsWith('/dev/')) await rm(wanted.path, { force: true });
    const { code } = error as { code?: string };
    if (code === 'ENOSPC' || code === 'EDQUOT')
      throw new Refusal(
        507,
        'There is no room left on the disk for the zip. Nothing is kept of it, and the site is as it was.',
        [{ at: '', what: 'The disk is full.', fix: 'Make room and export again.' }],
      );
    throw error;
  }
}

/** A page with the policy that its answer has as a header. */
const withPolicy = (html: string, { css, players }: { css?: string; players?: readonly string[] }): string =>
  html.replace('<meta charset="utf-8">', (meta) => meta + metaPolicy(css, players));

async function writeSite(zip: Zip, design: SiteDesign, wanted: ExportWanted, progress: Progress): Promise<Exported> {
  const { model } = design;
  const { base, site } = wanted;
  const [records, dates] = await Promise.all([addressable(model, MOST_PAGES, 0), datesThere(model)]);
  // Archives that list nothing are pages too, and led to from menus and breadcrumbs.
  const archives: ArchiveOf[] = [
    { of: 'front' },
    ...model.types.map(({ id }): ArchiveOf => ({ of: 'type', typeId: id })),
    ...model.terms.map(({ id }): ArchiveOf => ({ of: 'term', termId: id })),
    ...model.authors.map(({ id }): ArchiveOf => ({ of: 'author', authorId: id })),
  ];
  const pages: string[] = [
    ...[...archives, ...dates].map((of: ArchiveOf) => addressOfArchive(of, model)),
    ...records.map((record) => addressOf(record, model)),
  ].filter(Boolean);
  const done = new Set<string>(pages);
  const needed = new Set<string>();
  const types: Record<string, string> = {};
  const files = new Set<string>();
  const manifest = new Map<string, string>();
  const left = new Set<string>();
  let count = 0;
  let bytes = 0;
  /** All that was added, up to the last group of pages and since. */
  let [before, since]: [Promise<unknown>, Promise<unknown>] = [Promise.resolve(), Promise.resolve()];
  const add = (name: string, content: string | Uint8Array, compress = true): void => {
    if (files.has(name)) return;
    files.add(name);
    const buffer = typeof content === 'string' ? Buffer.from(content) : Buffer.from(content);
    const hash = hashOfFile(buffer);
    manifest.set(name, hash);
    if (wanted.before?.get(name) === hash) return;
    bytes += buffer.length;
    since = zip.add(name, buffer, { compress });
    // Whoever waits for it is told.
    since.catch(() => undefined);
  };
  /** Files whose address has no ending are looked at first, so that links to them can name it. */
  const settle = async (path: string): Promise<void> => {
    if (path in types || needed.has(path)) return;
    needed.add(path);
    const found: SiteFile | undefined =
      path === ICON_ADDRESS
        ? { bytes: Buffer.from(siteIcon(model.site, design.theme)) }
        : ((await mediaFile(path).catch(() => undefined)) ?? (await wanted.other(path)));
    if (!found) {
      left.add(`${path} could not be read.`);
      return;
    }
    if (found.ending) types[path] = found.ending;
    add(fileFor(path, types), found.bytes, /\.(svg|html|css|xml|json)$/.test(fileFor(path, types)));
  };
  const linked = new Set<string>();
  /** By address; one whose ending is looked at is asked for only after that. */
  const targets = new Map<string, string>();
  const relinking = (name: string): Relinking => ({
    file: name,
    site,
    targetOf(address) {
      let target = targets.get(address);
      if (target === undefined) {
        const file = fileFor(address, types);
        linked.add(file);
        targets.set(address, (target = linkTo(file)));
      }
      return target;
    },
  });
  const assetsIn = (html: string) =>
    [
      ...html.matchAll(
        /(?:"|, |\(|')((?:http:\/\/files\.invalid)?\/(?:media|player|_app|styles\/icon|styles\/faces)[^"\s,)']*)/g,
      ),
    ].map(([, path = '']) => path.replace(FILE_ORIGIN, ''));
  const surroundings = { base, origin: FILE_ORIGIN, design };
  const draw = async (address: string, more: Pick<Surroundings, 'batch' | 'known'>): Promise<void> => {
    const [path = '/', question = ''] = address.split('?');
    const asked = readQuestion(new URLSearchParams(question));
    const plain = path.split('/').map(decodeURIComponent).join('/');
    const answered = await answer(plain, { ...surroundings, ...more, still: true }, asked);
    if (answered.status !== 200) return;
    // Each list is paged by itself, or there would be a file for every state that several lists can be in together.
    const html = answered.html.replace(
      / href="(\?[^"]*)"/g,
      (_, link: string) => ` href="${path}${escapeHtml(oneListOnly(link.replaceAll('&amp;', '&'), question))}"`,
    );
    for (const asset of assetsIn(html)) await settle(asset);
    for (const next of answered.further ?? [])
      if (pages.length < MOST_PAGES && !done.has(next)) {
        done.add(next);
        pages.push(next);
      }
    // Further pages of what it lists.
    let further = 0;
    for (const [, link = ''] of html.matchAll(/ href="([^"]+)"[^>]*rel="(?:next|prev)"|rel="next" href="([^"]+)"/g)) {
      const next = link.replaceAll('&amp;', '&');
      if (pages.length >= MOST_PAGES) {
        left.add(`There are more than ${MOST_PAGES.toLocaleString('en')} pages; further pages of lists are left out.`);
        break;
      }
      if (next.startsWith('/') && !done.has(next) && further++ < MOST_ASKED) {
        done.add(next);
        pages.push(next);
      }
    }
    const name = fileFor(address);
    add(name, withPolicy(relinkPage(html, relinking(name)), answered));
    count++;
    progress.report(count, pages.length);
  };
  const stopped = () => progress.signal.aborted;
  const recordAt = new Map(records.map((record) => [addressOf(record, model), record]));
  // Pages lead to more of them, so that the list grows meanwhile.
  let at = 0;
  while (at < pages.length && !stopped()) {
    const some = pages.slice(at, at + GROUP);
    at += some.length;
    const kept = await keptNow();
    const batch = batchPool(model, { drafts: false, together: some.length, kept });
    const ids = new Set(some.flatMap((address) => recordAt.get(address.split('?')[0] as string)?.id ?? []));
    const whole = await readAside(kept.version, () => loadRecords(model, [...ids], { drafts: false }));
    const known = new Map(whole.map((record) => [`${record.typeId} ${record.slug}`, record]));
    await Promise.all(
      some.map(async (address) => {
        if (!stopped()) await draw(address, { batch, known }).finally(() => batch.leave());
        else batch.leave();
      }),
    );
    // The zip is written meanwhile, at most a group behind.
    await before;
    before = since;
  }
  const exported = (): Exported => ({
    pages: count,
    files: files.size,
    bytes: 0,
    written: bytes,
    left: [...left],
    manifest,
  });
  if (stopped()) return exported();

  const { rare, ...sheet } = design.sheet(base);
  for (const { css, address } of [sheet, rare]) {
    if (!css) continue;
    const name = address.slice(1);
    for (const [, asset = ''] of css.matchAll(/url\(["']?(\/[^"')]+)/g)) await settle(asset);
    const own = css.replace(
      /url\((["']?)(\/(?!\/)[^"')]+)/g,
      (_, quote: string, path: string) => `url(${quote}${relink(path, relinking(name))}`,
    );
    add(name, own);
  }
  for (const of of archives) {
    const feeds = feedsOf(of, model);
    for (const address of Object.values(feeds ?? {})) {
      const found = await feedAt(
        address.split('/').map(decodeURIComponent).join('/'),
        FILE_ORIGIN,
        design,
        site ?? FILE_ORIGIN,
      );
      if (!found) continue;
      const name = fileFor(address);
      for (const { picture } of found.feed.items) if (picture) await settle(picture.url.replace(FILE_ORIGIN, ''));
      add(
        name,
        relinkJson(
          found.form === 'feed.atom' ? atomFeed(found.feed) : JSON.stringify(jsonFeed(found.feed), null, 2),
          relinking(name),
        ),
      );
    }
  }
  const missing = await answer('/no-page-here', { ...surroundings, still: true });
  for (const asset of assetsIn(missing.html)) await settle(asset);
  add('404.html', withPolicy(relinkPage(missing.html, { ...relinking('404.html'), whole: true }), missing));
  if (site) {
    // The same pages as online, each at the address of its file.
    let parts = 1;
    for (let i = 1; i <= parts; i++) {
      const own = await sitemapPart(i, '', design);
      parts = own?.parts ?? parts;
      const entries = (own?.entries ?? []).map(({ url, ...more }) => ({
        url: site + relink(url, relinking('index.html')).replace(/^\.\//, ''),
        ...more,
      }));
      add(parts > 1 ? `sitemap-${i}.xml` : 'sitemap.xml', sitemap(entries));
    }
    if (parts > 1)
      add(
        'sitemap.xml',
        sitemapIndex(Array.from({ length: parts }, (_, i) => ({ url: `${site}sitemap-${i + 1}.xml` }))),
      );
    add('robots.txt', `User-agent: *\nAllow: /\n\nSitemap: ${site}sitemap.xml\n`);
  } else
    left.add('Without the address of where it will be there are no sitemap, no robots.txt and no canonical addresses.');
  const lost = [...linked].filter((target) => !files.has(target));
  for (const target of lost.slice(0, 20))
    left.add(`Something leads to /${linkTo(target)}, which is no page of the files.`);
  if (
    design.templates.some(({ tree }) =>
      Object.values(tree.elements).some(({ kind }) => kind === 'filters' || kind === 'search'),
    )
  )
    left.add('Filters and the search need a server that answers; they are left out of the files.');
  const gone = [...(wanted.before?.keys() ?? [])].filter((name) => name !== GONE && !files.has(name)).sort();
  if (gone.length) {
    add(GONE, `${gone.join('\n')}\n`);
    left.add(
      `${counted(gone.length, 'file')} of the export before ${gone.length === 1 ? 'is' : 'are'} no longer of the site; ${GONE} names ${gone.length === 1 ? 'it' : 'them'}.`,
    );
  }
  await since;
  return exported();
}
