import { isAnyPublished, recordsAtSlugs } from '../queries/records';
import { publishedCounts } from '../queries/counts';
import { roleOfField } from '../../core/model/field';
import type { ContentRecord, Media } from '../../core/schema/record';
import type { ModelIndex } from '../../core/model/model-index';
import { compilePath } from '../../core/paths/compile';
import { makeEnv, type Env } from '../../core/paths/env';
import { cardAddress } from '../../core/model/media';
import { scriptJson, structuredOf } from '../../core/render/structured';
import { FEED_FORMS } from '../../core/serving/feeds';
import { coloursCss } from '../../core/elements/common';
import {
  addressOfArchive,
  daysOf,
  descriptionOfArchive,
  pictureOfArchive,
  scopeOfArchive,
  titleOfArchive,
  type ArchivePlace,
} from '../../core/addresses/archives';
import { localDay, startOfDay } from '../../core/base/write';
import { questionOf } from '../../core/loops/visitors';
import { drawPage } from '../../core/render/page';
import { addressOf } from '../../core/addresses/addresses';
import { placeOf } from '../../core/addresses/places';
import { SEARCH } from '../../core/base/reserved';
import type { Contest, PageOf } from '../../core/serving/contest';
import { archiveTree, recordTree } from '../../core/templates/start';
import type { Purpose, Template } from '../../core/schema/template';
import type { Tree } from '../../core/schema/element';
import { escapeHtml } from '../../core/base/text';
import { loadRecords } from '../queries/load';
import { loadMedia } from '../queries/media';
import { batchPool, drawComplete, type BatchPool } from '../queries/pool';
import { needsRareFaces, siteDesign, type SiteDesign, type Which } from './design';
import { feedsOf } from './outlets';
import { drawTemplate, type Asked, type Inspection } from './draw';
import { pageMoved, recordMoved } from './moved';

export interface Answer {
  status: 200 | 301 | 404;
  html: string;
  /** Rules that the page holds itself. */
  css?: string;
  /** Where a 301 leads. */
  to?: string;
}

/** What the route knows and pages need. */
export interface Surroundings {
  /** The site's own style sheet, as text. */
  base: string;
  /** Scheme and host, put before whole addresses. */
  origin: string;
  /** What visitors see, unless told otherwise. */
  which?: Which;
  /** The design itself, where many pages are drawn from one. */
  design?: SiteDesign;
  /** HTML of a line above the page. */
  banner?: string;
  /** Drawn to stand as files, without anything that needs a server that answers. */
  still?: boolean;
  /** Where many pages are drawn one after the other: what was fetched before, and records by type and slug. */
  batch?: BatchPool;
  known?: ReadonlyMap<string, ContentRecord>;
}

interface Parts {
  title: string;
  description?: string;
  main: string;
  /** What frames contend for. */
  of: PageOf;
  /** With its question. */
  path?: string;
  /** Without. */
  address?: string;
  previous?: string;
  next?: string;
  /** The content type that the page belongs to, or the search. */
  current?: string;
  feeds?: { href: string; type: string; title: string }[];
  kind?: 'website' | 'article';
  /** What stands for the page where it is linked to. */
  picture?: Media;
  /** Not to be kept by search engines. */
  unlisted?: boolean;
  structured?: string;
  /** Grounds in colours from fields that its template drew. */
  colours?: ReadonlySet<string>;
}

interface Site {
  design: SiteDesign;
  model: ModelIndex;
  origin: string;
  still: boolean;
  batch?: BatchPool;
  known?: ReadonlyMap<string, ContentRecord>;
  page(parts: Parts): Promise<{ html: string; css: string }>;
  missing(): Promise<Answer>;
  inspection?: Inspection;
}

const moved = (to: string): Answer => ({ status: 301, html: '', to });

/** Answers one address of the site from what is published. `path` is decoded, `asked` its question. */
export function answer(path: string, surroundings: Surroundings, asked: Asked = {}): Promise<Answer> {
  return answerOrInspect(path, surroundings, asked);
}

/** The same page for its designer, with marks on its elements, and why each of them is there or not. */
export async function inspect(
  path: string,
  surroundings: Surroundings,
  asked: Asked = {},
): Promise<Answer & { inspection: Inspection }> {
  const inspection: Inspection = { elements: [] };
  return { ...(await answerOrInspect(path, surroundings, asked, inspection)), inspection };
}

/** The contest for a page among the templates of a purpose. Rules that targets have are asked of whole records. */
export async function contestFor(design: SiteDesign, purpose: Purpose, page: PageOf): Promise<Contest<Template>> {
  const list = design.contenders(purpose);
  const { model } = design;
  const batch = batchPool(model, { drafts: false });
  const today = localDay(new Date(), model.site.timeZone);
  let contest!: Contest<Template>;
  await drawComplete(batch, () => {
    contest = list.at(page, (record) => makeEnv({ model, pool: batch.pool, today, record }));
    return '';
  });
  return contest;
}

