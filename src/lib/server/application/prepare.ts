import { log } from '../base/log';
import { isUnreachable } from '../database/connect';
import { checkFolder, startProblem } from '../services/start-problems';
import { prepareDatabase } from '../services/start';

/** So often a database that does not answer is asked, once a second. */
const TRIES = 30;

/** Brings folder and database to the newest state; a database that is not there yet is waited for. Ends the process where that cannot be. */
export async function prepare(): Promise<void> {
  for (let tries = 1; ; tries++) {
    try {
      await checkFolder();
      await prepareDatabase();
      return;
    } catch (error) {
      const known = startProblem(error);
      if (known) log().fatal(known);
      else if (!isUnreachable(error)) log().fatal(error, 'Database preparation failed');
      else if (tries === TRIES)
        log().fatal('The database does not answer. Check that it runs, and the host and port in PLUM_DATABASE.');
      if (known || !isUnreachable(error) || tries === TRIES) process.exit(1);
      if (tries === 1)
        log().warn('The database does not answer yet; it is asked again every second, for half a minute.');
      await new Promise((done) => setTimeout(done, 1000));
    }
  }
}
