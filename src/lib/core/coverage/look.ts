import type { ContentRecord } from '../schema/record';
import { coloursCss } from '../elements/common';
import { compilePath } from '../paths/compile';
import { makeEnv, type Env, type Pool } from '../paths/env';
import { Trace } from '../paths/trace';
import type { CompiledTree, LooseEnd } from '../render/compile';
import type { ModelIndex } from '../model/model-index';
import type { Binding, SlotValue } from '../schema/binding';
import type { Tree } from '../schema/element';

/** One page of a template as it is looked at among many: its HTML as visitors get it, and what became of its elements. */
export interface Look {
  recordId: number;
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

/** Elements outside of loops with a fallback. */
function fallsOf(tree: Tree, compiled: CompiledTree, model: ModelIndex): Falls[] {
  return Object.values(tree.elements).flatMap(({ id, slots }) => {
    const made = compiled.elements.get(id);
    if (!made || made.scopes.loops.length) return [];
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

/** Makes pages of one template to be looked at; the tree has to be compiled with marks. */
export function looksOf(
  tree: Tree,
  compiled: CompiledTree,
  given: { model: ModelIndex; pool: Pool; today: string; looseEnds?: readonly LooseEnd[] },
): (record: ContentRecord) => Look {
  const { model, pool, today } = given;
  const falls = fallsOf(tree, compiled, model);
  const wrong = new Set([...compiled.looseEnds, ...(given.looseEnds ?? [])].map((end) => end.elementId));
  return (record) => {
    const trace = new Trace();
    const env = makeEnv({ model, pool, today, record, trace });
    const html = compiled.draw(env);
    const fates = trace.tally();
    const drawn = (id: string) => Boolean(fates.get(id)?.drawn);
    const gone = (fate: 'rule' | 'empty') =>
      [...fates].flatMap(([id, seen]) => (!seen.drawn && seen[fate] ? [id] : []));
    return {
      recordId: record.id,
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
