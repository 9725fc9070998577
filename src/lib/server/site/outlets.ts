import { publishedByIds, publishedRows, type PublishedRow } from '../queries/records';
import { thereByType } from '../services/there';
import { termsOfRecords } from '../queries/record-parts';
import { publishedCounts } from '../queries/counts';
import { roleOfField } from '../../core/model/field';
import type { ContentRecord } from '../../core/schema/record';
import type { ModelIndex } from '../../core/model/model-index';
import { compilePath } from '../../core/paths/compile';
import { localDay } from '../../core/base/write';
import { compileLoop } from '../../core/loops/loop';
import { makeEnv } from '../../core/paths/env';
import { cardAddress } from '../../core/model/media';
import { addressOf, type Addressable } from '../../core/addresses/addresses';
import {
  addressOfArchive,
  descriptionOfArchive,
  scopeOfArchive,
  titleOfArchive,
  type ArchiveOf,
} from '../../core/addresses/archives';
import { FEED_FORMS, FEED_LENGTH, tagOf, type Feed, type FeedItem } from '../../core/serving/feeds';
import { placeOf } from '../../core/addresses/places';
import { SITEMAP_LENGTH, type SitemapEntry } from '../../core/serving/sitemap';
import { batchPool, drawComplete } from '../queries/pool';
import { siteDesign, type SiteDesign } from './design';

/** Where the feeds of an archive are; undefined for those that have none: searches, and parts of years. */
export function feedsOf(of: ArchiveOf, model: ModelIndex): Record<keyof typeof FEED_FORMS, string> | undefined {
  if (of.of === 'search' || of.of === 'date' || of.of === 'missing') return undefined;
  const home = addressOfArchive(of, model);
  return { 'feed.atom': `${home}feed.atom`, 'feed.json': `${home}feed.json` };
}

/** The feed that an address stands for, with its form; undefined where there is none. */
export async function feedAt(
  path: string,
  origin: string,
  design?: SiteDesign,
  /** Where the site is, for what names things for good. */
  siteAt = origin,
): Promise<{ feed: Feed; form: keyof typeof FEED_FORMS } | undefined> {
  const [, home, form] = /^(.*\/)(feed\.(?:atom|json))$/.exec(path) ?? [];
  if (home === undefined || !form) return undefined;
  const { model } = design ?? (await siteDesign('released'));
  const place = placeOf(home, model);
  if (place.at !== 'archive' || place.page !== 1) return undefined;
  const feeds = feedsOf(place.of, model);
  if (!feeds) return undefined;
  const { site } = model;
  const address = addressOfArchive(place.of, model);
  return {
    form: form as keyof typeof FEED_FORMS,
    feed: {
      id: tagOf(siteAt, '2026', `archive:${address}`),
      title: `${titleOfArchive(place.of, model)} · ${site.name}`,
      description: descriptionOfArchive(place.of, model) || undefined,
      home: origin + address,
      atom: origin + feeds['feed.atom'],
      json: origin + feeds['feed.json'],
      language: site.locale,
      by: site.name,
      items: await newest(place.of, model, origin, siteAt),
    },
  };
}

/** The newest records of an archive, as a list of the database like any other. */
async function newest(of: ArchiveOf, model: ModelIndex, origin: string, site: string): Promise<FeedItem[]> {
  const scopes = { archive: scopeOfArchive(of, model), loops: [] };
  const loop = compileLoop(
    'feed',
    'Feed',
    {
      source: { from: 'archive' },
      order: [{ steps: ['@published'], down: true }],
      skip: 0,
      limit: FEED_LENGTH,
      leaveOut: { current: false, above: false },
    },
    scopes,
    model,
  );
  const batch = batchPool(model, { drafts: false });
  const env = makeEnv({
    model,
    pool: batch.pool,
    today: localDay(new Date(), model.site.timeZone),
    archive: { ...of, page: 1 },
  });
  const read = (record: ContentRecord, step: string): unknown => {
    const path = compilePath({ from: 'record', steps: [step] }, { recordTypeIds: [record.typeId], loops: [] }, model);
    env.record = record;
    return path.ok ? path.value.read(env) : undefined;
  };
  let items: FeedItem[] = [];
  await drawComplete(batch, () => {
    items = (batch.pool.list(loop, env).items as ContentRecord[]).map((record) => {
      const fields = model.type(record.typeId)?.fields ?? [];
      const picture = fields
        .filter((field) => roleOfField(field) === 'picture')
        .map(({ id }) => env.pool.media(Number(record.values[id] ?? 0)))
        .find(Boolean);
      return {
        id: tagOf(site, localDay(new Date(record.created), 'UTC'), `record:${record.id}`),
        title: record.title,
        url: origin + addressOf(record, model),
        summary: read(record, '@excerpt') as string | undefined,
        author: read(record, '@author') as string | undefined,
        terms: record.terms.flatMap((id) => model.term(id)?.name ?? []),
        picture: picture && {
          url: origin + cardAddress(picture),
          type: cardAddress(picture).endsWith('.webp') ? 'image/webp' : picture.mime,
          alt: picture.alt,
        },
        published: record.published ?? record.created,
        changed: record.changed,
      };
    });
    return '';
  });
  return items;
}

