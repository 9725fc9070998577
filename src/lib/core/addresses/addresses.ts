import type { ContentRecord } from '../schema/record';
import { localDay } from '../base/write';
import type { ContentType } from '../schema/model';
import type { ModelIndex } from '../model/model-index';
import { compiledPattern } from './patterns';

/** What of a record its address is made from. */
export type Addressable = Pick<ContentRecord, 'typeId' | 'slug' | 'published' | 'terms' | 'authorId'>;

/** The address of a record's page, such as `/huts/grey-crag`; '' where its type is gone. */
export function addressOf(record: Addressable, model: ModelIndex): string {
  const type = model.type(record.typeId);
  if (!type) return '';
  return type.address ? byPattern(record, type, model) : `/${encoded(type.base)}/${encoded(record.slug)}`;
}

/** A part in which no name has a value, such as that of a term for a record without one, is left out. */
function byPattern(record: Addressable, type: ContentType, model: ModelIndex): string {
  const pattern = compiledPattern(type);
  if (!pattern) return '';
  const { published, authorId } = record;
  const [year, month, day] = published ? localDay(new Date(published), model.site.timeZone).split('-') : [];
  const valueOf = (name: string): string | undefined => {
    if (name === 'slug') return record.slug;
    if (name === 'year') return year;
    if (name === 'month') return month;
    if (name === 'day') return day;
    if (name === 'author') return authorId === null ? undefined : model.author(authorId)?.slug;
    for (const id of record.terms) {
      const term = model.term(id);
      if (term && model.taxonomy(term.taxonomyId)?.key === name) return term.slug;
    }
    return undefined;
  };
  let address = '';
  for (const { pieces, optional } of pattern.segments) {
    const part = pieces
      .map((piece) => encoded('literal' in piece ? piece.literal : (valueOf(piece.name) ?? '')))
      .join('');
    if (part || !optional) address += `/${part}`;
  }
  return address;
}

const PLAIN = /^[a-z0-9-]*$/;
export const encoded = (part: string): string => (PLAIN.test(part) ? part : encodeURIComponent(part));
