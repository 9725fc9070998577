import { readQuestion } from '../../../core/loops/visitors';
import { rm } from 'node:fs/promises';
import { type ArchiveOf, addressOfArchive } from '../../../core/addresses/archives';
import { addressOf } from '../../../core/addresses/addresses';
import { FILE_ORIGIN } from '../../../core/serving/files';
import { ICON_ADDRESS, siteIcon } from '../../../core/theme/icon';
import { readAside } from '../../database/replicas';
import type { Progress } from '../../jobs/jobs';
import { currentCache } from '../../queries/read-cache';
import { loadRecords } from '../../queries/load';
import { batchPool } from '../../queries/pool';
import { Refusal } from '../../base/refusal';
import { readOriginal, readRendition } from '../../services/media';
import { startThread, type Thread } from '../../threads/thread';
import { siteDesign, type SiteDesign } from '../design';
import { addressable, datesThere } from '../outlets';
import { answer } from '../respond';
import type { Surroundings } from '../visit';
import { drawFeeds, drawSheets, drawSitemaps } from './outlet-texts';
import { MOST_PAGES, PageList } from './page-list';
import type { FoundFile, Packed, Packing, PackWanted, SiteFile, Text } from './packing';

export interface ExportWanted extends PackWanted {
  /** The site's own style sheet. */
  base: string;
  /** What no service of ours has: typefaces, the icon, players. */
  other(path: string): Promise<SiteFile | undefined>;
}

export interface Exported extends Packed {
  pages: number;
}

/** So many pages are drawn at once, from what is fetched for all of them. */
const GROUP = 250;
/** So many groups are under way at once: one is drawn while another is fetched and a third is packed. */
const GROUPS = 3;
/** So many files are read at once. */
const FILES = 20;

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

/** What takes in the parts of an export, in its own thread. */
type Packer = Pick<Thread<Packing>['ask'], 'look' | 'addFiles' | 'addLooked'>;

/**
 * Writes the released site as a zip of plain files. It is drawn here and packed in a thread beside. What stops it on its
 * way leaves nothing behind.
 */
export async function exportSite(wanted: ExportWanted, progress: Progress): Promise<Exported | undefined> {
  const { path, site, before } = wanted;
  const { packThread } = await import('./pack-thread');
  const thread = startThread(packThread, { path, site, before });
  const drop = async (): Promise<undefined> => {
    await thread.end();
    if (!path.startsWith('/dev/')) await rm(path, { force: true });
  };
  try {
    const design = await siteDesign('released');
    const { pages, left } = await drawSite(thread.ask, design, wanted, progress);
    if (progress.signal.aborted) return await drop();
    const packed = await thread.ask.end();
    await thread.end();
    return { ...packed, pages, left: [...left, ...packed.left] };
  } catch (error) {
    await drop();
    // Of an error in a thread the message is left, which begins with the code of the system (Node.js, class SystemError).
    if (/^(ENOSPC|EDQUOT)\b/.test((error as Error).message))
      throw new Refusal(
        507,
        'There is no room left on the disk for the zip. Nothing is kept of it, and the site is as it was.',
        [{ at: '', what: 'The disk is full.', fix: 'Make room and export again.' }],
      );
    throw error;
  }
}

/** What an export is drawn from, and where what is drawn goes. */
interface ExportDrawing {
  packer: Packer;
  design: SiteDesign;
  wanted: ExportWanted;
  progress: Progress;
  /** The records that have a page, by its address. */
  recordAt: ReadonlyMap<string, { id: number }>;
  pages: PageList;
  /** What is left out, in words. */
  left: Set<string>;
}

/** Draws all that is to be packed, and finds the files that it leads to. */
async function drawSite(
  packer: Packer,
  design: SiteDesign,
  wanted: ExportWanted,
  progress: Progress,
): Promise<{ pages: number; left: Set<string> }> {
  const { model } = design;
  const [records, dates] = await Promise.all([addressable(model, MOST_PAGES, 0), datesThere(model)]);
  // Archives that list nothing are pages too, and led to from menus and breadcrumbs.
  const archives: ArchiveOf[] = [
    { of: 'front' },
    ...model.types.map(({ id }): ArchiveOf => ({ of: 'type', typeId: id })),
    ...model.terms.map(({ id }): ArchiveOf => ({ of: 'term', termId: id })),
    ...model.authors.map(({ id }): ArchiveOf => ({ of: 'author', authorId: id })),
  ];
  const left = new Set<string>();
  const pages = new PageList(
    [
      ...[...archives, ...dates].map((of: ArchiveOf) => addressOfArchive(of, model)),
      ...records.map((record) => addressOf(record, model)),
    ].filter(Boolean),
    left,
  );
  const recordAt = new Map(records.map((record) => [addressOf(record, model), record]));
  const drawing: ExportDrawing = { packer, design, wanted, progress, recordAt, pages, left };
  const pack = packInOrder(drawing);
  const count = await drawPages(drawing, pack);
  if (progress.signal.aborted) return { pages: count, left };
  await pack(await drawOutlets(drawing, archives));
  leftOutOf(drawing);
  return { pages: count, left };
}

type Pack = (texts: readonly Text[]) => Promise<void>;

