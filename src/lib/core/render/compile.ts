import { elementNamed } from '../elements';
import { pageSlot } from '../elements/page-slot';
import { joined, type Draw, type Making } from '../elements/element';
import { compileLoop } from '../loops/loop';
import type { CompiledLoop } from '../loops/compiled';
import { keysOf } from '../loops/visitors';
import type { ModelIndex } from '../model/model-index';
import { compileRecord } from '../paths/compile';
import type { Env } from '../paths/env';
import type { Path } from '../schema/path';
import type { Scopes } from '../paths/scopes';
import { problem, type Problem } from '../base/result';
import { compileRule, type CompiledRule } from '../rules/compile';
import { confineCss } from '#own-css';
import { insideOf, PAGE_ROOM, availableWidthWith, type AvailableWidth } from '../styles/available-width';
import { boxesIn } from '../styles/boxes';
import { joinedStyle, pageBackgroundCss, styleCss } from '../styles/style';
import type { NamedLook } from '../schema/theme';
import { scopeOfTarget } from '../addresses/archives';
import { slugOf } from '../base/text';
import { typesServed } from '../templates/served';
import type { Element, Tree } from '../schema/element';
import type { Template } from '../schema/template';
import { compileSlot, type CompiledSlot } from '../bindings/slots';

/** Something at one element that the designer should look at. */
export interface LooseEnd extends Problem {
  elementId: string;
  /** Slot name, or `rule`, `repeats` for what a loop goes over, `about` for the record of a part, `css` for own CSS. */
  via: string;
  /** What it comes from, where something else goes by that: a branch with nothing in it. */
  cause?: 'empty branch';
}

/** What the workbench wants to know of one element beside its drawing. */
export interface CompiledElement {
  /** What paths in this element may start from. */
  scopes: Scopes;
  /** For a loop: the scopes of what it holds. */
  inside: Scopes;
  rule?: CompiledRule;
  loop?: CompiledLoop;
  /** Its own HTML, whatever its rule says. */
  draw: Draw;
  /** The same where its rule holds, with what became of it told. */
  whole: Draw;
  /** What stands in it, for a part that is placed. */
  part?: { tree: Tree; elements: ReadonlyMap<string, CompiledElement> };
}

/** Stands between the element that places a part and an element of that part, where both are named together. */
export const IN_PART = '>';

export interface CompiledTree {
  /** HTML of the whole tree for one page. */
  draw: Draw;
  /** Rules for the elements that have looks of their own, and for those of the parts in it, by the elements' classes. */
  rules: ReadonlyMap<string, string>;
  /** All of these as one sheet. */
  css: string;
  elements: Map<string, CompiledElement>;
  /** What an address may ask of its lists. */
  keys: ReadonlySet<string>;
  looseEnds: LooseEnd[];
  /** In a frame: the room that the page itself has there. */
  pageRoom?: AvailableWidth;
}

export interface CompileOptions {
  /** For the canvas: with marks and blanks. Blanks are no part of the page, so that what is on it is not known from this. */
  studio?: boolean;
  /** Drawn as visitors get it, but with marks to find elements by. */
  marked?: boolean;
  /** The parts that may be placed, by their template's id. */
  parts?: PartFinder;
  /** The theme's looks with names; what names one that is not among them is as if it named none. */
  looks?: readonly NamedLook[];
  /** The id of the template itself, where it is a part: it cannot stand in itself. */
  id?: string;
  /** The room that it has on the screen; that of a page without a frame otherwise. */
  room?: AvailableWidth;
}

export type PartFinder = (id: string) => Pick<Template, 'id' | 'name' | 'purpose' | 'serves' | 'tree'> | undefined;

/** The scopes at the top of a template. A part sees the record it is given, and the site; the frame only the site. */
export function scopesOf(template: Pick<Template, 'purpose' | 'serves'>, model: ModelIndex): Scopes {
  const typeIds = typesServed(template, model);
  if (template.purpose === 'archive') {
    const all = template.serves.map((target) => scopeOfTarget(target, model));
    const [first] = all;
    if (!first) return { loops: [] };
    const { taxonomyId, ...rest } = first;
    const one = taxonomyId !== undefined && all.every((scope) => scope.taxonomyId === taxonomyId);
    const typeIds = [...new Set(all.flatMap((scope) => scope.typeIds))];
    return { archive: { ...rest, typeIds, ...(one && { taxonomyId }) }, loops: [] };
  }
  return template.purpose !== 'frame' && typeIds.length ? { recordTypeIds: typeIds, loops: [] } : { loops: [] };
}

