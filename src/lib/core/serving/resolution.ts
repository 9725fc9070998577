import type { ContentRecord } from '../schema/record';
import type { ModelIndex } from '../model/model-index';
import type { Env } from '../paths/env';
import { compileRule, type CompiledRule } from '../rules/compile';
import { explain, type Explained } from '../rules/explain';
import type { Target } from '../schema/target';
import type { Template } from '../schema/template';
import type { ArchiveOf } from '../addresses/archives';
import { targetWords } from './targets';

/** What of a template decides whether it answers. */
export type Serving = Pick<Template, 'id' | 'name' | 'purpose' | 'serves' | 'except' | 'order'>;

/** A page that templates contend for: that of a record, or of an archive. */
export type PageOf = { record: ContentRecord } | { archive: ArchiveOf };

/** How near a target is to a page: the first of these decides before the next. */
export const LEVELS = ['records', 'rule', 'term', 'author', 'type', 'everything'] as const;
export type Level = (typeof LEVELS)[number];

export interface Candidate<T extends Serving> {
  template: T;
  level: Level;
  /** By what it answers. */
  target: Target;
  /** Why it stands where it does, in words. */
  reason: string;
}

export interface Loser<T extends Serving> {
  template: T;
  reason: string;
  /** Where a rule decided: what its tests saw. */
  rule?: Explained;
}

export interface Resolution<T extends Serving> {
  /** Those that could answer, in order: the first does. */
  candidates: Candidate<T>[];
  /** Those of the same purpose that could not. */
  others: Loser<T>[];
  /** Whether only the designer's order decided. */
  tied: boolean;
}

/** How far a target is from a page: its level, and within the level how many steps up; undefined where it does not fit. */
export interface Nearness {
  level: Level;
  steps: number;
}

/** The contest of templates of one purpose for any page. */
export interface Contenders<T extends Serving> {
  /** The contest for a page; `envOf` gives what rules are asked in, and is only called where there are some. */
  at(page: PageOf, envOf: (record: ContentRecord) => Env): Resolution<T>;
  /** The one that answers, without reasons; for going through many pages. */
  winner(page: PageOf, envOf: (record: ContentRecord) => Env): T | undefined;
  /** The same with whether only the order decided. */
  standing(page: PageOf, envOf: (record: ContentRecord) => Env): { template?: T; tied: boolean };
  /** The content types for which rules are asked, so that whole records are needed. */
  asksRulesOf: ReadonlySet<string>;
}

/** Templates of one purpose in the order in which they contend, with their targets. Without any a frame stands around everything. */
export function inOrder<T extends Serving>(
  templates: readonly T[],
  purpose: Template['purpose'],
): { template: T; serves: readonly Target[]; except: readonly Target[] }[] {
  const everything: Target[] = [{ on: 'everything' }];
  return templates
    .filter((template) => template.purpose === purpose)
    .map((template) => ({
      template,
      serves: template.serves.length || purpose !== 'frame' ? template.serves : everything,
      except: template.except ?? [],
    }))
    .sort((a, b) => a.template.order - b.template.order || (a.template.id < b.template.id ? -1 : 1));
}

