import type { Transaction } from 'sequelize';
import {
  AuthorSchema,
  ContentTypeSchema,
  SiteSchema,
  TermSchema,
  TaxonomySchema,
  type Author,
  type ContentType,
  type Model,
  type Site,
  type Taxonomy,
  type Term,
} from '../../core/schema/model';
import { indexModel, type Field } from '../../core/model/model';
import type { ModelIndex } from '../../core/model/model-index';
import { MenuSchema, type Menu } from '../../core/schema/menu';
import { NamedRuleSchema, type NamedRule } from '../../core/schema/named-rule';
import { problemsOf } from '../../core/base/result';
import { fromJson, inTransaction } from '../database/connect';
import { plainRows, table } from '../database/tables';
import { lockSite, modelMoved, modelVersion } from '../queries/site';
import { Refusal, type Guard } from '../refusal';

let cached: { version: number; model: ModelIndex } | undefined;

/**
 * The model as it stands: site, types, taxonomies, terms, authors and rules by name. Read again only when its
 * version has moved on. Within a transaction it is read there, and must be: a second connection might never come. */
export async function readModel(transaction?: Transaction): Promise<ModelIndex> {
  const version = await modelVersion(transaction);
  if (cached?.version === version) return cached.model;
  const [site, types, fields, taxonomies, terms, authors, rules, menus] = await Promise.all([
    table('sites').findByPk(1, { transaction }),
    table('contentTypes').findAll({ order: [['position', 'ASC']], transaction }),
    table('fields').findAll({ order: [['position', 'ASC']], transaction }),
    table('taxonomies').findAll({ order: [['position', 'ASC']], transaction }),
    table('terms').findAll({
      order: [
        ['position', 'ASC'],
        ['id', 'ASC'],
      ],
      transaction,
    }),
    table('authors').findAll({ order: [['name', 'ASC']], transaction }),
    table('namedRules').findAll({ order: [['name', 'ASC']], transaction }),
    table('menus').findAll({
      order: [
        ['position', 'ASC'],
        ['id', 'ASC'],
      ],
      transaction,
    }),
  ]);
  const allFields = plainRows<Field & { typeId: string }>(fields);
  const model = indexModel({
    site: SiteSchema.parse(site?.get({ plain: true })),
    types: plainRows<ContentType>(types).map((type) =>
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
    taxonomies: plainRows<Taxonomy>(taxonomies).map((taxonomy) =>
      TaxonomySchema.parse({ ...taxonomy, tree: Boolean(taxonomy.tree) }),
    ),
    terms: plainRows<Term>(terms).map((term) => TermSchema.parse(term)),
    authors: plainRows<Author>(authors).map((author) => AuthorSchema.parse(author)),
    menus: plainRows<Menu>(menus).map(({ id, name, entries, version }) =>
      MenuSchema.parse({ id, name, entries: fromJson(entries), version }),
    ),
    rules: plainRows<NamedRule>(rules).map((rule) => NamedRuleSchema.parse({ ...rule, rule: fromJson(rule.rule) })),
  });
  // What a transaction sees is not yet true for anybody else.
  if (!transaction) cached = { version, model };
  return model;
}

export async function saveSite(input: unknown, guard?: Guard): Promise<Site> {
  const parsed = SiteSchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The site cannot be saved.', problemsOf(parsed.error));
  const { name, tagline, locale, timeZone } = parsed.data;
  return inTransaction(async (transaction) => {
    await lockSite(transaction);
    guard?.((await readModel(transaction)).site);
    await table('sites').update({ name, tagline, locale, timeZone }, { where: { id: 1 }, transaction });
    await modelMoved(transaction);
    return parsed.data;
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
