import type { z } from 'zod';
import type { Transaction } from 'sequelize';
import {
  AuthorSchema,
  ContentTypeSchema,
  SiteSchema,
  TermSchema,
  TaxonomySchema,
  type ContentType,
  type Model,
  type Site,
  type Taxonomy,
  type Term,
} from '../../core/schema/model';
import { indexModel, type Field } from '../../core/model/model';
import type { ModelIndex } from '../../core/model/model-index';
import { besideOf, storedTypes, underDesign } from '../../core/releases/design';
import { MenuSchema } from '../../core/schema/menu';
import { NamedRuleSchema } from '../../core/schema/named-rule';
import { fromJson, inTransaction } from '../database/connect';
import { modelRows, updateSite } from '../queries/model';
import { lockSite, modelMoved, modelVersion } from '../queries/site';
import { type Guard } from '../base/refusal';
import { readRelease } from './designs';
import { perServer } from '../base/server';

/** The models that stand over the records, at one version. */
export interface Models {
  version: number;
  /** As designers have it. */
  draft: ModelIndex;
  /** The content types that visitors see. */
  seen: ContentType[];
  /** The content types of what is kept: those of the draft, and whatever else visitors see. */
  kept: ContentType[];
  /** The terms of all taxonomies, also of those that the draft has no more. */
  terms: Term[];
}

const cache = perServer((): { models?: Models } => ({}));

/**
 * The model as it stands: site, types, taxonomies, terms, authors and rules by name. Read again only when its
 * version has moved on. Within a transaction it is read there, and must be: a second connection might never come. */
export const readModel = async (transaction?: Transaction): Promise<ModelIndex> =>
  (await readModels(transaction)).draft;

/** A content type with whatever else visitors see of it. */
export const storedType = async (id: string, transaction?: Transaction): Promise<ContentType | undefined> =>
  (await readModels(transaction)).kept.find((type) => type.id === id);

/** The model as it stands with all that is beside it. */
export async function readModels(transaction?: Transaction): Promise<Models> {
  const { version, shown } = await modelVersion(transaction);
  const cached = cache();
  if (cached.models?.version === version) return cached.models;
  const [design, { draft, terms }] = await Promise.all([readRelease(shown, transaction), readDraft(transaction)]);
  const { types: seen, taxonomies } = underDesign(draft, design, terms);
  const kept = storedTypes(draft.types, seen);
  const models = {
    version,
    draft: { ...indexModel(draft), beside: { ...besideOf(draft.types, kept), seen: { types: seen, taxonomies } } },
    seen,
    kept,
    terms,
  };
  // What a transaction sees is not yet true for anybody else.
  if (!transaction) cached.models = models;
  return models;
}

/** The model as designers have it, and the terms of all taxonomies. */
export async function readDraft(transaction?: Transaction): Promise<{ draft: Model; terms: Term[] }> {
  const rows = await modelRows(transaction);
  const allFields = rows.fields as unknown as (Field & { typeId: string })[];
  const there = <T extends { isRemoved: unknown }>(row: T) => !row.isRemoved;
  const ownTaxonomies = (rows.taxonomies as unknown as (Taxonomy & Removable)[]).filter(there);
  const ownIds = new Set(ownTaxonomies.map(({ id }) => id));
  const allTerms = rows.terms.map((term) => TermSchema.parse(term));
  const draft: Model = {
    site: siteOf(rows.site),
    types: (rows.types as unknown as (ContentType & Removable)[]).filter(there).map((type) =>
      ContentTypeSchema.parse({
        ...type,
        taxonomyIds: fromJson(type.taxonomyIds),
        address: type.address ?? undefined,
        structured: type.structured ? fromJson(type.structured) : undefined,
        fields: allFields
          .filter((field) => field.typeId === type.id)
          .map((field) => ({
            ...field,
            required: Boolean(field.required),
            unique: Boolean(field.unique),
            // Wrapped, since a bare text in a JSON column cannot be told from JSON once it is read.
            initial: field.initial === null ? undefined : fromJson<{ value: unknown }>(field.initial).value,
            settings: fromJson(field.settings),
          })),
      }),
    ),
    taxonomies: ownTaxonomies.map((taxonomy) => TaxonomySchema.parse({ ...taxonomy, tree: Boolean(taxonomy.tree) })),
    terms: allTerms.filter(({ taxonomyId }) => ownIds.has(taxonomyId)),
    authors: rows.authors.map((author) => AuthorSchema.parse(author)),
    menus: rows.menus.map(({ id, name, entries, version }) =>
      MenuSchema.parse({ id, name, entries: fromJson(entries), version }),
    ),
    rules: rows.rules.map((rule) => NamedRuleSchema.parse({ ...rule, rule: fromJson(rule.rule) })),
  };
  return { draft, terms: allTerms };
}

/** A site's row; a pace of reading that is not set is null there. */
const siteOf = (row?: object): Site => {
  const { readingPace, ...rest } = { readingPace: null, ...row } as { readingPace: number | null };
  return SiteSchema.parse(readingPace === null ? rest : { ...rest, readingPace });
};

/** A row that may be removed from the draft, and is kept for what visitors see. */
interface Removable {
  isRemoved: unknown;
}

export async function saveSite(input: z.output<typeof SiteSchema>, guard?: Guard): Promise<Site> {
  return inTransaction(async (transaction) => {
    await lockSite(transaction);
    guard?.((await readModel(transaction)).site);
    await updateSite(input, transaction);
    await modelMoved(transaction);
    return input;
  });
}

/** The data of a model without its look-ups. */
export const plainOf = ({ site, types, taxonomies, terms, authors, rules, menus }: Model): Model => ({
  site,
  types,
  taxonomies,
  terms,
  authors,
  rules,
  menus,
});

/** The model as plain data, to be sent to the studio. */
export async function plainModel(): Promise<Model> {
  return plainOf(await readModel());
}
