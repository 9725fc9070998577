import { Refusal } from '../../src/lib/server/base/refusal';

/** What a piece of work was refused with; fails where it was not. */
export async function refused(work: Promise<unknown>): Promise<Refusal> {
  const error = await work.then(
    () => undefined,
    (e: unknown) => e,
  );
  if (!(error instanceof Refusal)) throw new Error(`This was not refused: ${String(error)}`);
  return error;
}