async function winner(design: SiteDesign, purpose: Purpose, page: PageOf): Promise<Template | undefined> {
  const { asksRulesOf, winner: first } = design.contenders(purpose);
  if ('record' in page && asksRulesOf.has(page.record.typeId))
    return (await contestFor(design, purpose, page)).candidates[0]?.template;
  return first(page, () => {
    throw new Error('No rule is asked here.');
  });
}

async function answerOrInspect(
  path: string,
  surroundings: Surroundings,
  asked: Asked,
  inspection?: Inspection,
): Promise<Answer> {
  const { which = 'released', base, origin, banner, still = false, batch, known } = surroundings;
  const design = surroundings.design ?? (await siteDesign(which));
  const { model } = design;
  const place = placeOf(path, model, asked.q?.[0] ?? '', design.former);
  if (place.at === 'moved') return moved(place.to + questionOf(asked));
  const page = async (parts: Parts): Promise<{ html: string; css: string }> => {
    const frame = await winner(design, 'frame', parts.of);
    const around =
      frame &&
      (await drawTemplate(design, frame, {
        tree: emptyTree,
        content: parts.main,
        address: parts.address,
        still,
        batch,
        ...('record' in parts.of ? { record: parts.of.record } : { archive: { ...parts.of.archive, page: 1 } }),
      }));
    const css = coloursCss(new Set([...(around?.env.colours ?? []), ...(parts.colours ?? [])]));
    const sheet = design.sheet(base);
    const absolute = (address: string | undefined) => address && origin + address;
    const html = drawPage(model.site, {
      css,
      banner,
      title: parts.title,
      description: parts.description,
      unlisted: parts.unlisted ?? which === 'draft',
      main: parts.main,
      frame: around?.html,
      styles: [
        sheet.address,
        ...(sheet.rare.css && needsRareFaces(parts.main + (around?.html ?? '')) ? [sheet.rare.address] : []),
      ],
      canonical: absolute(parts.path),
      previous: parts.previous,
      next: parts.next,
      feeds: parts.feeds,
      structured: parts.structured,
      card: {
        kind: parts.kind ?? 'website',
        picture: parts.picture && { url: origin + cardAddress(parts.picture), alt: parts.picture.alt },
      },
      navigation: [
        ...model.types.map((type) => ({
          label: type.plural,
          url: addressOfArchive({ of: 'type', typeId: type.id }, model),
          current: type.id === parts.current,
        })),
        ...(still ? [] : [{ label: 'Search', url: `/${SEARCH}/`, current: parts.current === SEARCH }]),
      ],
    });
    return { html, css };
  };
  const missing = async (): Promise<Answer> => {
    const archive: ArchivePlace = { of: 'missing', page: 1 };
    const template = await winner(design, 'archive', { archive });
    const drawn =
      template &&
      (await drawTemplate(design, template, { tree: emptyTree, archive, still, batch, inspect: inspection }));
    return {
      status: 404,
      ...(await page({
        title: 'Page not found',
        of: { archive },
        unlisted: true,
        main: drawn?.html ?? NOT_FOUND,
        colours: drawn?.env.colours,
      })),
    };
  };
  const site: Site = { design, model, origin, still, batch, known, page, missing, inspection };
  switch (place.at) {
    case 'archive':
      return answerArchive(site, { ...place.of, page: place.page }, asked);
    case 'record':
      return answerRecord(site, path, place, asked);
    default: {
      const to = await pageMoved(path, model);
      return to ? moved(to + (to.includes('?') ? '' : questionOf(asked))) : missing();
    }
  }
}

const emptyTree = (): Tree => ({ root: 'none', elements: {} });

const NOT_FOUND =
  '<div class="stack gap-m"><h1>There is no page here</h1><p>The address may be mistyped, or the page may have gone.</p><p class="link look-outline"><a href="/">To the front page</a></p></div>';

async function answerArchive(
  { design, model, still, batch, page, missing, inspection }: Site,
  archive: ArchivePlace,
  asked: Asked,
): Promise<Answer> {
  if (archive.of === 'date' && !(await anyPublished(archive, model))) return missing();
  const template = await winner(design, 'archive', { archive });
  const address = addressOfArchive(archive, model, archive.page);
  const plainFront = archive.of === 'front' && !template;
  if (plainFront && archive.page > 1) return missing();
  const { html, env } = plainFront
    ? { html: await frontMain(model), env: undefined }
    : await drawTemplate(design, template, {
        tree: () => archiveTree(scopeOfArchive(archive, model), model),
        archive,
        asked,
        address,
        still,
        batch,
        inspect: inspection,
      });
  const { pages } = env?.paging ?? { pages: 1 };
  if (archive.page > pages || env?.pastEnd) return missing();
  const title = titleOfArchive(archive, model);
  const at = (n: number) => addressOfArchive(archive, model, n) + questionOf(env?.asked ?? {});
  return {
    status: 200,
    ...(await page({
      title: archive.page > 1 ? `${title}, page ${archive.page}` : title,
      of: { archive },
      description: descriptionOfArchive(archive, model).slice(0, 300).trim() || undefined,
      main: html,
      path: at(archive.page),
      address,
      previous: archive.page > 1 ? at(archive.page - 1) : undefined,
      next: archive.page < pages ? at(archive.page + 1) : undefined,
      current: 'typeId' in archive ? archive.typeId : archive.of === 'search' ? SEARCH : undefined,
      unlisted: archive.of === 'search' || undefined,
      feeds: feedLinks(archive, title, model),
      picture: await pictureOf(pictureOfArchive(archive, model)),
      colours: env?.colours,
    })),
  };
}

