import type { Problem } from '../../core/base/result';
import { Refusal } from '../base/refusal';
import { sourceRows, type SourceFile, type SourceRow } from './sources';

/** Rows, and characters, that are handed on together at most; a single row may be longer. */
export const BATCH = { rows: 1000, characters: 8_000_000 };

/** What comes next of a file: rows, none where it has ended, or why it cannot be read. Copied from thread to thread. */
export type NextRows =
  { rows: SourceRow[] } | { refused: { status: Refusal['status']; title: string; problems: Problem[] } };

/** The rows of a file, a batch at a time. */
export class RowReader {
  private readonly rows: AsyncGenerator<SourceRow>;

  constructor(file: SourceFile) {
    this.rows = sourceRows(file);
  }

  async next(): Promise<NextRows> {
    const rows: SourceRow[] = [];
    let characters = 0;
    try {
      while (rows.length < BATCH.rows && characters < BATCH.characters) {
        const { value, done } = await this.rows.next();
        if (done) break;
        rows.push(value);
        characters += lengthOf(value.cells);
      }
      return { rows };
    } catch (error) {
      if (!(error instanceof Refusal)) throw error;
      const { status, title, problems } = error;
      return { refused: { status, title, problems } };
    }
  }
}

/** Characters in all texts of a value, about. */
function lengthOf(value: unknown): number {
  if (typeof value === 'string') return value.length;
  if (typeof value !== 'object' || value === null) return 8;
  let sum = 8;
  for (const one of Object.values(value)) sum += lengthOf(one);
  return sum;
}
