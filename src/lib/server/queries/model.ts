import { Op, type Transaction } from 'sequelize';
import type { Field } from '../../core/schema/field';
import type { Author, ContentType, Site, Taxonomy, Term } from '../../core/schema/model';
import { plainRows, table } from '../database/tables';

const BY_POSITION: [string, string][] = [['position', 'ASC']];
const BY_POSITION_THEN_ID: [string, string][] = [...BY_POSITION, ['id', 'ASC']];
const BY_NAME: [string, string][] = [['name', 'ASC']];

/** Every row that the model is made from; what is JSON may not be parsed, and nothing is checked. */
export async function modelRows(transaction?: Transaction) {
  const all = async <T>(name: Parameters<typeof table>[0], order: [string, string][]) =>
    plainRows<T>(await table(name).findAll({ order, transaction }));
  const [site, types, fields, taxonomies, terms, authors, rules, menus] = await Promise.all([
    table('sites').findByPk(1, { transaction }),
    all<Record<string, unknown>>('contentTypes', BY_POSITION),
    all<Record<string, unknown>>('fields', BY_POSITION),
    all<Record<string, unknown>>('taxonomies', BY_POSITION),
    all<Record<string, unknown>>('terms', BY_POSITION_THEN_ID),
    all<Record<string, unknown>>('authors', BY_NAME),
    all<Record<string, unknown>>('namedRules', BY_NAME),
    all<Record<string, unknown>>('menus', BY_POSITION_THEN_ID),
  ]);
  return {
    site: site?.get({ plain: true }) as object | undefined,
    types,
    fields,
    taxonomies,
    terms,
    authors,
    rules,
    menus,
  };
}

/** Writes what is said of the site. */
export const updateSite = async (
  {
    name,
    tagline,
    locale,
    timeZone,
    readingPace = null,
  }: Omit<Site, 'readingPace'> & { readingPace?: number | null | undefined },
  transaction: Transaction,
): Promise<void> => {
  await table('sites').update({ name, tagline, locale, timeZone, readingPace }, { where: { id: 1 }, transaction });
};

/** Has visitors see no release. */
export const showNoRelease = async (transaction: Transaction): Promise<void> => {
  await table('sites').update({ releaseId: null }, { where: { id: 1 }, transaction });
};

/** Where a row stands among those of its table; behind all others where there is none. */
async function positionOf(name: 'contentTypes' | 'taxonomies', id: string, transaction: Transaction): Promise<number> {
  const row = await table(name).findByPk(id, { transaction });
  return row ? (row.get('position') as number) : table(name).count({ transaction });
}

/** Another content type with this base or key. */
export async function typeLike(
  { id, base, key }: Pick<ContentType, 'id' | 'base' | 'key'>,
  transaction: Transaction,
): Promise<{ name: string; base: string } | undefined> {
  const row = await table('contentTypes').findOne({
    where: { [Op.or]: [{ base }, { key }], id: { [Op.ne]: id } },
    transaction,
  });
  return row ? { name: row.get('name') as string, base: row.get('base') as string } : undefined;
}

/** Writes a content type without its fields, over the one with its id where there is one. */
export async function putContentType(type: Omit<ContentType, 'fields'>, transaction: Transaction): Promise<void> {
  const { description = '', address, structured = null } = type;
  const position = await positionOf('contentTypes', type.id, transaction);
  await table('contentTypes').upsert(
    { ...type, description, address: address || null, structured, position, isRemoved: false },
    { transaction },
  );
}

/** Whether one of these fields belongs to another content type. */
export const hasForeignField = async (
  typeId: string,
  ids: readonly string[],
  transaction: Transaction,
): Promise<boolean> =>
  ids.length > 0 &&
  (await table('fields').findOne({ where: { id: [...ids], typeId: { [Op.ne]: typeId } }, transaction })) !== null;

/** Writes a field of a content type at its place, over the one with its id where there is one. */
export const putField = async (
  typeId: string,
  field: Field,
  position: number,
  transaction: Transaction,
): Promise<void> => {
  const { initial } = field;
  await table('fields').upsert(
    // Wrapped, since a bare text in a JSON column cannot be told from JSON once it is read.
    { ...field, initial: initial === undefined || initial === null ? null : { value: initial }, typeId, position },
    { transaction },
  );
};

/** Writes a taxonomy, over the one with its id where there is one; at a position, or where it is. */
export const putTaxonomy = async (taxonomy: Taxonomy, transaction: Transaction, position?: number): Promise<void> => {
  const at = position ?? (await positionOf('taxonomies', taxonomy.id, transaction));
  await table('taxonomies').upsert({ ...taxonomy, position: at, isRemoved: false }, { transaction });
};

/** Writes a term, over the one with its id where there is one. */
export const putTerm = async (term: Term, transaction: Transaction): Promise<void> => {
  await table('terms').upsert({ ...term }, { transaction });
};

export const setParent = async (id: string, parentId: string, transaction: Transaction): Promise<void> => {
  await table('terms').update({ parentId }, { where: { id }, transaction });
};

/** The slug of an author; undefined where there is none with this number. */
export async function slugOfAuthor(id: number, transaction: Transaction): Promise<string | undefined> {
  const row = await table('authors').findByPk(id, { transaction });
  return row ? (row.get('slug') as string) : undefined;
}

export const updateAuthor = async (id: number, author: Omit<Author, 'id'>, transaction: Transaction): Promise<void> => {
  await table('authors').update(author, { where: { id }, transaction });
};

/** Gives the number of the author. */
export const insertAuthor = async (author: Omit<Author, 'id'>, transaction: Transaction): Promise<number> =>
  (await table('authors').create({ ...author }, { transaction })).get('id') as number;