/** Whether anything of a type was published in a year or month; those in which nothing was have no page. */
async function anyPublished(of: ArchivePlace & { of: 'date' }, { site }: ModelIndex): Promise<boolean> {
  const [from, until] = daysOf(of);
  return isAnyPublished(of.typeId, startOfDay(from, site.timeZone), startOfDay(until, site.timeZone));
}

async function answerRecord(
  { design, model, origin, still, batch, known, page, missing, inspection }: Site,
  path: string,
  { typeId, slug, former }: { typeId: string; slug: string; former?: true },
  asked: Asked,
): Promise<Answer> {
  const type = model.type(typeId);
  const record = known?.get(`${typeId} ${slug}`) ?? (await recordAt(typeId, slug, model));
  if (!record || !type) {
    const to = (await recordMoved(typeId, slug, model)) ?? (await pageMoved(path, model));
    if (to) return moved(to + (to.includes('?') ? '' : questionOf(asked)));
    // A year without its slash, where no record is called so.
    const year = /^\/([^/]+)\/(\d{4})$/.exec(path);
    if (year && year[1] === type?.base)
      return moved(addressOfArchive({ of: 'date', typeId, year: Number(year[2]) }, model) + questionOf(asked));
    return missing();
  }
  const address = addressOf(record, model);
  // The same record under another address: as it was before, or with other terms or another day.
  if (former || address !== path.split('/').map(encodeURIComponent).join('/'))
    return moved(address + questionOf(asked));
  const template = await winner(design, 'record', { record });
  const { html, env } = await drawTemplate(design, template, {
    tree: () => recordTree(type, model),
    record,
    asked,
    address,
    still,
    batch,
    inspect: inspection,
  });
  if (env.pastEnd) return missing();
  return {
    status: 200,
    ...(await page({
      title: record.title,
      of: { record },
      description: excerptOf(record, model, env),
      kind: 'article',
      picture: await pictureOf(
        type.fields
          .map((field) => (roleOfField(field) === 'picture' ? record.values[field.id] : undefined))
          .find(Boolean) as number | undefined,
      ),
      structured: await jsonLdOf(record, model, origin, batch),
      main: html,
      path: address + questionOf(env.asked ?? {}),
      address,
      current: typeId,
      colours: env.colours,
    })),
  };
}

async function recordAt(typeId: string, slug: string, model: ModelIndex): Promise<ContentRecord | undefined> {
  const [row] = await recordsAtSlugs(typeId, [slug]);
  const [record] = row ? await loadRecords(model, [row.id], { drafts: false }) : [];
  return record;
}

/** A record as JSON-LD, with whatever it names; undefined where its type is not told to programs. */
async function jsonLdOf(
  record: ContentRecord,
  model: ModelIndex,
  origin: string,
  batch = batchPool(model, { drafts: false }),
): Promise<string | undefined> {
  if (!model.type(record.typeId)?.structured) return undefined;
  const today = localDay(new Date(), model.site.timeZone);
  return drawComplete(batch, () =>
    scriptJson(structuredOf(record, makeEnv({ model, pool: batch.pool, today, record }), origin)),
  );
}

const feedLinks = (of: ArchivePlace, title: string, model: ModelIndex) =>
  Object.entries(feedsOf(of, model) ?? {}).map(([form, href]) => ({
    href,
    type: FEED_FORMS[form as keyof typeof FEED_FORMS],
    title: `${title}, as ${form === 'feed.atom' ? 'Atom' : 'JSON'}`,
  }));

const pictureOf = async (id: number | undefined): Promise<Media | undefined> =>
  id ? (await loadMedia([id]))[0] : undefined;

/** What is said of a record's page: the beginning of its first running text. */
function excerptOf(record: ContentRecord, model: ModelIndex, env: Env): string | undefined {
  const path = compilePath(
    { from: 'record', steps: ['@excerpt'] },
    { recordTypeIds: [record.typeId], loops: [] },
    model,
  );
  const text = path.ok ? path.value.read({ ...env, record }) : undefined;
  return typeof text === 'string' ? text.slice(0, 300).trim() || undefined : undefined;
}

async function frontMain(model: ModelIndex): Promise<string> {
  const counts = await publishedCounts();
  const items = model.types.map((type) => {
    const n = counts.get(type.id) ?? 0;
    return `<li><a href="${addressOfArchive({ of: 'type', typeId: type.id }, model)}">${escapeHtml(type.plural)}</a> <span class="tone-quiet">${n}</span></li>`;
  });
  return `<div class="stack gap-m front"><h1>${escapeHtml(model.site.name)}</h1><p class="text text-l">${escapeHtml(model.site.tagline)}</p><ul class="front-list">${items.join('')}</ul></div>`;
}
