import { coloursCss } from '../elements/common';
import { compilePath } from '../paths/compile';
import type { Env } from '../paths/env';
import { Trace } from '../paths/trace';
import type { CompiledTree, LooseEnd } from '../render/compile';
import type { ModelIndex } from '../model/model-index';
import type { Binding, SlotValue } from '../schema/binding';
import type { Tree } from '../schema/element';
import { drawingOf } from './coverage';
import { envOf, type RecordContext, type Subject } from './subjects';

/** One page of a template as it is looked at among many: its HTML as visitors get it, and what became of its elements. */
export interface Look {
  /** Of what it is about. */
  id: number;
  html: string;
  /** Rules for grounds in colours from fields. */
  css: string;
  /** Elements that are on it. */
  drawn: string[];
  /** Elements that their rule hides, that nothing fills, and that show a fallback in place of their own value. */
  hidden: string[];
  empty: string[];
  fallbacks: string[];
  /** Elements on this page that something is wrong with. */
  broken: string[];
}

interface Falls {
  id: string;
  /** Whether the value that comes first is empty. */
  empty(env: Env): boolean;
}

const bindingsOf = (slot: SlotValue): Binding[] =>
  'bound' in slot ? [slot.bound] : 'words' in slot ? slot.words.flat().flatMap((run) => run.bound ?? []) : [];

/** Elements with a fallback, at this depth of loops. */
function fallsOf(tree: Tree, compiled: CompiledTree, model: ModelIndex, depth = 0): Falls[] {
  return Object.values(tree.elements).flatMap(({ id, slots }) => {
    const made = compiled.elements.get(id);
    if (made?.scopes.loops.length !== depth) return [];
    const first = Object.values(slots)
      .flatMap(bindingsOf)
      .filter((binding) => binding.fallbacks.length)
      .flatMap((binding) => {
        const path = compilePath(binding.path, made.scopes, model);
        return path.ok ? [path.value.read] : [];
      });
    const none = (value: unknown) => value === undefined || (Array.isArray(value) && !value.length);
    return first.length ? [{ id, empty: (env: Env) => first.some((read) => none(read(env))) }] : [];
  });
}

/** Makes pages of one template, or turns of one of its loops, to be looked at; the tree has to be compiled with marks. */
export function looksOf(
  tree: Tree,
  compiled: CompiledTree,
  given: RecordContext & { looseEnds?: readonly LooseEnd[] },
  loop?: string,
): (subject: Subject) => Look {
  const { model } = given;
  const draw = drawingOf(tree, compiled, loop);
  const falls = fallsOf(tree, compiled, model, loop ? compiled.elements.get(loop)?.inside.loops.length : 0);
  const wrong = new Set([...compiled.looseEnds, ...(given.looseEnds ?? [])].map((end) => end.elementId));
  return (subject) => {
    const trace = new Trace();
    const env = envOf(subject, given, { trace });
    const html = draw(env);
    const fates = trace.tally();
    const drawn = (id: string) => Boolean(fates.get(id)?.drawn);
    const gone = (fate: 'rule' | 'empty') =>
      [...fates].flatMap(([id, seen]) => (!seen.drawn && seen[fate] ? [id] : []));
    return {
      id: subject.id,
      html,
      css: coloursCss(env.colours),
      drawn: [...trace.drawn()],
      hidden: gone('rule'),
      empty: gone('empty'),
      fallbacks: falls.flatMap(({ id, empty: falls }) => (drawn(id) && falls(env) ? [id] : [])),
      broken: [...wrong].filter((id) => drawn(id) || fates.get(id)?.empty),
    };
  };
}
