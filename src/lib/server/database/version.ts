import { perServer } from '../base/server';
import { selectQuickly } from './connect';
import { lastVersion, type VersionRequest } from './last-version';

/**
 * How long an answer of the database about what state the content is in is gone by, in milliseconds. Whoever writes waits
 * as long before saying so (`letItBeSeen`), so that nobody who asks after that is answered from before it, by no process:
 * what is compared are lengths of time on one machine each, never two clocks.
 */
const HOLDS = 10;

/** How many transactions there were. */
export async function contentVersion(): Promise<string> {
  const [row] = await selectQuickly<{ n: number }>('SELECT SUM(n) AS n FROM content_changes');
  return String(row?.n);
}

/** How the database is asked what state the content is in. */
export const versionSource = perServer(() => ({ read: contentVersion }));

/** What state the content is in, where that was asked a moment ago. Asked anew before that moment is over, so that nobody waits. */
export function versionKnown(): string | undefined {
  const last = lastVersion();
  const age = last.known ? performance.now() - last.known.requestedAt : HOLDS;
  if (age >= HOLDS / 2) (last.request ??= ask()).version.catch(() => undefined);
  return age < HOLDS ? last.known?.version : undefined;
}

/** What state the content is in; it is asked once for all who want to know at the same time. */
export async function freshVersion(): Promise<string> {
  const fresh = versionKnown();
  if (fresh !== undefined) return fresh;
  const arrived = performance.now();
  const last = lastVersion();
  // A question that was put before that long says nothing of what was written since.
  while (last.request && arrived - last.request.from >= HOLDS) await last.request.version.catch(() => undefined);
  return (last.request ??= ask()).version;
}

function ask(): VersionRequest {
  const last = lastVersion();
  const from = performance.now();
  const own: VersionRequest = { from, version: Promise.resolve('') };
  own.version = versionSource()
    .read()
    .then((version) => {
      if (last.request === own) last.known = { version, requestedAt: from };
      return version;
    })
    .finally(() => {
      if (last.request === own) last.request = undefined;
    });
  return own;
}

/** Waits until every process has noticed what was written before. */
export const letItBeSeen = (): Promise<void> => new Promise((done) => setTimeout(done, HOLDS + 1));
