import type { Transaction } from 'sequelize';
import type { Template } from '../../core/schema/template';
import { fromJson } from '../database/connect';
import { plainRows, table } from '../database/tables';

/** A template as its row has it; what is JSON is parsed, and not checked. */
export type TemplateRow = Template;

const BY_ORDER: [string, string][] = [
  ['order', 'ASC'],
  ['id', 'ASC'],
];

const parsed = <Row extends Omit<TemplateRow, 'tree'>>({ except, ...row }: Row) => ({
  ...row,
  serves: fromJson(row.serves),
  ...(except ? { except: fromJson(except) } : { except: undefined }),
});

const withTree = (row: TemplateRow): TemplateRow => ({ ...parsed(row), tree: fromJson(row.tree) }) as TemplateRow;

/** All templates without their trees, in the designer's order. */
export const templateHeadRows = async (): Promise<Omit<TemplateRow, 'tree'>[]> =>
  plainRows<TemplateRow>(await table('templates').findAll({ attributes: { exclude: ['tree'] }, order: BY_ORDER })).map(
    (row) => parsed(row) as Omit<TemplateRow, 'tree'>,
  );

/** All templates in the designer's order. */
export const templateRows = async (transaction?: Transaction): Promise<TemplateRow[]> =>
  plainRows<TemplateRow>(await table('templates').findAll({ transaction, order: BY_ORDER })).map(withTree);

/** The parts among them. */
export const partRows = async (transaction?: Transaction): Promise<TemplateRow[]> =>
  plainRows<TemplateRow>(
    await table('templates').findAll({ where: { purpose: 'part' }, order: [['order', 'ASC']], transaction }),
  ).map(withTree);

export async function templateRow(id: string): Promise<TemplateRow | undefined> {
  const row = await table('templates').findByPk(id);
  return row ? withTree(row.get({ plain: true })) : undefined;
}

/** A template's row, held to the end of the transaction. */
export async function lockTemplate(id: string, transaction: Transaction): Promise<TemplateRow | undefined> {
  const row = await table('templates').findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
  return row ? withTree(row.get({ plain: true })) : undefined;
}

export const countTemplates = (): Promise<number> => table('templates').count();

export const insertTemplate = async (template: Template): Promise<void> => {
  await table('templates').create({ ...template });
};

type Columns = Omit<Partial<Template>, 'except'> & { except?: Template['except'] | null };

/** Sets columns of a template that stands. */
export const updateTemplate = async (id: string, columns: Columns, transaction: Transaction): Promise<void> => {
  await table('templates').update(columns, { where: { id }, transaction });
};

/** Writes a template, over the one with its id where there is one. */
export const putTemplate = async ({ except, ...template }: Template, transaction: Transaction): Promise<void> => {
  await table('templates').upsert({ ...template, except: except ?? null }, { transaction });
};

/** A state of a template, without its tree. */
export interface VersionRow {
  id: number;
  version: number;
  began: Date;
  saved: Date;
  edits: string[];
  sitting: string;
}

/** The states of a template that are stored, the newest first. */
export async function versionRows(templateId: string, limit: number, transaction?: Transaction): Promise<VersionRow[]> {
  const rows = await table('templateVersions').findAll({
    where: { templateId },
    attributes: ['id', 'version', 'began', 'saved', 'edits', 'sitting'],
    order: [['id', 'DESC']],
    limit,
    transaction,
  });
  return plainRows<VersionRow>(rows).map((row) => ({ ...row, edits: fromJson(row.edits) }));
}

/** The tree of one state of a template; not checked. */
export async function versionRow(
  templateId: string,
  id: number,
): Promise<{ version: number; tree: unknown } | undefined> {
  const row = await table('templateVersions').findOne({ where: { templateId, id } });
  return row ? { version: row.get('version') as number, tree: fromJson(row.get('tree')) } : undefined;
}

export const insertVersion = async (
  row: Omit<VersionRow, 'id'> & { templateId: string; tree: unknown },
  transaction: Transaction,
): Promise<void> => {
  await table('templateVersions').create(row, { transaction });
};

export const updateVersion = async (
  id: number,
  columns: Pick<VersionRow, 'version' | 'edits' | 'saved'> & { tree: unknown },
  transaction: Transaction,
): Promise<void> => {
  await table('templateVersions').update(columns, { where: { id }, transaction });
};
