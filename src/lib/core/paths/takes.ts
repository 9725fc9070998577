import { kindNamed } from '../model/kinds';
import type { FieldKind } from '../model/kinds/kind';
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

const numeric = (type: ValueType) => type.kind.family === 'number';
const ordered = (type: ValueType) => numeric(type) || type.kind.family === 'date' || type.kind.family === 'datetime';

/** The takes that make one value of many of this type. */
export function takesFor(type: ValueType): Take[] {
  if (!type.many) return [];
  return [
    'listed',
    'first',
    'last',
    'count',
    ...(numeric(type) ? (['sum', 'average'] as const) : []),
    ...(ordered(type) ? (['smallest', 'largest'] as const) : []),
  ];
}

/** The type after a take. A count is a bare number; the others keep the kind. */
export function typeAfter(type: ValueType, take: Take | undefined): ValueType {
  if (!take || take === 'listed') return type;
  if (take === 'count')
    return { ...type, kind: kindNamed('number') as FieldKind, settings: {}, many: false, typeIds: [] };
  return { ...type, many: false };
}

/** One value of many; undefined where there is none. Sums and averages of numbers are numbers; text is never added. */
export function takeOf(values: unknown[], take: Take): unknown {
  if (take === 'count') return values.length;
  if (take === 'listed') return values;
  if (!values.length) return undefined;
  switch (take) {
    case 'first':
      return values[0];
    case 'last':
      return values.at(-1);
    case 'sum':
      return (values as number[]).reduce((a, b) => a + b, 0);
    case 'average':
      return (values as number[]).reduce((a, b) => a + b, 0) / values.length;
    case 'smallest':
      return values.reduce((a, b) => ((b as number) < (a as number) ? b : a));
    case 'largest':
      return values.reduce((a, b) => ((b as number) > (a as number) ? b : a));
  }
}
