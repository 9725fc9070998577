import { contentVersion } from '../database/connect';

/**
 * Answers of the database that hold until any content is written: which records a list has, how many, and what visitors
 * may choose. Every transaction counts up, whatever it writes, and nothing that was kept before is used after.
 */
const MOST = 1000;
let state = { of: '', answers: new Map<string, unknown>() };

export interface KeptAnswers {
  get(key: string): unknown;
  put(key: string, answer: unknown): void;
}

/** What is kept as of now. Answers put into it later than the next change are never read. */
export async function keptAnswers(): Promise<KeptAnswers> {
  const of = `${process.env.PLUM_DATABASE} ${await contentVersion()}`;
  if (state.of !== of) state = { of, answers: new Map() };
  const { answers } = state;
  return {
    get(key) {
      const found = answers.get(key);
      if (found !== undefined) {
        // The one used last goes last.
        answers.delete(key);
        answers.set(key, found);
      }
      return found;
    },
    put(key, answer) {
      answers.set(key, answer);
      const [oldest] = answers.keys();
      if (answers.size > MOST && oldest !== undefined) answers.delete(oldest);
    },
  };
}

/** Forgets everything that is kept. */
export function forgetAnswers(): void {
  state = { of: '', answers: new Map() };
}
