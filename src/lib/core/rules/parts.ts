import { isGroup, isWhere, type Group, type Rule } from '../schema/rule';

/** The way to a part of a rule: which part of each group, from the outermost in; what is asked of rows is part 0 of it. */
export type PartPlace = readonly number[];

const partsOf = (rule: Rule): Rule[] => (isGroup(rule) ? rule.rules : isWhere(rule) ? [rule.where] : []);
const withParts = (rule: Rule, parts: Rule[]): Rule =>
  isGroup(rule) ? { ...rule, rules: parts } : isWhere(rule) ? { ...rule, where: parts[0] as Group } : rule;

/** The part at a place; undefined where there is none. */
export function partAt(rule: Rule, place: PartPlace): Rule | undefined {
  return place.reduce<Rule | undefined>((at, i) => at && partsOf(at)[i], rule);
}

/** The rule with one part in place of another, or without it. */
export function withPart(rule: Rule, place: PartPlace, next: Rule | undefined): Rule {
  const [i, ...rest] = place;
  if (i === undefined) return next ?? rule;
  const parts = partsOf(rule);
  const part = parts[i];
  if (!part) return rule;
  if (rest.length) return withParts(rule, parts.with(i, withPart(part, rest, next)));
  return withParts(rule, next ? parts.with(i, next) : parts.toSpliced(i, 1));
}

/** The rule with a part put into the group at a place, before the part that stands at `index`. */
export function insertPart(rule: Rule, group: PartPlace, index: number, part: Rule): Rule {
  const at = partAt(rule, group);
  return at && isGroup(at) ? withPart(rule, group, { ...at, rules: at.rules.toSpliced(index, 0, part) }) : rule;
}

export type PartDrop = 'before' | 'after' | 'onto';

/**
 * The rule with one part moved to another: before it, after it, or onto it, which puts it into a group and makes a group
 * of the two out of any other. Undefined where it would stand in itself.
 */
export function movePart(rule: Rule, from: PartPlace, to: PartPlace, drop: PartDrop): Rule | undefined {
  const moved = partAt(rule, from);
  const target = partAt(rule, to);
  if (!moved || !target || !from.length || (!to.length && drop !== 'onto')) return undefined;
  if (from.every((i, depth) => to[depth] === i)) return undefined;
  // Taken out first, the places behind it move up by one.
  const depth = from.length - 1;
  const shifts = to.length > depth && from.slice(0, depth).every((i, d) => to[d] === i);
  const at = shifts && (to[depth] as number) > (from[depth] as number) ? to.with(depth, (to[depth] as number) - 1) : to;
  const left = withPart(rule, from, undefined);
  if (drop === 'onto') {
    if (isGroup(target)) return insertPart(left, at, (partAt(left, at) as Group).rules.length, moved);
    if (isWhere(target)) return insertPart(left, [...at, 0], target.where.rules.length, moved);
    return withPart(left, at, { group: 'any', rules: [target, moved] });
  }
  return insertPart(left, at.slice(0, -1), (at.at(-1) as number) + (drop === 'after' ? 1 : 0), moved);
}
