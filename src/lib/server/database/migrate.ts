import { SequelizeStorage, Umzug } from 'umzug';
import { database } from './connect';
import { migrations } from './migrations';

/** Brings the tables to the newest state. Returns the names of the migrations it ran. */
export async function migrate(): Promise<string[]> {
  const db = database();
  const umzug = new Umzug({
    migrations: migrations.map(({ name, up }) => ({ name, up: () => up(db.getQueryInterface()) })),
    storage: new SequelizeStorage({ sequelize: db, tableName: 'migrations' }),
    logger: undefined,
  });
  return (await umzug.up()).map((migration) => migration.name);
}
