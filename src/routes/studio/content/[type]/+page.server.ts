import { kindOf, leadsOf } from '$lib/core/model/field';
import { error } from '@sveltejs/kit';
import { typesServed } from '$lib/core/templates/served';
import { readTemplateHeads } from '$lib/server/services/templates';
import { Refusal } from '$lib/server/refusal';
import { titlesOf } from '$lib/server/queries/records';
import { recordTable } from '$lib/server/services/lists';
import { loadMedia } from '$lib/server/queries/media';
import { plainModel, readModel } from '$lib/server/services/model';
import { countsOf } from '$lib/server/services/type-uses';
import { tableAsked } from '$lib/server/table-address';
import type { PageServerLoad } from './$types';

const PER_PAGE = 50;

export const load: PageServerLoad = async ({ params, url }) => {
  const [model, index] = await Promise.all([plainModel(), readModel()]);
  const type = model.types.find((t) => t.id === params.type);
  if (!type) error(404, 'There is no content type at this address.');
  const page = Math.floor(Math.max(1, Math.min(200_000, Number(url.searchParams.get('page')) || 1)));
  // An address that asks for what is no longer there shows the whole table, and says so.
  let refused = '';
  const read = async () =>
    recordTable(type.id, { ...tableAsked(url.searchParams), limit: PER_PAGE, offset: (page - 1) * PER_PAGE });
  const table = await read().catch((failure: unknown) => {
    if (!(failure instanceof Refusal)) throw failure;
    refused = [failure.title, ...failure.problems.map((p) => p.what)].join(' ');
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
  const [counts, titles, media, heads] = await Promise.all([
    countsOf(type.id),
    titlesOf([...new Set(ids)]),
    loadMedia([...new Set(pictures)]),
    readTemplateHeads(),
  ]);
  return {
    model,
    type,
    ...table,
    refused,
    search: url.searchParams.get('search') ?? '',
    sort: url.searchParams.get('sort') ?? '@title',
    filter: refused ? null : url.searchParams.get('filter'),
    page,
    pages: Math.max(1, Math.ceil(table.total / PER_PAGE)),
    counts,
    titles,
    media,
    templates: heads
      .filter((head) => head.purpose === 'record' && typesServed(head, index).includes(type.id))
      .map(({ id, name }) => ({ id, name })),
  };
};
