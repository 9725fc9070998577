import { deleteOldKeys } from '../api/idempotency';
import { log } from '../base/log';
import { configuration } from '../base/server';
import { isUnreachable } from '../database/connect';
import { deleteOldUploads } from '../exchange/uploads';
import { deleteOldJobs, hasWorkerProcess, lookAfterJobs } from '../jobs/jobs';
import { deleteOldActivity } from '../people/activity';
import { deleteOldChanges } from '../queries/changes';
import { deleteExpired } from '../queries/people';
import { tidyMedia } from '../services/media';
import { publishDue } from '../services/records';
import { deleteOldRemovals } from '../services/removed';
import { prewarmLists } from '../site/prewarm-lists';

/** How often scheduled records are looked for, in milliseconds. */
const LOOK_FOR_DUE = 5000;
/** How often it is looked for long work that waits, or whose process has died, in milliseconds. */
const LOOK_FOR_JOBS = 2000;
/** How often it is looked for what is kept no longer: removals, sessions, links, activity. */
const LOOK_FOR_OLD = 600_000;

/** Waits for work that nobody waits for; a database that is away for a moment is asked again at the next time. */
const logFailure = (work: Promise<unknown>, message: string): Promise<unknown> =>
  work.catch((error: unknown) => {
    if (!isUnreachable(error)) log().error(error, message);
  });

/** Takes long work that waits, as far as this process does any. */
export const lookForJobs = (): Promise<unknown> => logFailure(lookAfterJobs(), 'Job polling failed');

async function tidyFiles(): Promise<void> {
  const { aside, back, deleted, refused } = await tidyMedia();
  if (refused) log().warn(refused);
  if (aside || back || deleted) log().info({ aside, back, deleted }, 'File store clean-up finished');
}

// What lists are answered from is there before visitors ask, and again after a release by any process.
const layOut = (): Promise<unknown> => logFailure(prewarmLists(), 'List prewarming failed');

const deleteOld = (): Promise<unknown> =>
  Promise.all([
    deleteOldJobs(),
    deleteOldUploads(),
    deleteOldRemovals(),
    deleteOldChanges(60),
    deleteExpired(new Date()),
    deleteOldActivity(),
    deleteOldKeys(),
  ]);

/** Does what is to be done again and again, for the server that is worked for just now. Gives what stops it. */
export function startClocks(): () => void {
  const timers: NodeJS.Timeout[] = [];
  const every = (milliseconds: number, body: () => unknown): void =>
    void timers.push(setInterval(body, milliseconds).unref());
  if (!hasWorkerProcess()) every(LOOK_FOR_JOBS, lookForJobs);
  if (configuration().work === 'only') {
    void lookForJobs();
    // Whoever answers does everything else.
    return () => timers.forEach(clearInterval);
  }
  void logFailure(tidyFiles(), 'File store clean-up failed');
  void layOut();
  every(LOOK_FOR_DUE, () => {
    void layOut();
    void logFailure(publishDue(), 'Scheduled records could not be published');
  });
  every(LOOK_FOR_OLD, () => logFailure(deleteOld(), 'Clean-up of expired rows failed'));
  return () => timers.forEach(clearInterval);
}
