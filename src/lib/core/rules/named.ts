import { NamedRuleSchema, type NamedRule } from '../schema/named-rule';
import { fail, ok, problem, problemsOf, type Result } from '../base/result';
import { namesIn } from './walk';

/** The way from a rule back to itself through the rules that it names, by their ids; undefined where there is none. */
export function circleOf(id: string, rules: readonly NamedRule[]): string[] | undefined {
  const byId = new Map(rules.map((rule) => [rule.id, rule]));
  const seen = new Set<string>();
  const go = (at: string, way: string[]): string[] | undefined => {
    for (const next of namesIn(byId.get(at)?.rule ?? { group: 'all', rules: [] })) {
      if (next === id) return [...way, next];
      if (seen.has(next)) continue;
      seen.add(next);
      const found = go(next, [...way, next]);
      if (found) return found;
    }
    return undefined;
  };
  return go(id, [id]);
}

/** Parses a rule to be kept among others; refused where it would come back to itself, or has a name that is taken. */
export function parseNamedRule(input: unknown, others: readonly NamedRule[]): Result<NamedRule> {
  const parsed = NamedRuleSchema.safeParse(input);
  if (!parsed.success) return fail(...problemsOf(parsed.error));
  const rule = parsed.data;
  const rest = others.filter((other) => other.id !== rule.id);
  if (rest.some((other) => other.name.toLowerCase() === rule.name.toLowerCase()))
    return fail(problem('name', `There is a rule named “${rule.name}” already.`, 'Give it another name.'));
  const all = [...rest, rule];
  const circle = circleOf(rule.id, all);
  if (circle) {
    const names = circle.map((id) => all.find((one) => one.id === id)?.name ?? 'a deleted rule');
    return fail(problem('rule', `A rule cannot depend on itself: ${names.join(' → ')}.`, 'Take one of them out.'));
  }
  return ok(rule);
}
