/** How much more an input of 16 times the length costs than 16 inputs of the length: 1 where cost grows as length does, 16 where it grows as its square. */
const FACTOR = 16;
/** Microseconds of processor below which a comparison says more of the machine than of the code. */
const TOO_QUICK = 10_000;
/** Comparisons by turns; the middle one counts. */
const TURNS = 5;

/** Microseconds of processor that this process spent on some work. The clock on the wall says what other programs do, too. */
async function processorTime(work: () => unknown): Promise<number> {
  const before = process.cpuUsage();
  try {
    await work();
  } catch {
    // What is refused is refused in time, too.
  }
  const { user, system } = process.cpuUsage(before);
  return user + system;
}

const median = (values: readonly number[]): number =>
  [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)] ?? NaN;

/**
 * How the cost of `work` grows from texts of n characters to texts of 16 n, per character: about 1 where it is linear, 16 where
 * it is quadratic, 256 where it is cubic. Both sides read the same number of characters, by turns in one process, so that whatever else the
 * machine does stretches both; the middle of several comparisons is given. Where 16 n characters take no time worth telling up to
 * `longest`, 1.
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
    const ratios: number[] = [];
    for (let turn = 0; turn < TURNS; turn++) {
      // What is refused each time is made anew each time, as a stack of calls is.
      const all = await processorTime(async () => {
        for (let i = 0; i < FACTOR; i++) {
          try {
            await work(short);
          } catch {
            // As above.
          }
        }
      });
      ratios.push((await processorTime(() => work(long))) / Math.max(all, 1));
      // Far below any bound: no need to ask again.
      if (turn === 0 && ratios.every((one) => one < 2)) break;
    }
    return median(ratios);
  }
  return 1;
}
