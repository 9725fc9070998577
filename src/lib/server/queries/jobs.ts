import type { Transaction } from 'sequelize';
import type { Problem } from '../../core/base/result';
import { fromJson, inTransaction, run, select } from '../database/connect';

export interface JobRow {
  id: string;
  kind: string;
  asked: unknown;
  accountId: number;
  accountName: string;
  state: 'waiting' | 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  total: number | null;
  result: unknown;
  title: string | null;
  problems: Problem[] | null;
  /** How often it was begun. */
  tries: number;
  /** Somebody has asked for it to stop. */
  stopping: boolean;
  /** The process that works on it. */
  holder: string | null;
}

const COLUMNS =
  'id, kind, asked, account_id AS accountId, account_name AS accountName, state, done, total, result, title, problems, tries, stopping, holder';
const rowOf = (row: JobRow): JobRow => ({
  ...row,
  asked: fromJson(row.asked),
  result: row.result === null ? undefined : fromJson(row.result),
  problems: row.problems === null ? null : fromJson(row.problems),
  done: Number(row.done),
  total: row.total === null ? null : Number(row.total),
  stopping: Boolean(row.stopping),
});

export const addJob = (job: Pick<JobRow, 'id' | 'kind' | 'asked' | 'accountId' | 'accountName'>): Promise<void> =>
  run(
    "INSERT INTO jobs (id, kind, asked, account_id, account_name, state, heard, created) VALUES (?, ?, ?, ?, ?, 'waiting', NOW(3), NOW(3))",
    [job.id, job.kind, JSON.stringify(job.asked ?? null), job.accountId, job.accountName],
  );

export const jobById = async (id: string): Promise<JobRow | undefined> =>
  (await select<JobRow>(`SELECT ${COLUMNS} FROM jobs WHERE id = ?`, [id])).map(rowOf)[0];

/** Takes the oldest job that waits and is of one of these kinds; nobody else has it then. */
export const takeJob = (kinds: readonly string[], holder: string): Promise<JobRow | undefined> =>
  inTransaction(
    async (transaction) => {
      const [row] = await select<JobRow>(
        `SELECT ${COLUMNS} FROM jobs WHERE state = 'waiting' AND kind IN (?) ORDER BY created LIMIT 1 FOR UPDATE SKIP LOCKED`,
        [kinds],
        transaction,
      );
      if (!row) return undefined;
      await run(
        "UPDATE jobs SET state = 'running', holder = ?, heard = NOW(3), tries = tries + 1 WHERE id = ?",
        [holder, row.id],
        transaction,
      );
      return { ...rowOf(row), tries: row.tries + 1 };
    },
    { writes: 'nothing' },
  );

/** Says that a process still works on a job, and how far it is. Undefined where the job is no longer its own. */
export async function noteJobProgress(
  id: string,
  holder: string,
  done: number,
  total: number | undefined,
): Promise<{ stopping: boolean } | undefined> {
  await run("UPDATE jobs SET heard = NOW(3), done = ?, total = ? WHERE id = ? AND holder = ? AND state = 'running'", [
    done,
    total ?? null,
    id,
    holder,
  ]);
  const row = await jobById(id);
  return row?.holder === holder && row.state === 'running' ? { stopping: row.stopping } : undefined;
}

export interface Ending {
  state: 'done' | 'failed' | 'cancelled';
  result?: unknown;
  title?: string;
  problems?: Problem[];
}

/** Ends a job that a process works on; false where it is no longer that process' own. With a transaction, at its end. */
export async function endJob(
  id: string,
  holder: string,
  { state, result, title, problems }: Ending,
  progress: { done: number; total?: number },
  transaction?: Transaction,
): Promise<boolean> {
  const end = async (own: Transaction) => {
    const [row] = await select<{ holder: string | null; state: string }>(
      'SELECT holder, state FROM jobs WHERE id = ? FOR UPDATE',
      [id],
      own,
    );
    if (row?.holder !== holder || row.state !== 'running') return false;
    await run(
      'UPDATE jobs SET state = ?, result = ?, title = ?, problems = ?, done = ?, total = ?, heard = NOW(3) WHERE id = ?',
      [
        state,
        result === undefined ? null : JSON.stringify(result),
        title?.slice(0, 500) ?? null,
        problems ? JSON.stringify(problems) : null,
        progress.done,
        progress.total ?? null,
        id,
      ],
      own,
    );
    return true;
  };
  return transaction ? end(transaction) : inTransaction(end, { writes: 'nothing' });
}

/** Asks for a job to stop; one that waits has stopped. */
export const stopJob = (id: string): Promise<void> =>
  run("UPDATE jobs SET stopping = TRUE, state = IF(state = 'waiting', 'cancelled', state) WHERE id = ?", [id]);

/** Jobs of these kinds whose process has not been heard of for so many seconds. */
export const silentJobs = async (kinds: readonly string[], seconds: number): Promise<JobRow[]> =>
  (
    await select<JobRow>(
      `SELECT ${COLUMNS} FROM jobs WHERE state = 'running' AND kind IN (?) AND heard < NOW(3) - INTERVAL ? SECOND`,
      [kinds, seconds],
    )
  ).map(rowOf);

/** Puts a job that a process worked on back among those that wait; done is what is known of it then. */
export const putBackJob = (id: string, holder: string): Promise<void> =>
  run(
    "UPDATE jobs SET state = 'waiting', holder = NULL, done = 0, total = NULL, heard = NOW(3) WHERE id = ? AND holder = ? AND state = 'running'",
    [id, holder],
  );

/** Notes work that a process does by itself and that nobody else can take. */
export const noteOwnWork = (id: string, kind: string, holder: string, total: number): Promise<void> =>
  run(
    "INSERT INTO jobs (id, kind, asked, account_id, account_name, state, tries, done, total, holder, heard, created) VALUES (?, ?, 'null', 0, '', 'running', 1, 0, ?, ?, NOW(3), NOW(3))",
    [id, kind, total, holder],
  );

/** How far work of a kind is, of all processes that were heard of in the last seconds. */
export async function ownWork(
  kind: string,
  seconds: number,
): Promise<{ processes: number; done: number; total: number }> {
  const [row] = await select<{ processes: number; done: number; total: number }>(
    "SELECT COUNT(*) AS processes, COALESCE(SUM(done), 0) AS done, COALESCE(SUM(total), 0) AS total FROM jobs WHERE kind = ? AND state = 'running' AND heard >= NOW(3) - INTERVAL ? SECOND",
    [kind, seconds],
  );
  return { processes: Number(row?.processes ?? 0), done: Number(row?.done ?? 0), total: Number(row?.total ?? 0) };
}

/** Forgets jobs that ended so many seconds ago, and those of whose process nothing was heard for as long. */
export const deleteJobs = (seconds: number): Promise<void> =>
  run("DELETE FROM jobs WHERE state <> 'waiting' AND heard < NOW(3) - INTERVAL ? SECOND", [seconds]);
