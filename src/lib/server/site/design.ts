import { LRUCache } from 'lru-cache';
import { formerAddresses } from '../queries/releases';
import { releaseShown } from '../queries/site';
import { currentCache } from '../queries/read-cache';
import { createHash } from 'node:crypto';
import { addressForSigns, facesOfPages, partedFaces, rareSigns } from './faces';
import { themeCss } from '../../core/theme/theme';
import type { Theme } from '../../core/schema/theme';
import { pathsOf } from '../../core/rules/walk';
import { compileTree, scopesOf, type CompiledTree } from '../../core/render/compile';
import type { Scopes } from '../../core/paths/scopes';
import type { ModelIndex } from '../../core/model/model-index';
import { contenders, type Contenders } from '../../core/serving/resolution';
import type { Former } from '../../core/addresses/places';
import type { Purpose, Template } from '../../core/schema/template';
import type { Tree } from '../../core/schema/element';
import { usesOf } from '../../core/templates/tree';
import { besideOf, underDesign, type Design } from '../../core/releases/design';
import { readRelease } from '../services/designs';
import { plainOf, readModels, type Models } from '../services/model';
import { draftDesign } from '../services/releases';
import { partsAmong } from '../services/templates';
import { perServer } from '../base/server';

/** A template compiled for drawing. */
export interface Ready {
  tree: CompiledTree;
  /** Steps that its paths take, so that no other relations are read. */
  steps: ReadonlySet<string>;
}

/**
 * The design that a page is drawn from, whole and unchanging: that of one release, or the draft as it is at this moment,
 * over the records as they are now.
 */
export interface SiteDesign {
  /** Names this state of design and content types. */
  key: string;
  /** The number of the release; 0 before there is any, none for the draft. */
  release?: number;
  model: ModelIndex;
  templates: Template[];
  theme: Theme;
  former: Former[];
  contenders(purpose: Purpose): Contenders<Template>;
  /** A template as it stands in a frame, or without one. */
  ready(template: Template, frame?: Template): Ready;
  /** For pages that no template serves; those of one key have the same tree and see the same. */
  readyPlain(key: string, tree: () => Tree, scopes: Scopes, frame?: Template): Ready;
  /** The one style sheet of its pages, with its address; `base` is what every site has. */
  sheet(base: string): Sheet;
}

export interface Sheet {
  css: string;
  address: string;
  /** Files of typefaces that every page is written in, which are asked for before the sheet has come. */
  preload: string[];
  /** Typefaces for scripts that few pages have, in a sheet by itself for those that do. */
  rare: { css: string; address: string };
  /** The sheets that a page with this HTML has. */
  of(html: string): string[];
}

export type Which = 'released' | 'draft';

/** Designs that were asked for last; old releases and drafts go. */
const MOST_KEPT = 6;
/** Designs by their keys, the one that was asked for longest ago first, with the models that they stand over. */
const designs = perServer(() => new Map<string, { design: SiteDesign; models: Models }>());

const hashOf = (text: string): string => createHash('sha256').update(text).digest('hex').slice(0, 10);

/** The design that visitors see, or the draft. */
export async function siteDesign(which: Which): Promise<SiteDesign> {
  if (which === 'draft') {
    const models = await readModels();
    const { design, mark } = await draftDesign(models.draft);
    return remembered(`draft ${mark}`, () => makeDesign(`draft-${mark}`, undefined, models.draft, design, []), models);
  }
  // Which release it is and how the content types stand are read at once, and everything else follows from that.
  const cache = await currentCache();
  const known = cache.get('released design') as SiteDesign | undefined;
  const design = known ?? (await releasedDesign(await releaseShown()));
  if (!known) cache.put('released design', design, 'lasts');
  return design;
}

/** The design of a release by its number; 0 is the one before any. */
export async function releasedDesign(id: number): Promise<SiteDesign> {
  const models = await readModels();
  const key = `r${id}`;
  const known = cachedDesign(key, models);
  if (known) return known;
  const [design, former] = await Promise.all([readRelease(id), formerAddresses()]);
  return remembered(key, () => makeDesign(key, id, modelUnder(models, design), design, former), models);
}

/** What visitors see of the model under a released design. */
function modelUnder({ draft, terms, kept: types }: Models, design: Design): ModelIndex {
  const model = underDesign(plainOf(draft), design, terms);
  return { ...model, beside: besideOf(model.types, types) };
}