/** The class by which an element's own looks are found: its name, or its kind, with the end of its id. */
export function classOf(element: Pick<Element, 'id' | 'name' | 'kind'>): string {
  const words =
    slugOf(element.name ?? '')
      .replace(/[^a-z0-9-]/g, '')
      .slice(0, 30) || element.kind;
  return `${/^[a-z]/.test(words) ? words : `e-${words}`}-${element.id
    .replace(/^e_/, '')
    .slice(-5)
    .replace(/[^A-Za-z0-9-]/g, '-')}`;
}

/** The class of a named look on elements of a kind, which says on which boxes it is seen. */
export const lookClassOf = ({ key }: Pick<NamedLook, 'key'>, kind: string): string => `look-${key}-on-${kind}`;

/** The name by which a loop's item is known in its scope. */
export function loopName(element: Element, model: ModelIndex): string {
  if (element.name) return element.name;
  const source = element.props.source as { from: string; typeIds?: string[] } | undefined;
  const type = source?.from === 'query' ? model.type(source.typeIds?.[0] ?? '') : undefined;
  return type ? type.plural : 'Loop';
}

/** Compiles a tree once, to be drawn many times. What is broken draws nothing and is listed among the loose ends. */
export function compileTree(tree: Tree, scopes: Scopes, model: ModelIndex, options: CompileOptions = {}): CompiledTree {
  const elements = new Map<string, CompiledElement>();
  const looseEnds: LooseEnd[] = [];
  const sheet = new Map<string, string>();
  const context: Context = {
    tree,
    model,
    studio: options.studio ?? false,
    marked: (options.studio || options.marked) ?? false,
    traced: (options.studio || options.marked) ?? false,
    prefix: '',
    elements,
    looseEnds,
    sheet,
    named: new Map(),
    looks: options.looks ?? [],
    parts: options.parts,
    within: options.id ? [options.id] : [],
    asked: new Set(),
    made: { elements: 0 },
  };
  const draw = compileElement(context, tree.root, scopes, options.room ?? PAGE_ROOM).draw;
  for (const element of Object.values(tree.elements)) {
    const wrong = elementNamed(element.kind)?.needs?.(element.props, (name) => loopNamed(elements, name));
    if (wrong && elements.has(element.id)) looseEnds.push({ ...wrong, elementId: element.id, via: 'props' });
  }
  const loops = [...elements.values()].flatMap(({ loop }) => loop ?? []);
  const keys = new Set(
    loops.flatMap(({ pageKey, visitors }) => [...(pageKey ? [pageKey] : []), ...(visitors ? keysOf(visitors) : [])]),
  );
  // Looks with names stand first: what an element says itself is said over them.
  const rules = new Map([...context.named, ...sheet]);
  const { pageRoom } = context.made;
  return { draw, elements, looseEnds, keys, rules, css: [...rules.values()].join(''), ...(pageRoom && { pageRoom }) };
}

interface Context {
  tree: Tree;
  model: ModelIndex;
  studio: boolean;
  marked: boolean;
  /** What becomes of elements can be told, those of parts by the names of the elements that place them. */
  traced: boolean;
  prefix: string;
  elements: Map<string, CompiledElement>;
  looseEnds: LooseEnd[];
  /** Rules by class, so that a part that stands twice is styled once. */
  sheet: Map<string, string>;
  /** Rules of named looks, by the class of the look and the kind. */
  named: Map<string, string>;
  looks: readonly NamedLook[];
  parts?: PartFinder;
  /** Ids of the parts that this tree stands in, outermost first. */
  within: string[];
  /** Names by which loops are asked for in addresses. */
  asked: Set<string>;
  /** How many elements were made so far, those in parts too; and the room of the place for the page, in a frame. */
  made: { elements: number; pageRoom?: AvailableWidth };
}

/** A loop of the page by its element's id; without one, the first of which visitors may choose something. */
function loopNamed(elements: ReadonlyMap<string, CompiledElement>, id: string): CompiledLoop | undefined {
  if (id) return elements.get(id)?.loop;
  return [...elements.values()].find(({ loop }) => loop?.visitors)?.loop;
}

