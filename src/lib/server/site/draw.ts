import { createHash } from 'node:crypto';
import { localDay } from '../../core/formats/write';
import type { ContentRecord } from '../../core/content/record';
import type { ModelIndex } from '../../core/model/model';
import { makeEnv, type Env } from '../../core/paths/env';
import type { Scopes } from '../../core/paths/path';
import { pathsOf } from '../../core/rules/rule';
import { compileTree, scopesOf, type CompiledTree } from '../../core/render/compile';
import { scopeOfArchive, type ArchivePlace } from '../../core/serving/archives';
import type { Template, Tree } from '../../core/templates/template';
import { themeCss } from '../../core/theme/theme';
import { nameOf } from '../../core/templates/names';
import { usesOf, walk } from '../../core/templates/tree';
import { elementNamed } from '../../core/elements';
import { valuesOf, whyOf, type Why } from '../../core/checks/why';
import { batchPool, drawComplete } from '../queries/pool';
import { readModel } from '../services/model';
import { partsAmong, readParts, readTemplate, readTemplateHeads, type TemplateHead } from '../services/templates';
import { readTheme } from '../services/theme';

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
    steps: new Set([
      ...trees.flatMap((one) => usesOf(one).flatMap((use) => use.path.steps)),
      ...model.rules.flatMap(({ rule }) => pathsOf(rule).flatMap((path) => path.steps)),
    ]),
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
  const made = makeReady(template.tree, scopesOf(template, model), model, list, template.id);
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

/** What one page is drawn from: a record, an archive, or in a frame the page itself. */
export interface Given {
  tree: () => Tree;
  record?: ContentRecord;
  archive?: ArchivePlace;
  content?: string;
  /** What the address asks; what no list of the page understands is left out. */
  asked?: Asked;
  address?: string;
  /** Filled with why each element is there or not; the page is then drawn with marks to find them by. */
  inspect?: Inspection;
}

/** What is known of a page to the designer who looks at it. */
export interface Inspection {
  template?: { id: string; name: string };
  record?: { id: number; typeId: string };
  elements: { id: string; name: string; kind: string; depth: number; ruled: boolean; why: Why; sees: string[] }[];
}

export type Asked = Readonly<Record<string, readonly string[]>>;

/** Draws a page with a template, or without one with the tree that it is given. */
export async function drawTemplate(
  model: ModelIndex,
  heads: readonly TemplateHead[],
  head: TemplateHead | undefined,
  given: Given,
): Promise<{ html: string; env: Env; styles: string[] }> {
  const { record, archive, content, address } = given;
  const plainScopes: Scopes = {
    recordTypeIds: record && [record.typeId],
    ...(archive && { archive: scopeOfArchive(archive, model) }),
    loops: [],
  };
  const { tree, steps, sheet } = head
    ? await readyTemplate(model, heads, head)
    : makeReady(given.tree(), plainScopes, model, []);
  const batch = batchPool(model, { drafts: false, relations: steps });
  const today = localDay(new Date(), model.site.timeZone);
  const asked = Object.fromEntries(
    Object.entries(given.asked ?? {}).filter(
      ([key]) => tree.keys.has(key) || (key === 'q' && archive?.of === 'search'),
    ),
  );
  let env!: Env;
  const { inspect } = given;
  const inspected = inspect && (await inspectable(model, heads, head, given, plainScopes));
  const html = await drawComplete(batch, () => {
    env = makeEnv({ model, pool: batch.pool, today, record, archive, content, asked, address });
    return inspected ? inspected(env, inspect) : tree.draw(env);
  });
  return { html, env, styles: sheet ? [sheet] : [] };
}

/** A template made ready to be looked into: draws with marks, and tells of each element outside of loops why it is there or not. */
async function inspectable(
  model: ModelIndex,
  heads: readonly TemplateHead[],
  head: TemplateHead | undefined,
  given: Given,
  plainScopes: Scopes,
): Promise<(env: Env, into: Inspection) => string> {
  const template = head && (await readTemplate(head.id));
  const tree = template?.tree ?? given.tree();
  const scopes = template ? scopesOf(template, model) : plainScopes;
  const { list } = await partsNow(heads);
  const compiled = compileTree(tree, scopes, model, { studio: true, parts: partsAmong(list), id: template?.id });
  const rows = walk(tree).filter(({ element }) => compiled.elements.get(element.id)?.scopes.loops.length === 0);
  const uses = usesOf(tree);
  return (env, into) => {
    const drawn = new Set<string>();
    env.trace = (id, fate) => fate === 'drawn' && drawn.add(id);
    const html = compiled.draw(env);
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
