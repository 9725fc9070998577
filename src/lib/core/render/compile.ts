import { elementNamed } from '../elements';
import type { Draw, Making } from '../elements/element';
import { compileLoop, type CompiledLoop } from '../loops/loop';
import type { ModelIndex } from '../model/model';
import type { Env } from '../paths/env';
import type { Scopes } from '../paths/path';
import { problem, type Problem } from '../result';
import { compileRule, type CompiledRule } from '../rules/compile';
import type { Element, Template, Tree } from '../templates/template';
import { compileSlot, type CompiledSlot } from './slots';

/** Something at one element that the designer should look at. */
export interface LooseEnd extends Problem {
  elementId: string;
  /** Slot name, or `rule`, or `repeats` for what a loop goes over. */
  via: string;
}

/** What the workbench wants to know of one element beside its drawing. */
export interface CompiledElement {
  /** What paths in this element may start from. */
  scopes: Scopes;
  /** For a loop: the scopes of what it holds. */
  inside: Scopes;
  rule?: CompiledRule;
  loop?: CompiledLoop;
}

export interface CompiledTree {
  /** HTML of the whole tree for one page. */
  draw: Draw;
  elements: Map<string, CompiledElement>;
  looseEnds: LooseEnd[];
}

export interface CompileOptions {
  /** Marks elements and blanks for the canvas, and reports what became of each. */
  studio?: boolean;
}

/** The scopes at the top of a template. */
export function scopesOf(template: Pick<Template, 'purpose' | 'serves'>): Scopes {
  const typeIds = [...new Set(template.serves.map((target) => target.typeId))];
  return template.purpose === 'record'
    ? { recordTypeIds: typeIds, loops: [] }
    : { archiveTypeId: typeIds[0], loops: [] };
}

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
  const context: Context = { tree, model, studio: options.studio ?? false, elements, looseEnds };
  return { draw: compileElement(context, tree.root, scopes), elements, looseEnds };
}

interface Context {
  tree: Tree;
  model: ModelIndex;
  studio: boolean;
  elements: Map<string, CompiledElement>;
  looseEnds: LooseEnd[];
}

const nothing: Draw = () => '';

function compileElement(context: Context, id: string, scopes: Scopes): Draw {
  const { tree, model, studio, elements, looseEnds } = context;
  const element = tree.elements[id];
  const kind = element && elementNamed(element.kind);
  if (!element || !kind) return nothing;
  const tell = (via: string, problems: Problem[]) => {
    for (const p of problems) looseEnds.push({ ...p, elementId: id, via });
  };

  const props = kind.props.safeParse(element.props);
  if (!props.success) {
    tell('props', [problem('props', 'These settings cannot be read.')]);
    return nothing;
  }
  const settings = kind.loop?.(props.data);
  const loop = settings && compileLoop(id, loopName(element, model), settings, scopes, model);
  if (loop) tell('repeats', loop.problems);
  const inside = loop ? { ...scopes, loops: [...scopes.loops, loop.scope] } : scopes;

  const slots = new Map<string, CompiledSlot>();
  for (const [name, definition] of Object.entries(kind.slots)) {
    const slot = compileSlot(element.slots[name], definition.shape, scopes, model);
    tell(name, slot.problems);
    slots.set(name, slot);
  }
  const rule = element.rule?.rules.length ? compileRule(element.rule, scopes, model) : undefined;
  if (rule) tell('rule', rule.problems);
  elements.set(id, { scopes, inside, rule, loop });

  const bound = [...slots.values()].some((slot) => slot.bound);
  const making: Making<Record<string, unknown>> = {
    props: props.data,
    slot: (name) => slots.get(name) as CompiledSlot,
    children: joined(element.children.map((child) => compileElement(context, child, inside))),
    childCount: element.children.length,
    attributes: (...classes) => {
      const list = classes.filter(Boolean).join(' ');
      return (list ? ` class="${list}"` : '') + (studio ? ` data-element="${id}"${bound ? ' data-bound' : ''}` : '');
    },
    studio,
    loop,
    blank: (words) => `<div class="blank" data-element="${id}">${words}</div>`,
  };
  return guarded(kind.draw(making), id, rule, studio);
}

/** Puts the rule before a drawing and, while designing, reports what became of the element. */
function guarded(draw: Draw, id: string, rule: CompiledRule | undefined, studio: boolean): Draw {
  if (!studio) return rule ? (env) => (rule.holds(env) ? draw(env) : '') : draw;
  return (env: Env) => {
    if (rule && !rule.holds(env)) {
      env.trace?.(id, 'rule', env);
      return '';
    }
    const html = draw(env);
    env.trace?.(id, html ? 'drawn' : 'empty', env);
    return html;
  };
}

function joined(draws: Draw[]): Draw {
  const [a, b, c] = draws;
  if (!a) return nothing;
  if (!b) return a;
  if (!c) return (env) => a(env) + b(env);
  return (env) => {
    let out = '';
    for (const draw of draws) out += draw(env);
    return out;
  };
}
