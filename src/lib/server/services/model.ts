import { Op } from 'sequelize';
import {
  ContentTypeSchema,
  indexModel,
  kindOf,
  parseContentType,
  SiteSchema,
  TermSchema,
  TaxonomySchema,
  type ContentType,
  type Field,
  type Model,
  type ModelIndex,
  type Site,
  type Taxonomy,
  type Term,
} from '../../core/model/model';
import { problemsOf } from '../../core/result';
import { run, inTransaction, fromJson, select } from '../database/connect';
import { plain, table } from '../database/tables';
import { notFound, Refusal } from '../refusal';

let cached: { version: number; model: ModelIndex } | undefined;

/** The model as it stands: site, types, taxonomies and terms. Read again only when its version has moved on. */
export async function readModel(): Promise<ModelIndex> {
  const [state] = await select<{ version: number }>('SELECT model_version AS version FROM sites WHERE id = 1');
  const version = state?.version ?? 0;
  if (cached?.version === version) return cached.model;
  const [site, types, fields, taxonomies, terms] = await Promise.all([
    table('sites').findByPk(1),
    table('contentTypes').findAll({ order: [['position', 'ASC']] }),
    table('fields').findAll({ order: [['position', 'ASC']] }),
    table('taxonomies').findAll({ order: [['position', 'ASC']] }),
    table('terms').findAll({
      order: [
        ['position', 'ASC'],
        ['id', 'ASC'],
      ],
    }),
  ]);
  const allFields = plain<Field & { typeId: string }>(fields);
  const model = indexModel({
    site: SiteSchema.parse(site?.get({ plain: true })),
    types: plain<ContentType>(types).map((type) =>
      ContentTypeSchema.parse({
        ...type,
        taxonomyIds: fromJson(type.taxonomyIds),
        fields: allFields
          .filter((field) => field.typeId === type.id)
          .map((field) => ({ ...field, required: Boolean(field.required), settings: fromJson(field.settings) })),
      }),
    ),
    taxonomies: plain<Taxonomy>(taxonomies).map((taxonomy) =>
      TaxonomySchema.parse({ ...taxonomy, tree: Boolean(taxonomy.tree) }),
    ),
    terms: plain<Term>(terms).map((term) => TermSchema.parse(term)),
  });
  cached = { version, model };
  return model;
}

const modelMoved = (transaction: Parameters<typeof run>[2]) =>
  run('UPDATE sites SET model_version = model_version + 1 WHERE id = 1', [], transaction);

export async function saveSite(input: unknown): Promise<Site> {
  const parsed = SiteSchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The site cannot be saved.', problemsOf(parsed.error));
  const { name, tagline, locale, timeZone } = parsed.data;
  await run(
    'UPDATE sites SET name = ?, tagline = ?, locale = ?, time_zone = ?, model_version = model_version + 1 WHERE id = 1',
    [name, tagline, locale, timeZone],
  );
  return parsed.data;
}

/** Creates a content type with its fields, or brings one to this state. Fields are known by id, so keys may change. */
export async function saveContentType(input: unknown): Promise<ContentType> {
  const parsed = parseContentType(input);
  if (!parsed.ok) throw new Refusal(422, 'The content type is not complete.', parsed.problems);
  const type = parsed.value;
  await inTransaction(async (transaction) => {
    const { fields, ...own } = type;
    const clash = await table('contentTypes').findOne({
      where: { [Op.or]: [{ base: own.base }, { key: own.key }], id: { [Op.ne]: own.id } },
      transaction,
    });
    if (clash) {
      const other = clash.get('name') as string;
      const at = clash.get('base') === own.base ? 'base' : 'key';
      throw new Refusal(409, `${other} has this ${at === 'base' ? 'address' : 'key'} already.`, [
        { at, what: `${other} has it already.`, fix: 'Choose another one.' },
      ]);
    }
    const existing = await table('contentTypes').findByPk(own.id, { transaction });
    const position = existing
      ? (existing.get('position') as number)
      : await table('contentTypes').count({ transaction });
    await table('contentTypes').upsert({ ...own, position }, { transaction });
    const kept = fields.map((field) => field.id);
    await table('fields').destroy({
      where: { typeId: own.id, ...(kept.length ? { id: { [Op.notIn]: kept } } : {}) },
      transaction,
    });
    const foreign = kept.length
      ? await table('fields').findOne({ where: { id: kept, typeId: { [Op.ne]: own.id } }, transaction })
      : null;
    if (foreign) throw new Refusal(409, 'A field with this id belongs to another content type.');
    // Keys may be swapped between fields, so every key leaves its place before the new ones arrive.
    await run("UPDATE fields SET `key` = CONCAT('was_', id) WHERE type_id = ?", [own.id], transaction);
    for (const [i, field] of fields.entries())
      await table('fields').upsert({ ...field, typeId: own.id, position: i }, { transaction });
    await modelMoved(transaction);
  });
  return type;
}

export async function saveTaxonomy(input: unknown): Promise<Taxonomy> {
  const parsed = TaxonomySchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The taxonomy is not complete.', problemsOf(parsed.error));
  await inTransaction(async (transaction) => {
    await table('taxonomies').upsert(
      { ...parsed.data, position: await table('taxonomies').count({ transaction }) },
      { transaction },
    );
    await modelMoved(transaction);
  });
  return parsed.data;
}

/** Creates a term, or brings one to this state. A term cannot lie below itself. */
export async function saveTerm(input: unknown): Promise<Term> {
  const parsed = TermSchema.safeParse(input);
  if (!parsed.success) throw new Refusal(422, 'The term is not complete.', problemsOf(parsed.error));
  const term = parsed.data;
  const model = await readModel();
  if (!model.taxonomy(term.taxonomyId)) throw notFound('taxonomy with this id');
  if (term.parentId) {
    const parent = model.term(term.parentId);
    if (parent?.taxonomyId !== term.taxonomyId) throw new Refusal(422, 'The term above is not one of this taxonomy.');
    if (model.above(term.parentId).includes(term.id)) throw new Refusal(422, 'A term cannot lie below itself.');
    if (!model.taxonomy(term.taxonomyId)?.tree)
      throw new Refusal(422, 'This taxonomy is flat; its terms have none above them.');
  }
  await inTransaction(async (transaction) => {
    await table('terms').upsert(term, { transaction });
    await modelMoved(transaction);
  });
  return term;
}

/** The field on the other side of a relation, if the model names one. */
export function otherSide(model: ModelIndex, field: Field): Field | undefined {
  const own = kindOf(field)?.settings as { relationId?: string; side?: string } | undefined;
  for (const type of model.types)
    for (const other of type.fields) {
      if (other.id === field.id || other.kind !== 'relation') continue;
      const settings = kindOf(other)?.settings as { relationId: string; side: string } | undefined;
      if (settings && settings.relationId === own?.relationId && settings.side !== own.side) return other;
    }
  return undefined;
}

/** The model as plain data, to be sent to the studio. */
export async function plainModel(): Promise<Model> {
  const { site, types, taxonomies, terms } = await readModel();
  return { site, types, taxonomies, terms };
}
