import { plainField } from '../model/field';
import type { Field } from '../schema/field';
import { addressOfArchive } from '../addresses/archives';
import type { Env } from './env';
import type { Row, Thing } from './pool';
import type { ValueType } from './scopes';

export const termFields = (taxonomyId: string): Field[] => [
  plainField('name', 'Name', 'text'),
  plainField('description', 'Description', 'longtext'),
  plainField('picture', 'Picture', 'picture'),
  plainField('term', 'Term', 'terms', { taxonomyId }),
  plainField('address', 'Address', 'link'),
];

/** What each of several values has, as the sub-fields of a row; undefined for values that nothing repeats over. */
export function fieldsOf(type: Pick<ValueType, 'kind' | 'settings'>): Field[] | undefined {
  switch (type.kind.family) {
    case 'rows':
      return (type.settings as { fields: Field[] }).fields;
    case 'picture':
      return [plainField('picture', 'Picture', 'picture'), plainField('alt', 'Alternative text', 'text')];
    case 'choice':
      return [plainField('value', 'Choice', 'choice', type.settings as Record<string, unknown>)];
    case 'terms':
      return termFields((type.settings as { taxonomyId: string }).taxonomyId);
    default:
      return undefined;
  }
}

export const termRows = (ids: readonly string[], env: Env): Row[] =>
  ids.flatMap((id) => {
    const term = env.model.term(id);
    return term
      ? [
          {
            term: [id],
            name: term.name,
            description: term.description,
            picture: term.pictureId ?? undefined,
            address: { url: addressOfArchive({ of: 'term', termId: id }, env.model), label: term.name },
          },
        ]
      : [];
  });

/** Values as rows; see `fieldsOf` for what each has. */
export function rowsOf(type: Pick<ValueType, 'kind'> | undefined, values: unknown[], env: Env): Row[] {
  switch (type?.kind.family) {
    case 'rows':
      return values as Row[];
    case 'picture':
      return values.map((id) => ({ picture: id, alt: env.pool.media(id as number)?.alt }));
    case 'terms':
      return termRows(values as string[], env);
    default:
      return values.map((value) => ({ value }));
  }
}

/** The things that stand at a path of several: records for a relation, rows for all else. */
export const thingsOf = (type: ValueType, values: unknown[], env: Env): Thing[] =>
  type.kind.family === 'relation'
    ? (values as number[]).map((id) => env.pool.record(id)).filter((record) => record !== undefined)
    : rowsOf(type, values, env);
