import { SequelizeStorage, Umzug } from 'umzug';
import { alone } from './alone';
import { database, run } from './connect';
import { migrations, type Migration } from './migrations';
import { plainRows, table } from './tables';

/** The table that says what is left to do; it is there before the first migration, as the table of migrations is. */
const WORK_LEFT = 'CREATE TABLE IF NOT EXISTS work_left (name VARCHAR(40) PRIMARY KEY)';

/** Runs one migration. What it leaves to do is written down first, so that it is known wherever this is cut off. */
async function runMigration({ statements, leaves }: Migration): Promise<void> {
  await table('workLeft').bulkCreate(
    leaves.map((name) => ({ name })),
    { ignoreDuplicates: true },
  );
  for (const statement of statements) await run(statement, []);
}

/**
 * Brings the tables to the newest state, or to that of the first `upTo` migrations. Returns the names of the migrations
 * it ran. One process at a time; another waits and finds nothing to do.
 */
export const migrate = (upTo = migrations.length): Promise<string[]> =>
  alone('migrations', async () => {
    await run(WORK_LEFT, []);
    const umzug = new Umzug({
      migrations: migrations.slice(0, upTo).map((one) => ({ name: one.name, up: () => runMigration(one) })),
      storage: new SequelizeStorage({ sequelize: database(), tableName: 'migrations' }),
      logger: undefined,
    });
    return (await umzug.up()).map((migration) => migration.name);
  });

/** What migrations left to do, and has not been done. */
export const workLeft = async (): Promise<string[]> =>
  plainRows<{ name: string }>(await table('workLeft').findAll()).map(({ name }) => name);

export const workDone = async (name: string): Promise<void> => {
  await table('workLeft').destroy({ where: { name } });
};