/** How many sitemaps it takes, and the addresses in one of them, from 1: archives first, then records by number. */
export async function sitemapPart(
  part: number,
  origin: string,
  design?: SiteDesign,
): Promise<{ parts: number; entries: SitemapEntry[] } | undefined> {
  const { model } = design ?? (await siteDesign('released'));
  const counts = await publishedCounts();
  const count = model.types.reduce((sum, { id }) => sum + (counts.get(id) ?? 0), 0);
  const archives = (await archivesThere(model)).map((of) => addressOfArchive(of, model));
  const parts = Math.max(1, Math.ceil((archives.length + count) / SITEMAP_LENGTH));
  if (part < 1 || part > parts) return undefined;
  const from = (part - 1) * SITEMAP_LENGTH;
  const own = archives.slice(from, from + SITEMAP_LENGTH);
  const records = (await addressable(model, SITEMAP_LENGTH - own.length, Math.max(0, from - archives.length))).flatMap(
    ({ changed, ...record }): SitemapEntry[] => {
      const path = addressOf(record, model);
      return path ? [{ url: origin + path, changed }] : [];
    },
  );
  return { parts, entries: [...own.map((path) => ({ url: origin + path })), ...records] };
}

/** A published record with what its address is made from. */
export type AddressedRow = Addressable & { id: number; title: string; changed: string };

/** Published records of a model, by number. */
export async function addressable(model: ModelIndex, limit: number, offset: number): Promise<AddressedRow[]> {
  const types = model.types.map(({ id }) => id);
  return addressed(await publishedRows(types, limit, offset), model);
}

/** Those of these records that are published, in the order of these numbers. */
export async function addressableOf(ids: readonly number[], model: ModelIndex): Promise<AddressedRow[]> {
  const rows = new Map((await publishedByIds(ids)).map((row) => [row.id, row]));
  return addressed(
    ids.flatMap((id) => rows.get(id) ?? []),
    model,
  );
}

async function addressed(rows: readonly PublishedRow[], model: ModelIndex): Promise<AddressedRow[]> {
  const terms = new Map<number, string[]>();
  for (let i = 0; i < rows.length; i += 5000) {
    const ids = rows.slice(i, i + 5000).map(({ id }) => id);
    const filed = await termsOfRecords(ids);
    for (const { id, term } of filed) if (model.term(term)) terms.set(id, [...(terms.get(id) ?? []), term]);
  }
  return rows.map(({ published, changed, ...row }) => ({
    ...row,
    terms: terms.get(row.id) ?? [],
    published: published?.toISOString() ?? null,
    changed: changed.toISOString(),
  }));
}

/** All archives that list something: types, terms, authors; the front page stands before them. */
export async function archivesThere(model: ModelIndex): Promise<ArchiveOf[]> {
  const there = await thereByType(model, { drafts: false });
  const all = [...there.values()];
  const used = new Set(all.flatMap(({ terms }) => [...terms.keys()].flatMap((id) => model.above(id))));
  const written = new Set(all.flatMap(({ authors }) => [...authors.keys()]));
  return [
    { of: 'front' },
    ...model.types.filter(({ id }) => there.get(id)?.records).map(({ id }): ArchiveOf => ({ of: 'type', typeId: id })),
    ...model.taxonomies
      .flatMap(({ id }) => model.termsOf(id))
      .filter(({ id }) => used.has(id))
      .map(({ id }): ArchiveOf => ({ of: 'term', termId: id })),
    ...model.authors.filter(({ id }) => written.has(id)).map(({ id }): ArchiveOf => ({ of: 'author', authorId: id })),
  ];
}

/** The years and months in which records of each type were published, newest first. */
export async function datesThere(model: ModelIndex): Promise<(ArchiveOf & { of: 'date' })[]> {
  // Hours lie within one day of the site's own time zone, or within two where that is half an hour apart.
  const found = new Map<string, ArchiveOf & { of: 'date' }>();
  for (const [typeId, { hours }] of await thereByType(model, { drafts: false }))
    for (const hour of hours) {
      const [year = 0, month = 0] = localDay(new Date(hour), model.site.timeZone).split('-').map(Number);
      found.set(`${typeId} ${year}`, { of: 'date', typeId, year });
      found.set(`${typeId} ${year} ${month}`, { of: 'date', typeId, year, month });
    }
  return [...found.values()].sort(
    (a, b) =>
      (a.typeId < b.typeId ? -1 : a.typeId > b.typeId ? 1 : 0) || b.year - a.year || (b.month ?? 13) - (a.month ?? 13),
  );
}
