import type { Transaction } from 'sequelize';
import { fromPlain, type Finder } from '../../core/exchange/cells';
import { missed } from '../../core/exchange/columns';
import type { Field } from '../../core/schema/field';
import type { Problem } from '../../core/base/result';
import { fold } from '../../core/base/text';
import { mediaNamed } from '../queries/media';
import { recordsCalled } from '../queries/records';
import { changeIn } from '../services/records';

/** A link to a record of the same file that may come later in it; it is made once all are there. */
export interface Later {
  id: number;
  place: string;
  column: string;
  field: Field;
  given: unknown;
}

/** Makes links to records that have come in meanwhile; gives how many rows lead to what is not there. */
export async function linkLater(
  links: readonly Later[],
  transaction: Transaction,
  tell: (place: string, problems: Problem[]) => void,
): Promise<number> {
  const finder = batchFinder();
  const read = () =>
    links.map(({ field, given }) => {
      const misses: string[] = [];
      return { value: fromPlain(field, given, finder.find, misses), misses };
    });
  read();
  await finder.fetch(transaction);
  let missing = 0;
  for (const [i, { value, misses }] of read().entries()) {
    const { id, place, column, field } = links[i] as Later;
    if (!misses.length) await changeIn(id, { values: { [field.id]: value } }, transaction);
    else {
      missing++;
      tell(
        place,
        misses.map((miss) => missed(column, field, miss)),
      );
    }
  }
  return missing;
}

export interface BatchFinder {
  find: Finder;
  fetch(transaction: Transaction): Promise<void>;
}

/** Notes what is asked for and not yet known, and looks all of it up at once. */
export function batchFinder(): BatchFinder {
  const records = new Map<string, number | undefined>();
  const media = new Map<string, number | undefined>();
  const lacks = { records: new Map<string, { typeIds: string[]; text: string }>(), media: new Set<string>() };
  const number = (text: string) => (/^#\d{1,10}$/.test(text) ? Number(text.slice(1)) : undefined);
  return {
    find: {
      record(typeIds, text) {
        const direct = number(text);
        if (direct !== undefined) return direct;
        const key = `${typeIds.join(',')}\n${text}`;
        if (!records.has(key)) lacks.records.set(key, { typeIds, text });
        return records.get(key);
      },
      media(text) {
        const direct = number(text);
        if (direct !== undefined) return direct;
        if (!media.has(text)) lacks.media.add(text);
        return media.get(text);
      },
    },
    async fetch(transaction) {
      const byTypes = new Map<string, { typeIds: string[]; texts: string[] }>();
      for (const { typeIds, text } of lacks.records.values()) {
        const key = typeIds.join(',');
        const group = byTypes.get(key) ?? { typeIds, texts: [] };
        group.texts.push(text);
        byTypes.set(key, group);
      }
      for (const [key, { typeIds, texts }] of byTypes) {
        const rows = await recordsCalled(typeIds, texts, transaction);
        for (const text of texts) {
          const bySlug = rows.filter((row) => row.slug === text);
          const byTitle = rows.filter((row) => fold(row.title) === fold(text));
          const found = bySlug.length ? bySlug : byTitle;
          records.set(`${key}\n${text}`, found.length === 1 ? found[0]?.id : undefined);
        }
      }
      if (lacks.media.size) {
        const texts = [...lacks.media];
        const rows = await mediaNamed(texts, transaction);
        for (const text of texts) {
          const found = rows.filter((row) => row.name === text);
          media.set(text, found.length === 1 ? found[0]?.id : undefined);
        }
      }
      lacks.records.clear();
      lacks.media.clear();
    },
  };
}
