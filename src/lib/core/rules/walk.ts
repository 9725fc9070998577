import { type Test, type Group, type Rule, isGroup, isWhere, isNamed } from '../schema/rule';
import type { Path } from '../schema/path';

/** Every test of a rule, in reading order, without those asked of rows. */
export function testsOf(rule: Rule): Test[] {
  if (isGroup(rule)) return rule.rules.flatMap(testsOf);
  return isWhere(rule) || isNamed(rule) ? [] : [rule];
}

/** The rules of the theme that a rule names. */
export function namesIn(rule: Rule): string[] {
  if (isGroup(rule)) return rule.rules.flatMap(namesIn);
  if (isWhere(rule)) return namesIn(rule.where);
  return isNamed(rule) ? [rule.named] : [];
}

/** A rule with every path that starts outside of it passed through `change`. */
export function mapRule(rule: Rule, change: (path: Path) => Path, own: readonly string[] = []): Rule {
  const put = (path: Path): Path => (own.includes(path.from) ? path : change(path));
  if (isGroup(rule)) return { ...rule, rules: rule.rules.map((part) => mapRule(part, change, own)) };
  if (isNamed(rule)) return rule;
  if (isWhere(rule)) {
    const inner = [...own, `loop:${rule.as}`];
    return { ...rule, path: put(rule.path), where: mapRule(rule.where, change, inner) as Group };
  }
  return { ...rule, path: put(rule.path), ...(rule.other ? { other: put(rule.other) } : {}) };
}

/** Every path that a rule reads, those asked of rows from where these are read. */
export function pathsOf(rule: Rule): Path[] {
  if (isGroup(rule)) return rule.rules.flatMap(pathsOf);
  if (isNamed(rule)) return [];
  if (isWhere(rule)) {
    const { path, as, where } = rule;
    const inner = pathsOf(where).map(({ from, steps }) =>
      from === `loop:${as}` ? { from: path.from, steps: [...path.steps, ...steps] } : { from, steps },
    );
    return [path, ...inner];
  }
  return [rule.path, ...(rule.other ? [rule.other] : [])];
}
