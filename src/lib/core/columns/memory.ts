import { collationKey } from '../base/collation';
import type { CompiledLoop } from '../loops/compiled';
import { byTypeOf } from '../loops/memory-pool';
import { relationOf } from '../model/field';
import type { ModelIndex } from '../model/model-index';
import type { Pool } from '../paths/env';
import type { ContentRecord, Media } from '../schema/record';
import type { Aspect, Cell, Column } from './cell';
import { cellsOfField, ownCell, wordsAt, wordsOfField } from './cells';
import { columnOf, RankColumn } from './column';
import { facetCountsFrom, listFrom, type Listing } from './list';
import { INDEXED, linksOf, TERMS, wordsOf, type Tables } from './reading';
import { Table } from './table';

const plainCell = (part: number, own: Partial<Cell>): Cell => ({
  part,
  empty: false,
  number: null,
  text: null,
  sort: null,
  ...own,
});

/** The cells of a record at a step, as the database has them. */
function cellsAt(record: ContentRecord, step: string, model: ModelIndex): Cell[] {
  if (step === TERMS) return record.terms.map((text, part) => plainCell(part, { text }));
  const fields = model.type(record.typeId)?.fields ?? [];
  const links = linksOf(step);
  if (links) {
    const field = fields.find((one) => {
      const relation = relationOf(one);
      return relation?.relationId === links.relationId && relation.side === links.side;
    });
    const ids = (field && record.values[field.id]) as number[] | number | undefined;
    return (Array.isArray(ids) ? ids : ids === undefined ? [] : [ids]).map((number, part) =>
      plainCell(part, { number }),
    );
  }
  const searched = wordsOf(step);
  const field = fields.find(({ id }) => id === (searched ?? step));
  if (searched !== undefined) {
    const text = searched === '@title' ? wordsAt(record.title) : field && wordsOfField(field, record.values[field.id]);
    return text ? [plainCell(0, { text })] : [];
  }
  const { created, changed, published } = record;
  const cells = INDEXED.has(step)
    ? [
        ownCell(
          {
            ...record,
            created: Date.parse(created),
            changed: Date.parse(changed),
            published: published === null ? null : Date.parse(published),
          },
          step,
        ),
      ]
    : field
      ? cellsOfField(field, record.values[field.id])
      : [];
  return cells.map((cell) => ({ ...cell, sort: cell.sort === null ? null : collationKey(cell.sort) }));
}

/** Tables over records that are all at hand; a column is made when it is first asked for. */
function tablesOver(byType: ReadonlyMap<string, readonly ContentRecord[]>, model: ModelIndex): Tables {
  const tables = new Map<string, Table>();
  return {
    table(typeId) {
      let table = tables.get(typeId);
      if (!table) {
        tables.set(typeId, (table = new Table(typeId)));
        const own = byType.get(typeId) ?? [];
        table.add(own.map(({ id, status, authorId }) => ({ id, shown: status === 'published', authorId })));
      }
      return table;
    },
    column(table: Table, aspect: Aspect, step: string): Column {
      const known = table.column(aspect, step);
      if (known) return known;
      const column = columnOf(aspect);
      const sorted: { row: number; text: string }[] = [];
      for (const record of byType.get(table.typeId) ?? []) {
        const row = table.rowOf(record.id);
        const cells = cellsAt(record, step, model);
        if (row === undefined || !cells.length) continue;
        const [{ empty, sort }] = cells as [Cell];
        if (!(column instanceof RankColumn)) column.put(row, cells);
        else if (!empty && sort !== null) sorted.push({ row, text: sort });
      }
      if (column instanceof RankColumn) column.fill(sorted);
      column.reach(table.size);
      table.hold(step, column);
      return column;
    },
  };
}

/** A pool over many records that are all at hand, whose lists are answered from columns: see `memoryPool` for few. */
export function columnsPool(records: readonly ContentRecord[], media: readonly Media[], model: ModelIndex): Pool {
  const visible = new Map(records.filter(({ status }) => status === 'published').map((record) => [record.id, record]));
  const pictures = new Map(media.map((medium) => [medium.id, medium]));
  const listing: Listing = {
    tables: tablesOver(byTypeOf(records), model),
    drafts: false,
    record: (id) => visible.get(id),
    asked: (ask) => ask(),
  };
  return {
    record: listing.record,
    media: (id) => pictures.get(id),
    list: (loop, env) => listFrom(listing, loop as CompiledLoop, env),
    facets: (loop, env) => facetCountsFrom(listing, loop as CompiledLoop, env),
  };
}