/** Packs texts in the order in which they are given, together with the files that they are the first to lead to. */
function packInOrder({ packer, progress, pages, ...drawing }: ExportDrawing): Pack {
  let last: Promise<unknown> = Promise.resolve();
  return (texts) => {
    const [before, looked] = [last, packer.look(texts)];
    const own = (async () => {
      const { assets, further } = await looked;
      pages.add(further);
      await before;
      for (let i = 0; i < assets.length; i += FILES) {
        if (progress.signal.aborted) return;
        const found = await Promise.all(assets.slice(i, i + FILES).map((address) => fileAt(drawing, address)));
        await packer.addFiles(found.flat());
      }
      await packer.addLooked();
    })();
    last = own;
    return own;
  };
}

/** The file at an address of the site; one that cannot be read is left out with words. */
async function fileAt(
  { design, wanted, left }: Pick<ExportDrawing, 'design' | 'wanted' | 'left'>,
  address: string,
): Promise<FoundFile[]> {
  const file: SiteFile | undefined =
    address === ICON_ADDRESS
      ? { bytes: Buffer.from(siteIcon(design.model.site, design.theme)) }
      : ((await mediaFile(address).catch(() => undefined)) ?? (await wanted.other(address)));
  if (file) return [{ address, ...file }];
  left.add(`${address} could not be read.`);
  return [];
}

/** Draws all pages, some groups at a time, and gives how many there were. */
async function drawPages(drawing: ExportDrawing, pack: Pack): Promise<number> {
  const { pages, progress } = drawing;
  const stopped = () => progress.signal.aborted;
  let count = 0;
  const counted = (texts: Text[]) => {
    if (texts.length) progress.report(++count, pages.length);
    return texts;
  };
  const underWay: Promise<void>[] = [];
  let at = 0;
  while ((at < pages.length || underWay.length) && !stopped()) {
    if (at === pages.length || underWay.length === GROUPS) {
      await underWay.shift();
      continue;
    }
    const some = pages.slice(at, at + GROUP);
    at += some.length;
    const own = drawGroup(drawing, some, counted).then(pack);
    // Rejections are met where it is waited for.
    own.catch(() => undefined);
    underWay.push(own);
  }
  return count;
}

/** Draws some pages from what is fetched for all of them. */
async function drawGroup(
  drawing: ExportDrawing,
  some: readonly string[],
  counted: (texts: Text[]) => Text[],
): Promise<Text[]> {
  const { design, progress, recordAt } = drawing;
  const cache = await currentCache();
  const batch = batchPool(design.model, { drafts: false, together: some.length, cache });
  const ids = new Set(some.flatMap((address) => recordAt.get(address.split('?')[0] as string)?.id ?? []));
  const records = await readAside(cache.version, () => loadRecords(design.model, [...ids], { drafts: false }));
  const known = new Map(records.map((record) => [`${record.typeId} ${record.slug}`, record]));
  const texts = await Promise.all(
    some.map(async (address) => {
      if (!progress.signal.aborted)
        return drawPage(drawing, address, { batch, known })
          .then(counted)
          .finally(() => batch.leave());
      batch.leave();
      return [];
    }),
  );
  return texts.flat();
}

const surroundingsOf = ({ design, wanted: { base } }: ExportDrawing) => ({
  base,
  origin: FILE_ORIGIN,
  design,
  still: true,
});

/** One page as text, or nothing where its address answers none. */
async function drawPage(
  drawing: ExportDrawing,
  address: string,
  more: Pick<Surroundings, 'batch' | 'known'>,
): Promise<Text[]> {
  const [path = '/', question = ''] = address.split('?');
  const choice = readQuestion(new URLSearchParams(question));
  const plain = path.split('/').map(decodeURIComponent).join('/');
  const answered = await answer(plain, { ...surroundingsOf(drawing), ...more }, choice);
  if (answered.status !== 200) return [];
  const { html, css, players, further } = answered;
  drawing.pages.add(further ?? []);
  return [{ address, as: 'page', content: html, css, players }];
}

/** What stands beside pages: style sheets, feeds, site maps, and the page that is shown where there is none. */
async function drawOutlets(drawing: ExportDrawing, archives: readonly ArchiveOf[]): Promise<Text[]> {
  const { design, wanted } = drawing;
  const texts = [
    ...drawSheets(design, wanted.base),
    ...(await drawFeeds(design, archives, wanted.site ?? FILE_ORIGIN)),
    ...(wanted.site ? await drawSitemaps(design, wanted.site) : []),
  ];
  const { html, css, players } = await answer('/no-page-here', surroundingsOf(drawing));
  return [...texts, { address: '404.html', as: 'missing', content: html, css, players }];
}

/** Says what plain files cannot hold. */
function leftOutOf({ design, wanted, left }: ExportDrawing): void {
  if (!wanted.site)
    left.add('Without the address of where it will be there are no sitemap, no robots.txt and no canonical addresses.');
  const asking = design.templates.some(({ tree }) =>
    Object.values(tree.elements).some(({ kind }) => kind === 'filters' || kind === 'search'),
  );
  if (asking) left.add('Filters and the search need a server that answers; they are left out of the files.');
}