/** Holds what targets with rules are asked by, so that a rule is compiled once for many pages. */
export function contenders<T extends Serving>(
  templates: readonly T[],
  purpose: Template['purpose'],
  model: ModelIndex,
): Contenders<T> {
  const rules = new Map<Target, CompiledRule>();
  const own = inOrder(templates, purpose);
  for (const { serves, except } of own)
    for (const target of [...serves, ...except])
      if (target.on === 'rule')
        rules.set(target, compileRule(target.rule, { recordTypeIds: [target.typeId], loops: [] }, model));

  const isFrame = purpose === 'frame';
  const nearness = (target: Target, page: PageOf, envOf: (record: ContentRecord) => Env): Nearness | undefined => {
    if ('archive' in page) return archiveNearness(target, page.archive, model, isFrame);
    const { record } = page;
    if (target.on !== 'rule') return recordNearness(target, record, model);
    if (target.typeId !== record.typeId) return undefined;
    return rules.get(target)?.holds(envOf(record)) ? { level: 'rule', steps: 0 } : undefined;
  };
  const nearest = (targets: readonly Target[], page: PageOf, envOf: (record: ContentRecord) => Env) => {
    let best: { target: Target; near: Nearness } | undefined;
    for (const target of targets) {
      const near = nearness(target, page, envOf);
      if (near && (!best || further(best.near, near) > 0)) best = { target, near };
    }
    return best;
  };
  const standing = (page: PageOf, envOf: (record: ContentRecord) => Env) =>
    own
      .flatMap((one) => {
        const found = nearest(one.serves, page, envOf);
        return found && !nearest(one.except, page, envOf) ? [{ ...one, ...found }] : [];
      })
      // Sorting keeps the designer's order between equals.
      .sort((a, b) => further(a.near, b.near));

  return {
    asksRulesOf: new Set([...rules.keys()].flatMap((target) => (target.on === 'rule' ? [target.typeId] : []))),
    winner: (page, envOf) => standing(page, envOf)[0]?.template,
    standing(page, envOf) {
      const [first, second] = standing(page, envOf);
      return { template: first?.template, tied: Boolean(first && second && further(first.near, second.near) === 0) };
    },
    at(page, envOf) {
      const found = standing(page, envOf);
      const [first, second] = found;
      const candidates = found.map(({ template, near, target }, i): Candidate<T> => {
        const words = targetWords(target, model, purpose);
        const reason =
          i === 0 || !first
            ? `Serves ${words}.`
            : further(first.near, near) === 0
              ? `Serves ${words}, as near, but stands later in the order.`
              : `Serves ${words}, which is less near.`;
        return { template, level: near.level, target, reason };
      });
      const others = own
        .filter(({ template }) => !found.some((one) => one.template === template))
        .map(({ template, serves, except }): Loser<T> => {
          const left = nearest(serves, page, envOf) && nearest(except, page, envOf);
          if (left) return { template, reason: `Leaves out ${targetWords(left.target, model, purpose)}.` };
          const asked =
            'record' in page
              ? serves.find((target) => target.on === 'rule' && target.typeId === page.record.typeId)
              : undefined;
          const rule = asked && rules.get(asked);
          if (rule && 'record' in page) {
            const told = explain(rule, envOf(page.record));
            return { template, reason: `Its rule does not hold: ${told.words}.`, rule: told };
          }
          const words = serves.map((target) => targetWords(target, model, purpose));
          return { template, reason: words.length ? `Serves ${words.join('; ')}.` : 'Serves nothing.' };
        });
      return { candidates, others, tied: Boolean(first && second && further(first.near, second.near) === 0) };
    },
  };
}

/** The less, the nearer. */
export const rankOf = ({ level, steps }: Nearness): number => LEVELS.indexOf(level) * 1000 + Math.min(steps, 999);
/** Less than 0 where the first is nearer. */
const further = (a: Nearness, b: Nearness): number => rankOf(a) - rankOf(b);

/** A term is nearer the fewer steps it is above one that the record is filed under; a taxonomy is above them all. */
export const ABOVE_ALL_TERMS = 500;

function recordNearness(target: Target, record: ContentRecord, model: ModelIndex): Nearness | undefined {
  if ('typeId' in target && target.typeId && target.typeId !== record.typeId) return undefined;
  switch (target.on) {
    case 'records':
      return target.typeId === record.typeId && target.ids.includes(record.id)
        ? { level: 'records', steps: 0 }
        : undefined;
    case 'term':
    case 'taxonomy': {
      let steps = Infinity;
      for (const id of record.terms)
        if (target.on === 'term') {
          const at = model.above(id).indexOf(target.termId);
          if (at >= 0) steps = Math.min(steps, at);
        } else if (model.term(id)?.taxonomyId === target.taxonomyId) steps = ABOVE_ALL_TERMS;
      return steps < Infinity ? { level: 'term', steps } : undefined;
    }
    case 'author':
      return record.authorId === target.authorId ? { level: 'author', steps: 0 } : undefined;
    case 'type':
      return record.typeId === target.typeId ? { level: 'type', steps: 0 } : undefined;
    case 'everything':
      return { level: 'everything', steps: 0 };
    default:
      return undefined;
  }
}

function archiveNearness(target: Target, of: ArchiveOf, model: ModelIndex, isFrame: boolean): Nearness | undefined {
  const at = (level: Level, steps = 0): Nearness => ({ level, steps });
  switch (target.on) {
    case 'term': {
      const steps = of.of === 'term' ? model.above(of.termId).indexOf(target.termId) : -1;
      return steps >= 0 ? at('term', steps) : undefined;
    }
    case 'taxonomy':
      return of.of === 'term' && model.term(of.termId)?.taxonomyId === target.taxonomyId
        ? at('term', ABOVE_ALL_TERMS)
        : undefined;
    case 'author':
      return of.of === 'author' && of.authorId === target.authorId ? at('author') : undefined;
    case 'authors':
      return of.of === 'author' ? at('author', 1) : undefined;
    case 'dates':
      return of.of === 'date' && of.typeId === target.typeId ? at('type') : undefined;
    case 'type':
      if (of.of === 'date' && of.typeId === target.typeId) return at('type', 1);
      return of.of === 'type' && of.typeId === target.typeId ? at('type') : undefined;
    case 'search':
    case 'front':
    case 'missing':
      return of.of === target.on ? at('type') : undefined;
    case 'everything':
      return isFrame || (of.of !== 'front' && of.of !== 'missing') ? at('everything') : undefined;
    default:
      return undefined;
  }
}
