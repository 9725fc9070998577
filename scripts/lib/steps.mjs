/** After so many milliseconds something is said again, so that nobody takes it for dead. */
const AGAIN = 15_000;

/**
 * Says what is being done, how long it has taken every quarter of a minute, and how long it took in all where that was more than a moment.
 * @template T @param {string} what @param {() => Promise<T>} work @returns {Promise<T>}
 */
export async function step(what, work) {
  const from = Date.now();
  const seconds = () => Math.round((Date.now() - from) / 1000);
  console.error(`${what} …`);
  const timer = setInterval(() => console.error(`  ${seconds()} s so far`), AGAIN);
  try {
    return await work();
  } finally {
    clearInterval(timer);
    if (seconds() > 1) console.error(`  ${seconds()} s`);
  }
}
