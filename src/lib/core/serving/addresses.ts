import type { ContentRecord } from '../content/record';
import type { ModelIndex } from '../model/model';

/** The address of a record's page, such as `/huts/grey-crag`; '' where its type is gone. */
export function addressOf(record: ContentRecord, model: ModelIndex): string {
  const type = model.type(record.typeId);
  return type ? `/${encoded(type.base)}/${encoded(record.slug)}` : '';
}

const PLAIN = /^[a-z0-9-]*$/;
export const encoded = (part: string): string => (PLAIN.test(part) ? part : encodeURIComponent(part));
