import { createHash } from 'node:crypto';
import { localDay } from '../../core/formats/write';
import type { ContentRecord } from '../../core/content/record';
import type { ContentType, ModelIndex } from '../../core/model/model';
import { makeEnv, type ArchivePlace, type Env } from '../../core/paths/env';
import type { Scopes } from '../../core/paths/path';
import { compileTree, scopesOf, type CompiledTree } from '../../core/render/compile';
import { coloursCss } from '../../core/elements/common';
import { drawPage } from '../../core/render/page';
import { addressOf, archiveAddress, placeOf } from '../../core/serving/addresses';
import { contest } from '../../core/serving/contest';
import { archiveTree, recordTree } from '../../core/templates/start';
import type { Purpose, Template, Tree } from '../../core/templates/template';
import { themeCss } from '../../core/theme/theme';
import { usesOf } from '../../core/templates/tree';
import { escapeHtml } from '../../core/text';
import { select } from '../database/connect';
import { batchPool, drawComplete } from '../queries/pool';
import { loadRecords } from '../queries/load';
import { readModel } from '../services/model';
import { partsAmong, readParts, readTemplate, readTemplateHeads, type TemplateHead } from '../services/templates';
import { readTheme } from '../services/theme';

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
  main: string;
  path?: string;
  previous?: string;
  next?: string;
  current?: string;
  /** Style sheets of the template that drew it, and the grounds it has in colours from fields. */
  styles?: string[];
  colours?: ReadonlySet<string>;
}

