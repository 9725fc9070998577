import { kindOf, leadsOf } from '$lib/core/model/field';
import type { ContentType } from '$lib/core/schema/model';
import { error } from '@sveltejs/kit';
import { typesServed } from '$lib/core/templates/served';
import { readTemplateHeads } from '$lib/server/services/templates';
import { Refusal } from '$lib/server/base/refusal';
import { titlesOf } from '$lib/server/queries/records';
import { parseTableQuery, recordTable } from '$lib/server/services/lists';
import { loadMedia } from '$lib/server/queries/media';
import { plainModel, readModel } from '$lib/server/services/model';
import { countsOf } from '$lib/server/services/type-uses';
import { deferred } from '$lib/server/base/deferred';
import { tableQueryOf } from '$lib/server/services/table-query';
import type { PageServerLoad } from './$types';

const PER_PAGE = 50;

/** What asking for something that is no longer there is refused with; the whole table is shown then. */
function refusalOf(failure: unknown): string {
  if (!(failure instanceof Refusal)) throw failure;
  return [failure.title, ...failure.problems.map((p) => p.what)].join(' ');
}

/** One page of a table, with what its records point at. */
async function rowsOf(type: ContentType, asked: unknown) {
  let refused = '';
  const table = await recordTable(type.id, asked).catch((failure: unknown) => {
    refused = refusalOf(failure);
    return recordTable(type.id, { limit: PER_PAGE });
  });
  const ids = table.records.flatMap((record) =>
    type.fields.flatMap((field) =>
      leadsOf(field) === 'record' ? ((record.values[field.id] ?? []) as number[]).slice(0, 4) : [],
    ),
  );
  const pictures = table.records.flatMap((record) =>
    type.fields.flatMap((field) => {
      const value = record.values[field.id];
      if (kindOf(field)?.kind.pointsAt !== 'media' || value === undefined) return [];
      return [(Array.isArray(value) ? value[0] : value) as number];
    }),
  );
  const [titles, media] = await Promise.all([titlesOf([...new Set(ids)]), loadMedia([...new Set(pictures)])]);
  return { ...table, refused, titles, media, pages: Math.max(1, Math.ceil(table.total / PER_PAGE)) };
}

export const load: PageServerLoad = async ({ params, url }) => {
  const [model, index] = await Promise.all([plainModel(), readModel()]);
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  const page = Math.floor(Math.max(1, Math.min(200_000, Number(url.searchParams.get('page')) || 1)));
  let asked = {};
  let refused = '';
  try {
    asked = parseTableQuery({ ...tableQueryOf(url.searchParams), limit: PER_PAGE, offset: (page - 1) * PER_PAGE });
  } catch (failure) {
    refused = refusalOf(failure);
  }
  // Right after a start, columns of many records are not laid out yet.
  const [rows, counts, heads] = await Promise.all([
    deferred(rowsOf(type, asked)),
    countsOf(type.id),
    readTemplateHeads(),
  ]);
  return {
    model,
    type,
    rows,
    refused,
    search: url.searchParams.get('search') ?? '',
    sort: url.searchParams.get('sort') ?? '@title',
    filter: refused ? null : url.searchParams.get('filter'),
    page,
    counts,
    templates: heads
      .filter((head) => head.purpose === 'record' && typesServed(head, index).includes(type.id))
      .map(({ id, name }) => ({ id, name })),
  };
};
