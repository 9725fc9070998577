import type { Env } from '../paths/env';
import type { CompiledRule } from './compile';
import { isGroup } from '../schema/rule';

/** One test, or rule asked of rows, that would have to come out otherwise. */
export interface OtherOutcome {
  rule: CompiledRule;
  /** How it has to come out. */
  to: boolean;
}

/**
 * The fewest tests that have to come out otherwise for a rule to come out as wanted; the first of several that are as few.
 * Empty where it does already, undefined where it never can. That tests of one value may not come out in every way
 * together is not looked at.
 */
export function changesFor(rule: CompiledRule, wanted: boolean, env: Env): OtherOutcome[] | undefined {
  if (rule.holds(env) === wanted) return [];
  if (rule.named) return changesFor(rule.parts[0] as CompiledRule, wanted, env);
  if (rule.test || rule.where) return [{ rule, to: wanted }];
  // What cannot be read comes out as it does.
  if (!isGroup(rule.rule) || !rule.parts.length) return undefined;
  const { group } = rule.rule;
  const each = group === 'none' ? !wanted : wanted;
  // To make "all" hold or "any" fail, every part has to; for the other way one is enough.
  if ((group === 'all') === each) {
    const all = rule.parts.map((part) => changesFor(part, each, env));
    return all.includes(undefined) ? undefined : (all as OtherOutcome[][]).flat();
  }
  let best: OtherOutcome[] | undefined;
  for (const part of rule.parts) {
    const changes = changesFor(part, each, env);
    if (changes && (!best || changes.length < best.length)) best = changes;
  }
  return best;
}