/** The design of a key, where it stands over these models; it counts as asked for then. */
function cachedDesign(key: string, models: Models): SiteDesign | undefined {
  const all = designs();
  const cached = all.get(key);
  if (cached?.models !== models) return undefined;
  all.delete(key);
  all.set(key, cached);
  return cached.design;
}

function remembered(key: string, make: () => SiteDesign, models: Models): SiteDesign {
  const cached = cachedDesign(key, models);
  if (cached) return cached;
  const design = make();
  const all = designs();
  all.delete(key);
  all.set(key, { design, models });
  const [oldest] = all.keys();
  if (all.size > MOST_KEPT && oldest !== undefined) all.delete(oldest);
  return design;
}

function makeDesign(
  key: string,
  release: number | undefined,
  model: ModelIndex,
  design: Design,
  former: Former[],
): SiteDesign {
  const { templates, theme } = design;
  const finder = partsAmong(templates);
  const trees = templates.filter(({ purpose }) => purpose === 'part').map(({ tree }) => tree);
  const compiled = new Map<string, Ready>();
  const plain = new LRUCache<string, Ready>({ max: 200 });
  const lists = new Map<Purpose, Contenders<Template>>();
  const make = (tree: Tree, scopes: Scopes, frame?: Template, id?: string): Ready => ({
    tree: compileTree(tree, scopes, model, {
      parts: finder,
      id,
      looks: theme.looks,
      room: frame && ready(frame).tree.pageRoom,
    }),
    // A part may be read anywhere; what its own paths need is asked for with the rest.
    steps: new Set([
      ...[tree, ...trees].flatMap((one) => usesOf(one).flatMap((use) => use.path.steps)),
      ...model.rules.flatMap(({ rule }) => pathsOf(rule).flatMap((path) => path.steps)),
    ]),
  });
  const ready = (template: Template, frame?: Template): Ready => {
    const name = `${template.id} ${frame?.id ?? ''}`;
    const known = compiled.get(name) ?? make(template.tree, scopesOf(template, model), frame, template.id);
    compiled.set(name, known);
    return known;
  };
  let sheet: (Sheet & { base: string }) | undefined;
  return {
    key,
    ...(release !== undefined && { release }),
    model,
    templates,
    theme,
    former,
    contenders(purpose) {
      let list = lists.get(purpose);
      if (!list) lists.set(purpose, (list = contenders(templates, purpose, model)));
      return list;
    },
    ready,
    readyPlain(key, tree, scopes, frame) {
      const name = `${key} ${frame?.id ?? ''}`;
      const known = plain.get(name) ?? make(tree(), scopes, frame);
      plain.set(name, known);
      return known;
    },
    sheet(base) {
      if (sheet?.base !== base) {
        const { often, rare } = partedFaces(base);
        // A part stands in several templates; its rules are sent once.
        const rules = new Set(
          templates
            .filter(({ purpose }) => purpose !== 'part')
            .flatMap((template) => [...ready(template).tree.rules.values()]),
        );
        const css = [often, themeCss(theme), ...rules].filter(Boolean).join('\n');
        const address = (text: string, more = '') =>
          `/styles/${release === undefined ? 'draft' : `r${release}`}-${hashOf(text)}${more}.css`;
        const all = address(rare, '-faces');
        const own = address(css);
        sheet = {
          base,
          css,
          address: own,
          preload: facesOfPages(often, theme),
          rare: { css: rare, address: all },
          of(html) {
            const signs = rare && rareSigns(html);
            return signs ? [own, addressForSigns(signs, rare) ?? all] : [own];
          },
        };
      }
      return sheet;
    },
  };
}

/** The style sheet at an address under `/styles/`; `current` where the address is that of what it is now. */
export async function styleSheet(file: string, base: string): Promise<{ css: string; current: boolean } | undefined> {
  const [, draft, number, faces] = /^(?:(draft)|r(\d{1,9}))-[0-9a-f]{10}(-faces)?\.css$/.exec(file) ?? [];
  if (!draft && !number) return undefined;
  const design = draft ? await siteDesign('draft') : await releasedDesign(Number(number)).catch(() => undefined);
  if (!design) return undefined;
  const sheet = design.sheet(base);
  const { css, address } = faces ? sheet.rare : sheet;
  return { css, current: address === `/styles/${file}` };
}