/** Elements that one page is made of at most, parts and what stands in them counted each time they are placed. */
export const MOST_PLACED = 20_000;

interface Made {
  draw: Draw;
  /** Without the rule, and the rule by itself. */
  inner: Draw;
  holds(env: Env): boolean;
}

const nothing: Draw = () => '';
const always = (): boolean => true;

function compileElement(context: Context, id: string, scopes: Scopes, place: AvailableWidth): Made {
  const { tree, model, studio, marked, traced, prefix, elements, looseEnds, sheet } = context;
  const element = tree.elements[id];
  const kind = element && elementNamed(element.kind);
  if (!element || !kind) return { draw: nothing, inner: nothing, holds: always };
  const tell = (via: string, problems: Problem[]) => {
    for (const p of problems) looseEnds.push({ ...p, elementId: id, via });
  };

  context.made.elements++;
  const props = kind.props.safeParse(element.props);
  if (!props.success) {
    tell('props', [problem('props', 'These settings cannot be read.')]);
    return { draw: nothing, inner: nothing, holds: always };
  }
  const settings = kind.loop?.(props.data);
  const loop = settings && compileLoop(id, loopName(element, model), settings, scopes, model, context.asked);
  if (loop) tell('repeats', loop.problems);
  const inside = loop ? { ...scopes, loops: [...scopes.loops, loop.scope] } : scopes;

  const look = context.looks.find(({ key }) => key === element.look);
  /** Its own looks over those of its named look. */
  const style = look ? joinedStyle(look.style, element.style) : element.style;
  const boxes = boxesIn(style);
  const slots = new Map<string, CompiledSlot>();
  for (const [name, definition] of Object.entries(kind.slots)) {
    const slot = compileSlot(element.slots[name], definition.shape, scopes, model, boxes);
    if (slot.problems.length) tell(name, slot.problems);
    slots.set(name, slot);
  }
  const read = element.rule?.rules.length ? compileRule(element.rule, scopes, model) : undefined;
  if (read) tell('rule', read.problems);
  // What cannot be read in full is not shown by accident.
  const rule = read?.problems.length ? { ...read, holds: () => false } : read;
  elements.set(id, { scopes, inside, rule, loop, draw: (env) => inner(env), whole: (env) => whole(env) });

  const kindCss = kind.css?.(props.data) ?? '';
  const isPage = id === tree.root && !prefix;
  const ownClass = element.style || element.css?.trim() || kindCss || (look && isPage) ? classOf(element) : '';
  if (ownClass && !sheet.has(ownClass)) {
    const css = element.css?.trim() ? confineCss(element.css, ownClass) : undefined;
    if (css)
      tell(
        'css',
        css.problems.map(({ line, what }) => problem(`css.${line}`, `Own CSS, line ${line}: ${what}`)),
      );
    sheet.set(
      ownClass,
      (kindCss && `.${ownClass}{${kindCss}}`) +
        (element.style ? styleCss(ownClass, element.style, kind) : '') +
        (isPage && style ? pageBackgroundCss(ownClass, style) : '') +
        (css?.css ?? ''),
    );
  }

  const lookClass = look ? lookClassOf(look, kind.name) : '';
  if (look && !context.named.has(lookClass)) context.named.set(lookClass, styleCss(lookClass, look.style, kind));

  const room = availableWidthWith(place, style);
  const holds = insideOf(room, style);
  if (kind.name === pageSlot.name) context.made.pageRoom = room;
  const bound = [...slots.values()].some((slot) => slot.bound);
  const made = element.children.map((child, at) =>
    compileElement(context, child, inside, kind.rooms?.(props.data, holds, at, element.children.length) ?? holds),
  );
  const making: Making<Record<string, unknown>> = {
    props: props.data,
    slot: (name) => slots.get(name) as CompiledSlot,
    children: joined(made.map((child) => child.draw)),
    childCount: element.children.length,
    branches: made.map((child, at) => ({
      ...branchOf(context, element.children[at] as string),
      whole: child.draw,
      holds: child.holds,
      draw: traced ? reported(child.inner, prefix + (element.children[at] as string)) : child.inner,
    })),
    attributes: (...classes) => {
      const list = [...classes, lookClass, ownClass].filter(Boolean).join(' ');
      return (list ? ` class="${list}"` : '') + (marked ? ` data-element="${id}"${bound ? ' data-bound' : ''}` : '');
    },
    studio,
    room,
    loop,
    loopNamed: (name) => loopNamed(elements, name),
    part: (partId, about) =>
      compilePart(context, id, partId, about, scopes, room, (problems) => tell('about', problems)),
    blank: (words) => `<div class="blank" data-element="${id}">${words}</div>`,
  };
  const inner = kind.draw(making);
  const whole = guarded(inner, prefix + id, rule, traced);
  return { draw: whole, inner, holds: rule?.holds ?? always };
}