/** Answers one address of the site from what is published. `path` is decoded. */
export async function answer(
  path: string,
  surroundings: Surroundings,
  asked: Record<string, string> = {},
): Promise<Answer> {
  const place = placeOf(path);
  if (place.at === 'moved') return { status: 301, html: '', to: place.to };
  const [model, heads, { version: theme }] = await Promise.all([readModel(), readTemplateHeads(), readTheme()]);
  const frame = contestOf(heads, 'frame');
  const page = async (parts: Parts): Promise<{ html: string; css: string }> => {
    const around = frame && (await drawTemplate(model, heads, frame, { tree: emptyTree, content: parts.main }));
    const css = coloursCss(new Set([...(around?.env.colours ?? []), ...(parts.colours ?? [])]));
    const html = drawPage(model.site, {
      css,
      title: parts.title,
      main: parts.main,
      frame: around?.html,
      styles: [
        ...surroundings.styles,
        `/styles/theme-${theme}.css`,
        ...(around?.styles ?? []),
        ...(parts.styles ?? []),
      ],
      canonical: parts.path === undefined ? undefined : surroundings.origin + parts.path,
      previous: parts.previous,
      next: parts.next,
      navigation: model.types.map((type) => ({
        label: type.plural,
        url: archiveAddress(type.base),
        current: type.id === parts.current,
      })),
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

  if (place.at === 'front')
    return { status: 200, ...(await page({ title: model.site.name, main: await frontMain(model), path: '/' })) };
  if (place.at === 'nowhere') return missing();
  const type = model.types.find((t) => t.base === place.base);
  if (!type) return missing();

  if (place.at === 'archive') {
    const { html, env, styles } = await drawTemplate(model, heads, contestOf(heads, 'archive', type), {
      tree: () => archiveTree(type),
      archive: { type, page: place.page },
      asked,
    });
    const { pages } = env.paging ?? { pages: 1 };
    if (place.page > pages || env.pastEnd) return missing();
    return {
      status: 200,
      ...(await page({
        title: place.page > 1 ? `${type.plural}, page ${place.page}` : type.plural,
        main: html,
        path: archiveAddress(type.base, place.page),
        previous: place.page > 1 ? archiveAddress(type.base, place.page - 1) : undefined,
        next: place.page < pages ? archiveAddress(type.base, place.page + 1) : undefined,
        current: type.id,
        styles,
        colours: env.colours,
      })),
    };
  }

  const [row] = await select<{ id: number }>(
    "SELECT id FROM records WHERE type_id = ? AND slug = ? AND status = 'published'",
    [type.id, place.slug],
  );
  const [record] = row ? await loadRecords(model, [row.id], { drafts: false }) : [];
  if (!record) return missing();
  const { html, styles, env } = await drawTemplate(model, heads, contestOf(heads, 'record', type), {
    tree: () => recordTree(type, model),
    record,
    asked,
  });
  if (env.pastEnd) return missing();
  return {
    status: 200,
    ...(await page({
      title: record.title,
      main: html,
      path: addressOf(record, model),
      current: type.id,
      styles,
      colours: env.colours,
    })),
  };
}

const emptyTree = (): Tree => ({ root: 'none', elements: {} });

/** The template that answers: the first frame there is, or the winner of the contest for a type. */
function contestOf(heads: readonly TemplateHead[], purpose: Purpose, type?: ContentType): TemplateHead | undefined {
  if (!type) return heads.find((head) => head.purpose === purpose);
  return contest(heads, purpose, type.id).candidates[0]?.template;
}

interface Ready {
  tree: CompiledTree;
  /** Steps that its paths take, so that no other relations are read. */
  steps: ReadonlySet<string>;
  /** Address of its style sheet; undefined where it has no looks of its own. */
  sheet?: string;
}

const shortHash = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 10);

/** The parts as they stand, read again only when one of them has moved on. */
let parts: { key: string; list: Template[] } | undefined;

async function partsNow(heads: readonly TemplateHead[]): Promise<{ key: string; list: Template[] }> {
  const key = heads.flatMap(({ id, version, purpose }) => (purpose === 'part' ? [`${id}:${version}`] : [])).join(' ');
  if (parts?.key !== key) parts = { key, list: key ? await readParts() : [] };
  return parts;
}

function makeReady(tree: Tree, scopes: Scopes, model: ModelIndex, list: Template[], id?: string): Ready {
  const made = compileTree(tree, scopes, model, { parts: partsAmong(list), id });
  // A part may be read anywhere; what its own paths need is asked for with the rest.
  const trees = [tree, ...list.map((part) => part.tree)];
  return {
    tree: made,
    steps: new Set(trees.flatMap((one) => usesOf(one).flatMap((use) => use.path.steps))),
    sheet: id && made.css ? `/styles/${id}-${shortHash(made.css)}.css` : undefined,
  };
}

/** Compiled templates, each with the state of everything it was made from; one compiles once and draws many times. */
const compiled = new Map<string, Ready & { version: number; model: ModelIndex; parts: string }>();

async function readyTemplate(model: ModelIndex, heads: readonly TemplateHead[], head: TemplateHead): Promise<Ready> {
  const { key, list } = await partsNow(heads);
  const kept = compiled.get(head.id);
  if (kept?.version === head.version && kept.model === model && kept.parts === key) return kept;
  const template = await readTemplate(head.id);
  const made = makeReady(template.tree, scopesOf(template), model, list, template.id);
  compiled.set(head.id, { ...made, version: template.version, model, parts: key });
  return made;
}

/** The style sheet at an address under `/styles/`; `current` where the address is that of what it is now. */
export async function styleSheet(file: string): Promise<{ css: string; current: boolean } | undefined> {
  const [, id, mark] = /^(.+)-([0-9a-f]+)\.css$/.exec(file) ?? [];
  if (!id) return undefined;
  if (id === 'theme') {
    const { theme, version } = await readTheme();
    return { css: themeCss(theme), current: String(version) === mark };
  }
  const [model, heads] = await Promise.all([readModel(), readTemplateHeads()]);
  const head = heads.find((one) => one.id === id);
  if (!head) return undefined;
  const { tree, sheet } = await readyTemplate(model, heads, head);
  return { css: tree.css, current: sheet === `/styles/${file}` };
}

async function drawTemplate(
  model: ModelIndex,
  heads: readonly TemplateHead[],
  head: TemplateHead | undefined,
  given: {
    tree: () => Tree;
    record?: ContentRecord;
    archive?: ArchivePlace;
    content?: string;
    asked?: Record<string, string>;
  },
): Promise<{ html: string; env: Env; styles: string[] }> {
  const { record, archive, content, asked } = given;
  const plainScopes = { recordTypeIds: record && [record.typeId], archiveTypeId: archive?.type.id, loops: [] };
  const { tree, steps, sheet } = head
    ? await readyTemplate(model, heads, head)
    : makeReady(given.tree(), plainScopes, model, []);
  const batch = batchPool(model, { drafts: false, relations: steps });
  const today = localDay(new Date(), model.site.timeZone);
  let env!: Env;
  const html = await drawComplete(batch, () => {
    env = makeEnv({ model, pool: batch.pool, today, record, archive, content, asked });
    return tree.draw(env);
  });
  return { html, env, styles: sheet ? [sheet] : [] };
}

async function frontMain(model: ModelIndex): Promise<string> {
  const counts = await select<{ typeId: string; n: number }>(
    "SELECT type_id AS typeId, SUM(n) AS n FROM record_counts WHERE status = 'published' GROUP BY type_id",
  );
  const items = model.types.map((type) => {
    const n = Number(counts.find((row) => row.typeId === type.id)?.n ?? 0);
    return `<li><a href="${archiveAddress(type.base)}">${escapeHtml(type.plural)}</a> <span class="tone-quiet">${n}</span></li>`;
  });
  return `<div class="stack gap-m front"><h1>${escapeHtml(model.site.name)}</h1><p class="text text-l">${escapeHtml(model.site.tagline)}</p><ul class="front-list">${items.join('')}</ul></div>`;
}
