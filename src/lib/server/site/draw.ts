import '../../core/base/icons/all';
import { localDay } from '../../core/base/write';
import type { ContentRecord } from '../../core/schema/record';
import { makeEnv, type Env } from '../../core/paths/env';
import { Trace } from '../../core/paths/trace';
import type { Scopes } from '../../core/paths/scopes';
import { compileTree, scopesOf } from '../../core/render/compile';
import { scopeOfArchive, type ArchivePlace } from '../../core/addresses/archives';
import type { Template } from '../../core/schema/template';
import type { Tree } from '../../core/schema/element';
import { nameOf } from '../../core/templates/names';
import { usesOf, walk } from '../../core/templates/tree';
import { elementNamed } from '../../core/elements';
import { valuesOf, whyOf, type Why } from '../../core/checks/why';
import { currentCache } from '../queries/read-cache';
import { batchPool, drawComplete, type BatchPool } from '../queries/pool';
import type { Reads } from '../queries/reads';
import { partsAmong } from '../services/templates';
import type { SiteDesign } from './design';

/** What one page is drawn from: a record, an archive, or in a frame the page itself. */
export interface DrawInput {
  tree: () => Tree;
  record?: ContentRecord;
  archive?: ArchivePlace;
  content?: string;
  /** The frame that it stands in. */
  frame?: Template;
  /** What the address asks; what no list of the page understands is left out. */
  asked?: Question;
  address?: string;
  /** Drawn to stand as a file. */
  still?: boolean;
  /** What was fetched for pages before; only one page at a time is drawn from it. */
  batch?: BatchPool;
  /** Told what the page is made from. */
  reads?: Reads;
  /** Filled with why each element is there or not; the page is then drawn with marks to find them by. */
  inspect?: Inspection;
}

/** What is known of a page to the designer who looks at it. */
export interface Inspection {
  template?: { id: string; name: string };
  record?: { id: number; typeId: string };
  elements: { id: string; name: string; kind: string; depth: number; ruled: boolean; why: Why; sees: string[] }[];
}

export type Question = Readonly<Record<string, readonly string[]>>;

/** Draws a page with a template, or without one with the tree that it is given. `hears` are the names of questions that it listens to. */
export async function drawTemplate(
  design: SiteDesign,
  template: Template | undefined,
  given: DrawInput,
): Promise<{ html: string; env: Env; hears: ReadonlySet<string> }> {
  const { record, archive, content, address, still, frame } = given;
  const { model } = design;
  const plainScopes: Scopes = {
    recordTypeIds: record && [record.typeId],
    ...(archive && { archive: scopeOfArchive(archive, model) }),
    loops: [],
  };
  const { tree, steps } = template
    ? design.ready(template, frame)
    : design.readyPlain(JSON.stringify(plainScopes), given.tree, plainScopes, frame);
  const batch = given.batch ?? batchPool(model, { drafts: false, relations: steps, cache: await currentCache() });
  const pool = given.reads ? batch.readFor(given.reads) : batch.pool;
  const today = localDay(new Date(), model.site.timeZone);
  const hears = archive?.of === 'search' ? new Set([...tree.keys, 'q']) : tree.keys;
  const asked = Object.fromEntries(Object.entries(given.asked ?? {}).filter(([key]) => hears.has(key)));
  let env!: Env;
  const { inspect } = given;
  const inspected = inspect && inspectable(design, template, given, plainScopes);
  const html = await drawComplete(batch, () => {
    env = makeEnv({ model, pool, today, record, archive, content, asked, address, still });
    return inspected ? inspected(env, inspect) : tree.draw(env);
  });
  return { html, env, hears };
}

/** A template made ready to be looked into: draws with marks, and tells of each element outside of loops why it is there or not. */
function inspectable(
  { model, templates, theme }: SiteDesign,
  template: Template | undefined,
  given: DrawInput,
  plainScopes: Scopes,
): (env: Env, into: Inspection) => string {
  const tree = template?.tree ?? given.tree();
  const scopes = template ? scopesOf(template, model) : plainScopes;
  const compiled = compileTree(tree, scopes, model, {
    marked: true,
    parts: partsAmong(templates),
    id: template?.id,
    looks: theme.looks,
  });
  const rows = walk(tree).filter(({ element }) => compiled.elements.get(element.id)?.scopes.loops.length === 0);
  const uses = usesOf(tree);
  return (env, into) => {
    env.trace = new Trace();
    const html = compiled.draw(env);
    const drawn = env.trace.drawn();
    into.record = env.record && { id: env.record.id, typeId: env.record.typeId };
    into.template = template && { id: template.id, name: template.name };
    into.elements = rows.map(({ element, depth }) => {
      const reads = uses.filter((use) => use.elementId === element.id && use.via !== 'rule').map((use) => use.path);
      return {
        id: element.id,
        name: nameOf(element, model),
        kind: elementNamed(element.kind)?.label ?? element.kind,
        depth,
        ruled: Boolean(element.rule?.rules.length),
        why: whyOf(
          tree,
          compiled.elements,
          element.id,
          () => env,
          (id) => drawn.has(id),
        ),
        sees: valuesOf(reads, model),
      };
    });
    return html;
  };
}
