import type { Field } from '../schema/field';
import { plainField } from './field';

/** What each term has where a loop goes over terms. */
export const termFields = (taxonomyId: string): Field[] => [
  plainField('name', 'Name', 'text'),
  plainField('description', 'Description', 'longtext'),
  plainField('picture', 'Picture', 'picture'),
  plainField('term', 'Term', 'terms', { taxonomyId }),
  plainField('address', 'Address', 'link'),
];
