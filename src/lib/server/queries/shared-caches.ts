import { log } from '../base/log';
import { letItBeSeen } from '../database/version';
import { follow, followed } from './following';
import { keysOf, type Reads } from './reads';
import { configuration, perServer } from '../base/server';

/**
 * Caches that visitors share know answers by keys (`Surrogate-Key`, common practice): `site` is on all of them, `records`
 * on those of which it is not said which records they are made from.
 */
const SITE = 'site';
const RECORDS = 'records';
/** Answers made from more than so many have `records` in their place, since headers are to stay short. */
const MOST_KEYS = 100;
/** So many keys are told of at once. */
const TOLD_AT_ONCE = 300;
/** How long a cache may take to be told, in milliseconds. */
const PATIENCE = 2000;

/** Seconds for which shared caches may answer without asking. */
export const sharedSeconds = (): number => configuration().sharedSeconds;

/** The header by which shared caches know an answer, where they may keep it. */
export function keysHeader(reads?: Reads): Record<string, string> {
  if (!sharedSeconds()) return {};
  const keys = reads?.all();
  return { 'surrogate-key': [SITE, ...(keys && keys.size <= MOST_KEYS ? keys : [RECORDS])].join(' ') };
}

/** The caches, and the keys of what was written and none of them was told of. To be asked for before anything is written. */
export const sharedCaches = perServer(({ sharedCaches: addresses }) => {
  const own = { addresses, unsent: new Set<string>() };
  if (addresses.length)
    follow((went) => {
      if (went === 'everything') own.unsent = new Set([SITE]);
      else if (went.length && !own.unsent.has(SITE)) for (const key of [RECORDS, ...keysOf(went)]) own.unsent.add(key);
    });
  return own;
});

/** Tells a cache that answers with these keys are no longer right. */
async function tell(cache: string, keys: readonly string[]): Promise<void> {
  const answered = await fetch(cache, {
    method: 'PURGE',
    headers: { 'surrogate-key': keys.join(' ') },
    signal: AbortSignal.timeout(PATIENCE),
  });
  if (!answered.ok) throw new Error(`It answered ${answered.status}.`);
}

/** Waits until every visitor sees what was written before: processes have noticed it, and shared caches were told. */
export async function letVisitorsSee(): Promise<void> {
  await letItBeSeen();
  const caches = sharedCaches();
  if (!caches.addresses.length) return;
  await followed();
  const keys = [...caches.unsent];
  caches.unsent = new Set();
  for (let i = 0; i < keys.length; i += TOLD_AT_ONCE)
    await Promise.all(
      caches.addresses.map((cache) =>
        tell(cache, keys.slice(i, i + TOLD_AT_ONCE)).catch((error: unknown) =>
          log().warn({ cache, error: (error as Error).message }, 'Shared cache purge failed'),
        ),
      ),
    );
}
