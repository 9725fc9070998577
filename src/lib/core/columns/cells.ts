import { sortText } from '../base/collation';
import { fold } from '../base/text';
import { searchWords } from '../base/words';
import { searchedText } from '../content/search';
import { isList, leadsOf } from '../model/field';
import { isIndexed } from '../model/kinds/kind';
import { kindOf, type Field } from '../model/model';
import { STATUSES, type Status } from '../schema/record';
import type { Cell } from './cell';

/** What a record has at one of its fields, as it is looked up; none where nothing is looked up there. `sort` is no key of the collation yet. */
export function cellsOfField(field: Field, value: unknown): Cell[] {
  const known = kindOf(field);
  if (!known || leadsOf(field) === 'record') return [];
  const list = value === undefined ? [] : isList(known) ? (value as unknown[]) : [value];
  const filled = list.filter((one) => !known.kind.isEmpty(one));
  if (!filled.length) return [{ part: 0, empty: true, number: null, text: null, sort: null }];
  const { number, text, sort } = known.kind.family.columns;
  return filled.flatMap((one, part): Cell[] => {
    const of = <T>(column: ((value: unknown, settings: unknown) => T) | undefined) => column?.(one, known.settings);
    if (part > 0 && !isIndexed(known.kind)) return [];
    const sorted = of(sort);
    return [
      {
        part,
        empty: false,
        number: of(number) ?? null,
        text: of(text) ?? null,
        sort: sorted === undefined ? null : sortText(sorted),
      },
    ];
  });
}

/** The words of a field of a record, or of its title, as they are searched; '' where there are none. */
export const wordsAt = (text: string): string => (text ? searchWords(text).join(' ') : '');
export const wordsOfField = (field: Field, value: unknown): string => wordsAt(searchedText(field, value));

/** What every record has by itself. Instants are in milliseconds since 1970. */
export interface OwnValues {
  title: string;
  slug: string;
  status: Status;
  created: number;
  changed: number;
  published: number | null;
}

/** One of these as a cell, by its step; `sort` is no key of the collation yet. */
export function ownCell(own: OwnValues, step: string): Cell {
  const cell: Cell = { part: 0, empty: false, number: null, text: null, sort: null };
  switch (step) {
    case '@title':
      return { ...cell, text: fold(own.title), sort: own.title };
    case '@slug':
      return { ...cell, text: fold(own.slug), sort: own.slug };
    case '@status':
      return { ...cell, number: STATUSES.indexOf(own.status), text: own.status };
    case '@published':
      return { ...cell, empty: own.published === null, number: own.published };
    default:
      return { ...cell, number: step === '@created' ? own.created : own.changed };
  }
}
