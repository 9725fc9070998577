import type { ContentRecord, Media } from '../../core/content/record';
import type { ModelIndex } from '../../core/model/model';
import { compilePath } from '../../core/paths/compile';
import type { Env } from '../../core/paths/env';
import { mediaAddress } from '../../core/render/media';
import { FEED_FORMS } from '../../core/serving/feeds';
import { coloursCss } from '../../core/elements/common';
import {
  addressOfArchive,
  daysOf,
  descriptionOfArchive,
  pictureOfArchive,
  scopeOfArchive,
  SEARCH,
  titleOfArchive,
  type ArchivePlace,
} from '../../core/serving/archives';
import { startOfDay } from '../../core/formats/write';
import { questionOf } from '../../core/loops/visitors';
import { drawPage } from '../../core/render/page';
import { addressOf } from '../../core/serving/addresses';
import { placeOf } from '../../core/serving/places';
import { contest, targetsOf } from '../../core/serving/contest';
import { archiveTree, recordTree } from '../../core/templates/start';
import type { Tree } from '../../core/templates/template';
import { escapeHtml } from '../../core/text';
import { select } from '../database/connect';
import { loadMedia, loadRecords } from '../queries/load';
import { readModel } from '../services/model';
import { readTemplateHeads, type TemplateHead } from '../services/templates';
import { readTheme } from '../services/theme';
import { feedsOf } from './outlets';
import { drawTemplate, type Asked, type Inspection } from './draw';

export interface Answer {
  status: 200 | 301 | 404;
  html: string;
  /** Rules that the page holds itself. */
  css?: string;
  /** Where a 301 leads. */
  to?: string;
}

/** Style sheets of the site, by address; set once by the route that knows where they were built to. */
export interface Surroundings {
  styles: string[];
  origin: string;
}

interface Parts {
  title: string;
  description?: string;
  main: string;
  /** With its question. */
  path?: string;
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
  /** Style sheets of the template that drew it, and the grounds it has in colours from fields. */
  styles?: string[];
  colours?: ReadonlySet<string>;
}

