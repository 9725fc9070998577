import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Sequelize } from 'sequelize';
import { database } from '../../src/lib/server/database/connect';
import { migrate } from '../../src/lib/server/database/migrate';
import { copyMigrated, urlOf } from './migrated';
import { useServer } from './server';
import type { Configuration } from '../../src/lib/server/base/configuration';

/** A database of its own on the throw-away server, with all tables, and a folder for files; gone after the tests of the file. `upTo` stops after so many migrations; `changes` is what its server differs in. */
export async function freshDatabase(
  upTo?: number,
  characters = 'utf8mb4',
  changes: Partial<Configuration> = {},
): Promise<() => Promise<void>> {
  const server = process.env.PLUM_TEST_DATABASE;
  if (!server) throw new Error('There is no test database; run the tests with npm test.');
  const name = `plum_test_${Math.random().toString(36).slice(2, 10)}`;
  const admin = new Sequelize(server, {
    dialect: 'mariadb',
    logging: false,
    dialectOptions: { connectTimeout: 60_000 },
  });
  await admin.query(`CREATE DATABASE ${name} CHARACTER SET ${characters}`);
  const isNewest = upTo === undefined && characters === 'utf8mb4';
  if (isNewest) await copyMigrated(server, name);
  const mediaFolder = mkdtempSync(join(tmpdir(), 'plum-thread-media-'));
  const leave = useServer({ database: urlOf(server, name), mediaFolder, ...changes });
  if (!isNewest) await migrate(upTo);
  return async () => {
    await leave();
    rmSync(mediaFolder, { recursive: true, force: true });
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