/** What a holder is told of one of its children. */
function branchOf(
  { tree }: Context,
  id: string,
): { id: string; name: string; kind: string; props: Record<string, unknown> } {
  const child = tree.elements[id];
  const kind = elementNamed(child?.kind ?? '');
  const props = kind?.props.safeParse(child?.props);
  return {
    id,
    name: child?.name ?? kind?.label ?? '',
    kind: child?.kind ?? '',
    props: props?.success ? (props.data as Record<string, unknown>) : {},
  };
}

/** Another template as a piece of this one: drawn for one record of this place, and seeing nothing else of it. */
function compilePart(
  context: Context,
  placedBy: string,
  id: string,
  about: Path | undefined,
  scopes: Scopes,
  room: AvailableWidth,
  tell: (problems: Problem[]) => void,
): Draw | undefined {
  if (!id) return undefined;
  const part = context.parts?.(id);
  if (part?.purpose !== 'part') {
    tell([problem('part', 'The part that stood here has been deleted.', 'Choose another part.')]);
    return undefined;
  }
  if (context.within.includes(id)) {
    const names = [...context.within.slice(context.within.indexOf(id)), id].map(
      (one) => context.parts?.(one)?.name ?? 'this part',
    );
    tell([problem('cycle', `A part cannot stand in itself: ${names.join(' → ')}.`, 'Choose another part.')]);
    return undefined;
  }
  if (context.made.elements > MOST_PLACED) {
    tell([
      problem(
        'cycle',
        `With its parts, and the parts in these, this comes to more than ${MOST_PLACED} elements.`,
        'Place fewer parts within parts.',
      ),
    ]);
    return undefined;
  }
  const own = scopesOf(part, context.model);
  const record = own.recordTypeIds && compileRecord(about, own.recordTypeIds, scopes, context.model);
  if (record && !record.ok) {
    tell(record.problems);
    return undefined;
  }
  const within: LooseEnd[] = [];
  const elements = new Map<string, CompiledElement>();
  const { draw } = compileElement(
    {
      ...context,
      tree: part.tree,
      studio: false,
      marked: false,
      prefix: `${context.prefix}${placedBy}${IN_PART}`,
      elements,
      looseEnds: within,
      within: [...context.within, id],
    },
    part.tree.root,
    own,
    room,
  );
  const placed = context.elements.get(placedBy);
  if (placed) placed.part = { tree: part.tree, elements };
  // What is wrong within a part is told at the part itself, but for going round in circles.
  tell(within.filter((end) => end.at === 'cycle').slice(0, 1));
  return (env) => {
    const shown = record?.value(env);
    if (record && !shown) return '';
    const { record: before, turns, archive } = env;
    env.record = shown;
    env.turns = [];
    env.archive = undefined;
    try {
      const html = draw(env);
      if (html) env.placed?.(id, shown);
      return html;
    } finally {
      env.record = before;
      env.turns = turns;
      env.archive = archive;
    }
  };
}

/** Puts the rule before a drawing and, where it is looked into, tells what became of the element. */
function guarded(draw: Draw, id: string, rule: CompiledRule | undefined, traced: boolean): Draw {
  if (!traced) return rule ? (env) => (rule.holds(env) ? draw(env) : '') : draw;
  const told = reported(draw, id);
  return (env: Env) => {
    if (rule && !env.held?.has(id) && !rule.holds(env)) {
      env.trace?.add(id, 'rule');
      return '';
    }
    return told(env);
  };
}

/** Whatever its rule says: that has been asked already. */
const reported =
  (draw: Draw, id: string): Draw =>
  (env) => {
    const { trace } = env;
    if (!trace) return draw(env);
    const since = trace.now;
    const html = draw(env);
    if (!html) trace.drop(since);
    trace.add(id, html ? 'drawn' : 'empty');
    return html;
  };