interface Site {
  model: ModelIndex;
  heads: TemplateHead[];
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

async function answerOrInspect(
  path: string,
  surroundings: Surroundings,
  asked: Asked,
  inspection?: Inspection,
): Promise<Answer> {
  const [model, heads, { version: theme }] = await Promise.all([readModel(), readTemplateHeads(), readTheme()]);
  const place = placeOf(path, model, asked.q?.[0] ?? '');
  if (place.at === 'moved') return moved(place.to + questionOf(asked));
  const frame = heads.find((head) => head.purpose === 'frame');
  const page = async (parts: Parts): Promise<{ html: string; css: string }> => {
    const around = frame && (await drawTemplate(model, heads, frame, { tree: emptyTree, content: parts.main }));
    const css = coloursCss(new Set([...(around?.env.colours ?? []), ...(parts.colours ?? [])]));
    const absolute = (address: string | undefined) => address && surroundings.origin + address;
    const html = drawPage(model.site, {
      css,
      title: parts.title,
      description: parts.description,
      unlisted: parts.unlisted,
      main: parts.main,
      frame: around?.html,
      styles: [
        ...surroundings.styles,
        `/styles/theme-${theme}.css`,
        ...(around?.styles ?? []),
        ...(parts.styles ?? []),
      ],
      canonical: absolute(parts.path),
      previous: parts.previous,
      next: parts.next,
      feeds: parts.feeds,
      card: {
        kind: parts.kind ?? 'website',
        picture: parts.picture && {
          url: surroundings.origin + mediaAddress(parts.picture, 1280),
          alt: parts.picture.alt,
        },
      },
      navigation: [
        ...model.types.map((type) => ({
          label: type.plural,
          url: addressOfArchive({ of: 'type', typeId: type.id }, model),
          current: type.id === parts.current,
        })),
        { label: 'Search', url: `/${SEARCH}/`, current: parts.current === SEARCH },
      ],
    });
    return { html, css };
  };
  const missing = async (): Promise<Answer> => ({
    status: 404,
    ...(await page({
      title: 'Page not found',
      main: '<div class="stack gap-m"><h1>There is no page here</h1><p>The address may be mistyped, or the page may have gone.</p><p class="link look-outline"><a href="/">To the front page</a></p></div>',
    })),
  });
  const site: Site = { model, heads, page, missing, inspection };
  switch (place.at) {
    case 'front':
      return { status: 200, ...(await page({ title: model.site.name, main: await frontMain(model), path: '/' })) };
    case 'archive':
      return answerArchive(site, { ...place.of, page: place.page }, asked);
    case 'record':
      return answerRecord(site, place.typeId, place.slug, asked);
    default:
      return missing();
  }
}

const emptyTree = (): Tree => ({ root: 'none', elements: {} });

async function answerArchive(
  { model, heads, page, missing, inspection }: Site,
  archive: ArchivePlace,
  asked: Asked,
): Promise<Answer> {
  if (archive.of === 'date' && !(await anyPublished(archive, model))) return missing();
  const { candidates } = contest(heads, 'archive', targetsOf(archive, model));
  const address = addressOfArchive(archive, model, archive.page);
  const { html, env, styles } = await drawTemplate(model, heads, candidates[0]?.template, {
    tree: () => archiveTree(scopeOfArchive(archive, model), model),
    archive,
    asked,
    address,
    inspect: inspection,
  });
  const { pages } = env.paging ?? { pages: 1 };
  if (archive.page > pages || env.pastEnd) return missing();
  const title = titleOfArchive(archive, model);
  const at = (n: number) => addressOfArchive(archive, model, n) + questionOf(env.asked ?? {});
  return {
    status: 200,
    ...(await page({
      title: archive.page > 1 ? `${title}, page ${archive.page}` : title,
      description: descriptionOfArchive(archive, model).slice(0, 300).trim() || undefined,
      main: html,
      path: at(archive.page),
      previous: archive.page > 1 ? at(archive.page - 1) : undefined,
      next: archive.page < pages ? at(archive.page + 1) : undefined,
      current: 'typeId' in archive ? archive.typeId : archive.of === 'search' ? SEARCH : undefined,
      unlisted: archive.of === 'search',
      feeds: feedLinks(archive, title, model),
      picture: await pictureOf(pictureOfArchive(archive, model)),
      styles,
      colours: env.colours,
    })),
  };
}

/** Whether anything of a type was published in a year or month; those in which nothing was have no page. */
async function anyPublished(of: ArchivePlace & { of: 'date' }, { site }: ModelIndex): Promise<boolean> {
  const [from, until] = daysOf(of);
  const found = await select(
    "SELECT 1 FROM records WHERE type_id = ? AND status = 'published' AND published >= ? AND published < ? LIMIT 1",
    [of.typeId, startOfDay(from, site.timeZone), startOfDay(until, site.timeZone)],
  );
  return found.length > 0;
}

async function answerRecord(
  { model, heads, page, missing, inspection }: Site,
  typeId: string,
  slug: string,
  asked: Asked,
): Promise<Answer> {
  const type = model.type(typeId);
  const [row] = await select<{ id: number }>(
    "SELECT id FROM records WHERE type_id = ? AND slug = ? AND status = 'published'",
    [typeId, slug],
  );
  const [record] = row ? await loadRecords(model, [row.id], { drafts: false }) : [];
  // A year without its slash, where no record is called so.
  if (!record && /^\d{4}$/.test(slug))
    return moved(addressOfArchive({ of: 'date', typeId, year: Number(slug) }, model) + questionOf(asked));
  if (!record || !type) return missing();
  const address = addressOf(record, model);
  const { candidates } = contest(heads, 'record', [{ on: 'type', typeId }]);
  const { html, styles, env } = await drawTemplate(model, heads, candidates[0]?.template, {
    tree: () => recordTree(type, model),
    record,
    asked,
    address,
    inspect: inspection,
  });
  if (env.pastEnd) return missing();
  return {
    status: 200,
    ...(await page({
      title: record.title,
      description: excerptOf(record, model, env),
      kind: 'article',
      picture: await pictureOf(
        type.fields.map(({ id, kind }) => (kind === 'picture' ? record.values[id] : undefined)).find(Boolean) as
          number | undefined,
      ),
      main: html,
      path: address + questionOf(env.asked ?? {}),
      current: typeId,
      styles,
      colours: env.colours,
    })),
  };
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
  const counts = await select<{ typeId: string; n: number }>(
    "SELECT type_id AS typeId, SUM(n) AS n FROM record_counts WHERE status = 'published' GROUP BY type_id",
  );
  const items = model.types.map((type) => {
    const n = Number(counts.find((row) => row.typeId === type.id)?.n ?? 0);
    return `<li><a href="${addressOfArchive({ of: 'type', typeId: type.id }, model)}">${escapeHtml(type.plural)}</a> <span class="tone-quiet">${n}</span></li>`;
  });
  return `<div class="stack gap-m front"><h1>${escapeHtml(model.site.name)}</h1><p class="text text-l">${escapeHtml(model.site.tagline)}</p><ul class="front-list">${items.join('')}</ul></div>`;
}
