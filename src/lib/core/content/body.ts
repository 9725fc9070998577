import { kindOf, roleOfField } from '../model/field';
import type { ContentType } from '../schema/model';
import type { Field } from '../schema/field';

/** The running text of a type's records, for files that have a body: the first with markup, else the first without. */
export function bodyOf(type: Pick<ContentType, 'fields'>): Field | undefined {
  const stories = type.fields.filter((field) => roleOfField(field) === 'story');
  return stories.find((field) => kindOf(field)?.kind.outside === 'markup') ?? stories[0];
}
