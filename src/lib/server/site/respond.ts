import { localDay } from '../../core/formats/write';
import type { ContentRecord } from '../../core/content/record';
import type { ContentType, ModelIndex } from '../../core/model/model';
import { makeEnv, type ArchivePlace, type Env } from '../../core/paths/env';
import type { Scopes } from '../../core/paths/path';
import { compileTree, scopesOf, type CompiledTree } from '../../core/render/compile';
import { drawPage } from '../../core/render/page';
import { addressOf, archiveAddress, placeOf } from '../../core/serving/addresses';
import { contest } from '../../core/serving/contest';
import { plainArchiveTree, plainRecordTree } from '../../core/templates/plain';
import type { Template, Tree } from '../../core/templates/template';
import { usesOf } from '../../core/templates/tree';
import { escapeHtml } from '../../core/text';
import { select } from '../database/connect';
import { batchPool, drawComplete } from '../queries/pool';
import { loadRecords } from '../queries/load';
import { readModel } from '../services/model';
import { readTemplate, readTemplateHeads, type TemplateHead } from '../services/templates';

export interface Answer {
  status: 200 | 301 | 404;
  html: string;
  /** Where a 301 leads. */
  to?: string;
}

/** Style sheets of the site, by address; set once by the route that knows where they were built to. */
export interface Surroundings {
  styles: string[];
  origin: string;
}

/** Answers one address of the site from what is published. `path` is decoded. */
export async function answer(path: string, surroundings: Surroundings): Promise<Answer> {
  const place = placeOf(path);
  if (place.at === 'moved') return { status: 301, html: '', to: place.to };
  const model = await readModel();
  const page = (parts: {
    title: string;
    main: string;
    path?: string;
    previous?: string;
    next?: string;
    current?: string;
  }) =>
    drawPage(model.site, {
      title: parts.title,
      main: parts.main,
      styles: surroundings.styles,
      canonical: parts.path === undefined ? undefined : surroundings.origin + parts.path,
      previous: parts.previous,
      next: parts.next,
      navigation: model.types.map((type) => ({
        label: type.plural,
        url: archiveAddress(type.base),
        current: type.id === parts.current,
      })),
    });
  const missing = (): Answer => ({
    status: 404,
    html: page({
      title: 'Page not found',
      main: '<div class="stack gap-m"><h1>There is no page here</h1><p>The address may be mistyped, or the page may have gone.</p><p class="link look-outline"><a href="/">To the front page</a></p></div>',
    }),
  });

  if (place.at === 'front')
    return { status: 200, html: page({ title: model.site.name, main: await frontMain(model), path: '/' }) };
  if (place.at === 'nowhere') return missing();
  const type = model.types.find((t) => t.base === place.base);
  if (!type) return missing();

  if (place.at === 'archive') {
    const { html, env } = await drawTemplate(model, await template('archive', type), {
      tree: plainArchiveTree,
      archive: { type, page: place.page },
    });
    const { pages } = env.paging ?? { pages: 1 };
    if (place.page > pages) return missing();
    return {
      status: 200,
      html: page({
        title: place.page > 1 ? `${type.plural}, page ${place.page}` : type.plural,
        main: html,
        path: archiveAddress(type.base, place.page),
        previous: place.page > 1 ? archiveAddress(type.base, place.page - 1) : undefined,
        next: place.page < pages ? archiveAddress(type.base, place.page + 1) : undefined,
        current: type.id,
      }),
    };
  }

  const [row] = await select<{ id: number }>(
    "SELECT id FROM records WHERE type_id = ? AND slug = ? AND status = 'published'",
    [type.id, place.slug],
  );
  const [record] = row ? await loadRecords(model, [row.id], { drafts: false }) : [];
  if (!record) return missing();
  const { html } = await drawTemplate(model, await template('record', type), {
    tree: () => plainRecordTree(type, model),
    record,
  });
  return {
    status: 200,
    html: page({ title: record.title, main: html, path: addressOf(record, model), current: type.id }),
  };
}

async function template(purpose: Template['purpose'], type: ContentType): Promise<TemplateHead | undefined> {
  return contest(await readTemplateHeads(), purpose, type.id).candidates[0]?.template;
}

interface Ready {
  tree: CompiledTree;
  /** Steps that its paths take, so that no other relations are read. */
  steps: ReadonlySet<string>;
}

const makeReady = (tree: Tree, scopes: Scopes, model: ModelIndex): Ready => ({
  tree: compileTree(tree, scopes, model),
  steps: new Set(usesOf(tree).flatMap((use) => use.path.steps)),
});

/** Compiled templates, each with the state of template and model it was made from; one compiles once and draws many times. */
const compiled = new Map<string, Ready & { version: number; model: ModelIndex }>();

async function readyTemplate(model: ModelIndex, head: TemplateHead): Promise<Ready> {
  const kept = compiled.get(head.id);
  if (kept?.version === head.version && kept.model === model) return kept;
  const template = await readTemplate(head.id);
  const made = makeReady(template.tree, scopesOf(template), model);
  compiled.set(head.id, { ...made, version: template.version, model });
  return made;
}

async function drawTemplate(
  model: ModelIndex,
  head: TemplateHead | undefined,
  given: { tree: () => Tree; record?: ContentRecord; archive?: ArchivePlace },
): Promise<{ html: string; env: Env }> {
  const { record, archive } = given;
  const plainScopes = { recordTypeIds: record && [record.typeId], archiveTypeId: archive?.type.id, loops: [] };
  const { tree, steps } = head ? await readyTemplate(model, head) : makeReady(given.tree(), plainScopes, model);
  const batch = batchPool(model, { drafts: false, relations: steps });
  const today = localDay(new Date(), model.site.timeZone);
  let env!: Env;
  const html = await drawComplete(batch, () => {
    env = makeEnv({ model, pool: batch.pool, today, record, archive });
    return tree.draw(env);
  });
  return { html, env };
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
