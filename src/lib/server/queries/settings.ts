import { fromJson } from '../database/connect';
import { table } from '../database/tables';

/** Settings of the site that owners choose, by the names under which they stand. */
export type SettingName = 'days removed things are kept' | 'days activity is kept' | 'roles by identity provider';

export async function readSetting<T>(name: SettingName): Promise<T | undefined> {
  const row = await table('settings').findByPk(name);
  return row ? fromJson<T>(row.get('value')) : undefined;
}

export const writeSetting = async (name: SettingName, value: unknown): Promise<void> => {
  await table('settings').upsert({ name, value });
};
