import type { Transaction } from 'sequelize';
import type { Menu } from '../../core/schema/menu';
import type { NamedRule } from '../../core/schema/named-rule';
import type { Theme } from '../../core/schema/theme';
import { fromJson, run } from '../database/connect';
import { table } from '../database/tables';

type DesignTable = 'templates' | 'named_rules' | 'menus';

export const deleteDesigned = async (
  table: DesignTable,
  ids: readonly (string | number)[],
  transaction?: Transaction,
): Promise<void> => {
  if (ids.length) await run(`DELETE FROM ${table} WHERE id IN (?)`, [ids], transaction);
};

/** Deletes all of them. */
export const clearDesigned = (table: DesignTable, transaction: Transaction): Promise<void> =>
  run(`DELETE FROM ${table}`, [], transaction);

/** Puts templates in this order, the one that is asked first before the others. */
export async function writeOrder(ids: readonly string[], transaction: Transaction): Promise<void> {
  for (const [i, id] of ids.entries()) await run('UPDATE templates SET `order` = ? WHERE id = ?', [i, id], transaction);
}

/** The tokens of the theme, not checked, and its version; undefined where nothing was ever changed. */
export async function themeRow(transaction?: Transaction): Promise<{ tokens: unknown; version: number } | undefined> {
  const row = await table('themes').findByPk(1, { transaction });
  return row ? { tokens: fromJson(row.get('tokens')), version: row.get('version') as number } : undefined;
}

export const putTheme = async (tokens: Theme, version: number, transaction: Transaction): Promise<void> => {
  await table('themes').upsert({ id: 1, tokens, version }, { transaction });
};

/** The version of a menu or a rule by name, whose row is held to the end of the transaction; undefined where there is none. */
export async function lockVersion(
  of: 'menus' | 'namedRules',
  id: string,
  transaction: Transaction,
): Promise<number | undefined> {
  const row = await table(of).findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
  return row ? (row.get('version') as number) : undefined;
}

export const countMenus = (transaction: Transaction): Promise<number> => table('menus').count({ transaction });

/** Writes a menu at its place, over the one with its id where there is one. */
export const putMenu = async (menu: Menu & { position: number }, transaction: Transaction): Promise<void> => {
  await table('menus').upsert({ ...menu }, { transaction });
};

/** Writes a menu that stands, where it is. */
export const updateMenu = async ({ id, ...menu }: Menu, transaction: Transaction): Promise<void> => {
  await table('menus').update(menu, { where: { id }, transaction });
};

/** Writes a rule by name, over the one with its id where there is one. */
export const putNamedRule = async (rule: NamedRule, transaction: Transaction): Promise<void> => {
  await table('namedRules').upsert({ ...rule }, { transaction });
};
