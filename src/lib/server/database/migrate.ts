import { SequelizeStorage, Umzug } from 'umzug';
import { alone } from './alone';
import { database, run, select } from './connect';
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

/** The tables were changed by a newer version of the application, which this one does not know. */
export class NewerTables extends Error {}

/** Tables that a newer version has changed are left alone: whoever writes into them by older rules damages them. */
async function refuseNewerTables(): Promise<void> {
  if (!(await select("SHOW TABLES LIKE 'migrations'")).length) return;
  const known = new Set(migrations.map(({ name }) => name));
  const names = (await select<{ name: string }>('SELECT name FROM migrations ORDER BY name')).map(({ name }) => name);
  const strange = names.filter((name) => !known.has(name));
  if (strange.length)
    throw new NewerTables(
      `The database was changed by a newer Plum Thread (${strange.join(', ')}). Start that version, or restore a backup from before into an empty database.`,
    );
}

/**
 * Brings the tables to the newest state, or to that of the first `upTo` migrations. Returns the names of the migrations
 * it ran. One process at a time; another waits and finds nothing to do.
 */
export const migrate = (upTo = migrations.length): Promise<string[]> =>
  alone('migrations', async () => {
    // Whoever made the database may have left it with the server's own characters; tables take after it.
    await run('ALTER DATABASE CHARACTER SET utf8mb4', []);
    await run(WORK_LEFT, []);
    await refuseNewerTables();
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
