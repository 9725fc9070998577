import { number } from '../model/kinds/number';
import type { Family } from '../model/family';
import type { ValueType } from './scopes';
import type { Take } from '../schema/binding';

export const TAKE_LABELS: Record<Take, string> = {
  first: 'First',
  last: 'Last',
  count: 'Count',
  sum: 'Sum',
  smallest: 'Smallest',
  largest: 'Largest',
  average: 'Average',
  listed: 'Listed',
};

/** The takes that make one value of many of this type. */
export function takesFor(type: ValueType): Take[] {
  if (!type.many) return [];
  const { takes } = type.kind.family;
  return [
    'listed',
    'first',
    'last',
    'count',
    ...(takes?.sum ? (['sum'] as const) : []),
    ...(takes?.average ? (['average'] as const) : []),
    ...(takes?.extremes ? (['smallest', 'largest'] as const) : []),
  ];
}

/** Takes that make one value of all; where these are of several parts, one of each. */
const OF_ALL: ReadonlySet<Take> = new Set(['sum', 'average', 'smallest', 'largest']);

/** The type after a take. A count is a bare number; the others keep the kind. */
export function typeAfter(type: ValueType, take: Take | undefined): ValueType {
  if (!take || take === 'listed') return type;
  if (take === 'count') return { ...type, kind: number, settings: {}, many: false, typeIds: [] };
  return { ...type, many: Boolean(type.kind.family.takes?.parts) && OF_ALL.has(take) };
}

/** One value of many, or one of each part; undefined where there is none. Families say how their values add up; text is never added. */
export function takeOf(values: unknown[], take: Take, { kind: { family }, settings }: ValueType): unknown {
  if (take === 'count') return values.length;
  if (take === 'listed') return values;
  if (!values.length) return undefined;
  if (family.takes?.parts && OF_ALL.has(take))
    return family.takes.parts(values).flatMap((part) => oneOf(part, take, family, settings) ?? []);
  return oneOf(values, take, family, settings);
}

function oneOf(values: unknown[], take: Take, family: Family, settings: unknown): unknown {
  switch (take) {
    case 'last':
      return values.at(-1);
    case 'sum':
      return family.takes?.sum?.(values);
    case 'average':
      return family.takes?.average?.(values);
    case 'smallest':
    case 'largest': {
      const at = (value: unknown) => family.columns.number?.(value, settings) ?? 0;
      const way = take === 'smallest' ? 1 : -1;
      return values.reduce((a, b) => ((at(b) - at(a)) * way < 0 ? b : a));
    }
    default:
      return values[0];
  }
}
