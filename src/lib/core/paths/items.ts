import type { Field } from '../schema/field';
import type { Env } from './env';
import type { Row, Thing } from './pool';
import type { ValueType } from './scopes';

/** What each of several values has, as the sub-fields of a row; undefined for values that nothing repeats over. */
export const fieldsOf = ({ kind, settings }: Pick<ValueType, 'kind' | 'settings'>): Field[] | undefined =>
  kind.family.entries?.fields(settings);

/** Values as rows; see `fieldsOf` for what each has. */
export function rowsOf({ kind }: Pick<ValueType, 'kind'>, values: readonly unknown[], env: Env): Row[] {
  const { entries } = kind.family;
  return values.flatMap((value): Row[] => {
    const row = entries?.row(value, env.reader);
    return row ? [row] : [];
  });
}

/** The things that stand at a path of several: records for a relation, rows for all else. */
export const thingsOf = (type: ValueType, values: unknown[], env: Env): Thing[] =>
  type.kind.family.leads === 'record'
    ? (values as number[]).map((id) => env.pool.record(id)).filter((record) => record !== undefined)
    : rowsOf(type, values, env);
