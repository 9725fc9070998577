import { expect, it } from 'vitest';
import { select } from '../../src/lib/server/database/connect';
import { migrations } from '../../src/lib/server/database/migrations';
import { freshDatabase } from '../support/database';

/** What a database consists of: how each table is created, and its rows. */
async function contentOf(drop: () => Promise<void>): Promise<Record<string, unknown>> {
  try {
    const tables = await select<{ name: string }>(
      'SELECT table_name AS name FROM information_schema.tables WHERE table_schema = DATABASE() ORDER BY name',
    );
    const content: Record<string, unknown> = {};
    for (const { name } of tables) {
      const [created] = await select<Record<string, string>>(`SHOW CREATE TABLE \`${name}\``);
      content[name] = [created?.['Create Table'], await select(`SELECT * FROM \`${name}\``)];
    }
    return content;
  } finally {
    await drop();
  }
}

it('tests get by copying what migrating makes', async () => {
  const copied = await contentOf(await freshDatabase());
  const migrated = await contentOf(await freshDatabase(migrations.length));
  expect(Object.keys(migrated).length).toBeGreaterThan(30);
  expect(copied).toEqual(migrated);
});
