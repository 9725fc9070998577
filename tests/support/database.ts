import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Sequelize } from 'sequelize';
import { closeDatabase, database } from '../../src/lib/server/database/connect';
import { migrate } from '../../src/lib/server/database/migrate';
import { copyMigrated, urlOf } from './migrated';

/** A database of its own on the throw-away server, with all tables, and a folder for files; gone after the tests of the file. `upTo` stops after so many migrations. */
export async function freshDatabase(upTo?: number, characters = 'utf8mb4'): Promise<() => Promise<void>> {
  const server = process.env.PLUM_TEST_DATABASE;
  if (!server) throw new Error('There is no test database; run the tests with npm test.');
  const name = `plum_test_${Math.random().toString(36).slice(2, 10)}`;
  const admin = new Sequelize(server, {
    dialect: 'mariadb',
    logging: false,
    dialectOptions: { connectTimeout: 10_000 },
  });
  await admin.query(`CREATE DATABASE ${name} CHARACTER SET ${characters}`);
  const isNewest = upTo === undefined && characters === 'utf8mb4';
  if (isNewest) await copyMigrated(server, name);
  process.env.PLUM_DATABASE = urlOf(server, name);
  const media = mkdtempSync(join(tmpdir(), 'plum-thread-media-'));
  process.env.PLUM_MEDIA ??= media;
  if (!isNewest) await migrate(upTo);
  return async () => {
    rmSync(media, { recursive: true, force: true });
    if (process.env.PLUM_MEDIA === media) delete process.env.PLUM_MEDIA;
    await closeDatabase();
    await admin.query(`DROP DATABASE ${name}`);
    await admin.close();
  };
}

/** How many statements `work` sends to the database, and what they are. */
export async function statementsOf(work: () => Promise<unknown>): Promise<string[]> {
  const seen: string[] = [];
  // Sequelize asks this option anew for every statement.
  const db = database() as unknown as { options: { logging: unknown } };
  const before = db.options.logging;
  db.options.logging = (sql: string) => seen.push(sql);
  try {
    await work();
  } finally {
    db.options.logging = before;
  }
  return seen;
}
