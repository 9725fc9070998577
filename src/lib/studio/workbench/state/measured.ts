/** Where `npm run bench` listens for the time that work takes, in milliseconds. Nobody listens otherwise. */
declare global {
  var plumThreadTimes: { what: string; ms: number }[] | undefined;
}

/** Does some work, and tells whoever listens how long it took. */
export function measured<T>(what: string, work: () => T): T {
  const times = globalThis.plumThreadTimes;
  if (!times) return work();
  const from = performance.now();
  const done = work();
  times.push({ what, ms: performance.now() - from });
  return done;
}
