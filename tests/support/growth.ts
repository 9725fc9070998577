/** How much more an input of 16 times the length costs than 16 inputs of the length: 1 where cost grows as length does, 16 where it grows as its square. */
const FACTOR = 16;
/** Microseconds of processor below which a comparison says more of the machine than of the code. */
const TOO_QUICK = 10_000;
/** Microseconds of processor that both sides take at least before a verdict, so that neither a tick of its clock nor collecting rubbish makes one. */
const ENOUGH = 60_000;
/** Comparisons by turns, of which the quickest of each side count: what disturbs only ever adds. */
const TURNS = 5;
/** A ratio that needs no second look. */
const FINE = 2;

/** Microseconds of processor that this process spent on doing some work so many times. The clock on the wall says what other programs do, too. */
async function processorTime(work: () => unknown, times = 1): Promise<number> {
  const before = process.cpuUsage();
  for (let i = 0; i < times; i++) {
    try {
      await work();
    } catch {
      // What is refused is refused in time, too.
    }
  }
  const { user, system } = process.cpuUsage(before);
  return user + system;
}

/**
 * How the cost of `work` grows from texts of n characters to texts of 16 n, per character: about 1 where it is linear, 16 where
 * it is quadratic, 256 where it is cubic. Both sides read the same number of characters, by turns in one process, each for as long as
 * its clock can tell; the quickest turns are compared. Where 16 n characters take no time worth telling up to `longest`, 1.
 */
export async function growth(
  work: (text: string) => unknown,
  textOf: (n: number) => string,
  longest = 16_000,
): Promise<number> {
  for (let n = 1000; n <= longest; n *= 4) {
    const [short, long] = [textOf(n), textOf(FACTOR * n)];
    if ((await processorTime(() => work(long))) < TOO_QUICK) continue;
    // Once before, so that neither side pays for what is made ready at first.
    await processorTime(() => work(short));
    const first = await processorTime(() => work(short), FACTOR);
    if ((await processorTime(() => work(long))) < FINE * first) return FINE;
    const times = Math.ceil(ENOUGH / Math.max(first, ENOUGH / 1000));
    let [shorts, longs] = [Infinity, Infinity];
    for (let turn = 0; turn < TURNS; turn++) {
      shorts = Math.min(shorts, await processorTime(() => work(short), FACTOR * times));
      longs = Math.min(longs, await processorTime(() => work(long), times));
      if (longs < FINE * shorts) break;
    }
    // Done in no time once everything stood ready: longer texts say more.
    if (longs < ENOUGH) continue;
    return longs / Math.max(shorts, 1);
  }
  return 1;
}
