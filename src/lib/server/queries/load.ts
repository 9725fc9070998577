import type { ContentRecord, Status } from '../../core/schema/record';
import { relationOf } from '../../core/model/field';
import type { ModelIndex } from '../../core/model/model-index';
import { fromJson, select } from '../database/connect';

interface Row {
  id: number;
  typeId: string;
  title: string;
  slug: string;
  status: Status;
  created: Date;
  changed: Date;
  published: Date | null;
  values: unknown;
  authorId: number | null;
  generated: number;
  version: number;
}

const COLUMNS =
  'r.id, r.type_id AS typeId, r.title, r.slug, r.status, r.created, r.changed, r.published, r.`values`, r.author_id AS authorId, r.is_generated AS generated, r.version';

interface LoadOptions {
  drafts: boolean;
  /** Relation fields to read; every one without it. */
  relations?: ReadonlySet<string>;
}

/** Records by id with their relations and terms, in four statements at most, whatever their number. */
export async function loadRecords(
  model: ModelIndex,
  ids: readonly number[],
  options: LoadOptions,
): Promise<ContentRecord[]> {
  if (!ids.length) return [];
  const rows = await select<Row>(
    `SELECT ${COLUMNS} FROM records r WHERE r.id IN (?)${options.drafts ? '' : " AND r.status = 'published'"}`,
    [ids],
  );
  // What only another model has is not there.
  const byId = new Map(rows.filter(({ typeId }) => model.type(typeId)).map((row) => [row.id, toRecord(row)]));
  const found = [...byId.keys()];
  if (!found.length) return [];
  await Promise.all([
    addTerms(model, byId, found),
    addLinks(model, byId, found, 'a', options.relations),
    addLinks(model, byId, found, 'b', options.relations),
  ]);
  return [...byId.values()];
}

function toRecord(row: Row): ContentRecord {
  return {
    id: row.id,
    typeId: row.typeId,
    title: row.title,
    slug: row.slug,
    status: row.status,
    created: row.created.toISOString(),
    changed: row.changed.toISOString(),
    published: row.published?.toISOString() ?? null,
    values: { ...fromJson<Record<string, unknown>>(row.values) },
    terms: [],
    authorId: row.authorId,
    generated: Boolean(row.generated),
    version: row.version,
  };
}

async function addTerms(model: ModelIndex, byId: Map<number, ContentRecord>, ids: number[]): Promise<void> {
  const rows = await select<{ recordId: number; termId: string }>(
    'SELECT record_id AS recordId, term_id AS termId FROM record_terms WHERE record_id IN (?) ORDER BY record_id, position',
    [ids],
  );
  for (const { recordId, termId } of rows) if (model.term(termId)) byId.get(recordId)?.terms.push(termId);
}

/** Puts the ids of linked records into the fields that look at their relation from `side`. */
async function addLinks(
  model: ModelIndex,
  byId: Map<number, ContentRecord>,
  ids: number[],
  side: 'a' | 'b',
  wanted?: ReadonlySet<string>,
): Promise<void> {
  const typeIds = new Set([...byId.values()].map((record) => record.typeId));
  const fieldOf = new Map<string, string>();
  for (const type of model.types)
    for (const field of type.fields) {
      const settings = relationOf(field);
      if (!settings || !typeIds.has(type.id) || (wanted && !wanted.has(field.id))) continue;
      if (settings.side === side) fieldOf.set(`${type.id} ${settings.relationId}`, field.id);
    }
  if (!fieldOf.size) return;
  const far = side === 'a' ? 'b' : 'a';
  const relations = [...new Set([...fieldOf.keys()].map((key) => key.slice(key.indexOf(' ') + 1)))];
  const others = model.beside?.types ?? [];
  const seen = others.length
    ? ` AND NOT EXISTS (SELECT 1 FROM records x WHERE x.id = ${far}_id AND x.type_id IN (?))`
    : '';
  const rows = await select<{ relation: string; near: number; far: number }>(
    `SELECT relation_id AS relation, ${side}_id AS near, ${far}_id AS far FROM links WHERE relation_id IN (?) AND ${side}_id IN (?)${seen} ORDER BY ${side}_id, ${side}_position, ${far}_id`,
    [relations, ids, ...(others.length ? [others] : [])],
  );
  for (const row of rows) {
    const record = byId.get(row.near);
    const field = record && fieldOf.get(`${record.typeId} ${row.relation}`);
    if (field) ((record.values[field] ??= []) as number[]).push(row.far);
  }
}
