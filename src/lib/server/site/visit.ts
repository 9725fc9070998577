import { SEARCH } from '../../core/base/reserved';
import { addressOfArchive, type ArchivePlace } from '../../core/addresses/archives';
import { coloursCss } from '../../core/elements/common';
import { cardAddress } from '../../core/model/media';
import type { Env } from '../../core/paths/env';
import type { ModelIndex } from '../../core/model/model-index';
import { playerHosts } from '../../core/model/players';
import { drawPage } from '../../core/render/page';
import type { Tree } from '../../core/schema/element';
import type { ContentRecord, Media } from '../../core/schema/record';
import type { Template } from '../../core/schema/template';
import type { PageOf } from '../../core/serving/resolution';
import { loadMedia } from '../queries/media';
import type { BatchPool } from '../queries/pool';
import { Reads } from '../queries/reads';
import { winner } from './resolutions';
import { siteDesign, type SiteDesign, type Which } from './design';
import { drawTemplate, type Inspection } from './draw';

export interface PageAnswer {
  status: 200 | 301 | 404;
  html: string;
  /** Rules that the page holds itself. */
  css?: string;
  /** Hosts that players on it may come from. */
  players?: readonly string[];
  /** Where a 301 leads. */
  to?: string;
  /** Of the first page of an archive that is drawn to stand as a file: the addresses of the others. */
  further?: string[];
  /** What the page was made from beside the design. */
  reads?: Reads;
  /** The names in questions that it listens to; whatever else is asked makes it no other page. */
  hears?: ReadonlySet<string>;
  /** IANA name; what the page says of days holds until one ends there. */
  timeZone?: string;
}

/** A page that was put together. */
type Drawn = Required<Pick<PageAnswer, 'html' | 'css' | 'players' | 'timeZone' | 'reads'>>;

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
  /** The frame that was found for it. */
  frame: Template | undefined;
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

/** One address being answered: what it is answered from, and how its page is put together. */
export interface Visit {
  design: SiteDesign;
  model: ModelIndex;
  origin: string;
  still: boolean;
  batch?: BatchPool;
  known?: ReadonlyMap<string, ContentRecord>;
  inspection?: Inspection;
  /** Told what the page is made from. */
  reads: Reads;
  /** The page around what was drawn: head, frame, style sheets. */
  page(parts: Parts): Promise<Drawn>;
  /** The page for an address that nothing answers. */
  missing(): Promise<PageAnswer>;
}

export const moved = (to: string): PageAnswer => ({ status: 301, html: '', to });

export const emptyTree = (): Tree => ({ root: 'none', elements: {} });

const NOT_FOUND =
  '<div class="stack gap-m"><h1>There is no page here</h1><p>The address may be mistyped, or the page may have gone.</p><p class="link look-outline"><a href="/">To the front page</a></p></div>';

export async function beginVisit(surroundings: Surroundings, inspection?: Inspection): Promise<Visit> {
  const { which = 'released', base, origin, banner, still = false, batch, known } = surroundings;
  const design = surroundings.design ?? (await siteDesign(which));
  const { model } = design;
  const players = playerHosts(model);
  const reads = new Reads();
  const page = async (parts: Parts): Promise<Drawn> => {
    const { frame } = parts;
    const around =
      frame &&
      (await drawTemplate(design, frame, {
        tree: emptyTree,
        content: parts.main,
        address: parts.address,
        still,
        batch,
        reads,
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
      // Pages read from a disk may not ask for typefaces so.
      preload: still ? [] : sheet.preload,
      styles: sheet.of(`${parts.title}${parts.main}${around?.html ?? ''}`),
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
    return { html, css, players, reads, timeZone: model.site.timeZone };
  };
  const missing = async (): Promise<PageAnswer> => {
    const archive: ArchivePlace = { of: 'missing', page: 1 };
    const [template, frame] = [
      await winner(design, 'archive', { archive }, reads),
      await winner(design, 'frame', { archive }, reads),
    ];
    const drawn =
      template &&
      (await drawTemplate(design, template, {
        tree: emptyTree,
        archive,
        still,
        batch,
        reads,
        frame,
        inspect: inspection,
      }));
    return {
      status: 404,
      ...(await page({
        title: 'Page not found',
        of: { archive },
        frame,
        unlisted: true,
        main: drawn?.html ?? NOT_FOUND,
        colours: drawn?.env.colours,
      })),
    };
  };
  return { design, model, origin, still, batch, known, reads, page, missing, inspection };
}

/** A picture by its number, where there is one. */
/** What stands for a page where it is linked to: a picture of its own, or what its template drew first. */
export const pictureOf = async (id: number | undefined, drawn: Env | undefined): Promise<Media | undefined> =>
  id ? (await loadMedia([id]))[0] : drawn?.leadPicture;
