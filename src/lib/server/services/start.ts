import { run } from '../database/connect';
import { migrate } from '../database/migrate';
import { readModel } from './model';
import { reindex } from './record-parts';
import { recount } from './records';
import { release } from './releases';
import { readTemplates } from './templates';

/** Brings the database to the newest state. Tables that follow from others are filled again where they were made anew. */
export async function prepareDatabase(): Promise<string[]> {
  const ran = await migrate();
  if (ran.includes('0002-content') && !ran.includes('0001-first-tables')) {
    await run('DELETE FROM record_index', []);
    for (const type of (await readModel()).types) await reindex(type);
    await recount();
  } else if (ran.includes('0004-search') && !ran.includes('0001-first-tables'))
    for (const type of (await readModel()).types) await reindex(type);
  // A site from before there were releases goes on as it was.
  if (ran.includes('0006-releases') && !ran.includes('0001-first-tables') && (await readTemplates()).length)
    await release({ note: 'As the site was before there were releases' });
  return ran;
}
