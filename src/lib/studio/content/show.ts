import { isList } from '$lib/core/model/field';
import { kindOf, type Field } from '$lib/core/model/model';
import type { ModelIndex } from '$lib/core/model/model-index';
import type { ContentRecord, Media } from '$lib/core/schema/record';

interface Names {
  record?(id: number): Pick<ContentRecord, 'title'> | undefined;
  media?(id: number): Media | undefined;
}

/** A value as a short line of words, for tables and comparisons. */
export function showValue(field: Field, value: unknown, model: ModelIndex, names: Names = {}): string {
  const known = kindOf(field);
  if (!known || value === undefined || value === null) return '';
  const { kind, settings } = known;
  const list = isList(known) ? (value as unknown[]) : [value];
  if (kind.family.leads === 'entry') return `${list.length} ${list.length === 1 ? 'row' : 'rows'}`;
  const reader = {
    model,
    record: (names.record ?? (() => undefined)) as (id: number) => ContentRecord | undefined,
    media: names.media ?? (() => undefined),
    addressOf: () => '',
    termAddress: () => '',
  };
  return list
    .map((one) => {
      if (kind.pointsAt === 'record') return names.record?.(one as number)?.title ?? `#${one as number}`;
      if (kind.pointsAt === 'media') return names.media?.(one as number)?.name ?? `#${one as number}`;
      return kind.text(one, settings, reader);
    })
    .join(', ')
    .replace(/\s+/g, ' ');
}
