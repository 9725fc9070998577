/**
 * How long an answer of the database about what state the content is in is gone by, in milliseconds. Whoever writes waits
 * as long before saying so (`letItBeSeen`), so that nobody who asks after that is answered from before it, by no process:
 * what is compared are lengths of time on one machine each, never two clocks.
 */
const HOLDS = 10;

interface Asking {
  from: number;
  version: Promise<string>;
}

let question: (() => Promise<string>) | undefined;
let known: { version: string; asked: number } | undefined;
let asking: Asking | undefined;

/** Says how the database is asked what state the content is in. */
export const askBy = (own: () => Promise<string>): void => void (question = own);

/** To be called after anything has been written here, and where another database is meant. */
export function versionMoved(): void {
  known = undefined;
  // Whoever waits for this question gets its answer; nobody else does.
  asking = undefined;
}

/** What state the content is in, where that was asked a moment ago. Asked anew before that moment is over, so that nobody waits. */
export function versionKnown(): string | undefined {
  const age = known ? performance.now() - known.asked : HOLDS;
  if (age >= HOLDS / 2) (asking ??= ask()).version.catch(() => undefined);
  return age < HOLDS ? known?.version : undefined;
}

/** What state the content is in; it is asked once for all who want to know at the same time. */
export async function freshVersion(): Promise<string> {
  const fresh = versionKnown();
  if (fresh !== undefined) return fresh;
  const arrived = performance.now();
  // A question that was put before that long says nothing of what was written since.
  while (asking && arrived - asking.from >= HOLDS) await asking.version.catch(() => undefined);
  return (asking ??= ask()).version;
}

function ask(): Asking {
  const from = performance.now();
  const own: Asking = { from, version: Promise.resolve('') };
  own.version = (question ?? (() => Promise.reject(new Error('Nobody has said how to ask.'))))()
    .then((version) => {
      if (asking === own) known = { version, asked: from };
      return version;
    })
    .finally(() => {
      if (asking === own) asking = undefined;
    });
  return own;
}

/** Waits until every process has noticed what was written before. */
export const letItBeSeen = (): Promise<void> => new Promise((done) => setTimeout(done, HOLDS + 1));
