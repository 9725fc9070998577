import { recount } from '../queries/counts';
import { lockDesigns, rewriteDesign } from '../queries/releases';
import { lockSite, modelMoved, releaseShown } from '../queries/site';
import { withModel } from '../../core/releases/earlier';
import { alone } from '../database/alone';
import { fromJson, inTransaction } from '../database/connect';
import { touchEverything } from '../database/touched';
import { migrate, workDone, workLeft } from '../database/migrate';
import type { Work } from '../database/migrations';
import { clearReleases } from './designs';
import { readDraft, readModel } from './model';
import { reindex } from './record-parts';
import { release } from './releases';
import { fillPictureColours } from './picture-colours';
import { readTemplates } from './templates';

/** Each may be cut off and run again from its beginning. In the order in which they are done. */
const WORKS: Record<Work, () => Promise<unknown>> = {
  // What visitors saw of the model when it was no part of a release, they go on seeing. Nothing can be read before.
  async 'whole releases'() {
    const { draft } = await readDraft();
    await inTransaction(async (transaction) => {
      await lockSite(transaction);
      for (const { id, design } of await lockDesigns(transaction)) {
        const whole = withModel(fromJson(design), draft);
        if (whole) await rewriteDesign(id, JSON.stringify(whole), transaction);
      }
      await modelMoved(transaction);
    });
    clearReleases();
    if (!(await releaseShown()) && draft.types.length)
      await release({ note: 'As the site was before content types were released' });
  },
  async index() {
    for (const type of (await readModel()).types) await reindex(type);
    await inTransaction((transaction) => Promise.resolve(touchEverything(transaction)));
  },
  counts: () => inTransaction(recount),
  'picture colours': fillPictureColours,
  // A site from before there were releases goes on as it was.
  async 'first release'() {
    if (!(await releaseShown()) && (await readTemplates()).length)
      await release({ note: 'As the site was before there were releases' });
  },
};

/**
 * Brings the database to the newest state: its tables, then what they left to do, which the database itself keeps, so
 * that the next start goes on where this one was cut off. Returns the migrations that ran.
 */
export async function prepareDatabase(): Promise<string[]> {
  const ran = await migrate();
  await alone('work left', async () => {
    const left = new Set(await workLeft());
    for (const [name, work] of Object.entries(WORKS)) {
      if (!left.has(name)) continue;
      await work();
      await workDone(name);
    }
  });
  return ran;
}
