import { problemInFile } from '../../core/exchange/columns';
import type { ImportResult } from '../../core/exchange/imports';
import type { Problem } from '../../core/base/result';
import type { Later } from './links-within';
import type { SourceRow } from './sources';

const MOST_PROBLEMS = 1000;

type Count = 'rows' | 'added' | 'updated' | 'skipped' | 'refused';
const ZERO: Record<Count, number> = { rows: 0, added: 0, updated: 0, skipped: 0, refused: 0 };

/** What an import has come to so far. What a transaction added is taken back where it is tried again. */
export class ImportTally {
  private counts = { ...ZERO };
  private problems: ImportResult['problems'] = [];
  private moreProblems = 0;
  /** Links to records that may come later in the file. */
  private later: Later[] = [];
  private unread = new Map<string, number>();

  /** @param targets where each column of the file goes */
  constructor(private readonly targets: Record<string, string>) {}

  get links(): readonly Later[] {
    return this.later;
  }

  count(what: Count, by = 1): void {
    this.counts[what] += by;
  }

  /** Problems of the row at a place of the file; the first thousand stand with their words. */
  report(place: string, problems: readonly Problem[]): void {
    for (const problem of problems)
      if (this.problems.length < MOST_PROBLEMS) this.problems.push({ ...problemInFile(problem, this.targets), place });
      else this.moreProblems++;
  }

  refuse(place: string, problems: readonly Problem[]): void {
    this.report(place, problems);
    this.counts.refused++;
  }

  /** Keeps the links of a record until all of the file is there. */
  linkLater(links: readonly Omit<Later, 'id' | 'place'>[], id: number, place: string): void {
    this.later.push(...links.map((link) => ({ ...link, id, place })));
  }

  /** Counts rows that are done, and the columns of them that say something and go nowhere. */
  addRows(rows: readonly SourceRow[]): void {
    this.counts.rows += rows.length;
    for (const { cells } of rows)
      for (const [column, value] of Object.entries(cells))
        if (value !== '' && value !== null && !Object.hasOwn(this.targets, column))
          this.unread.set(column, (this.unread.get(column) ?? 0) + 1);
  }

  /** Takes everything back. */
  clear(): void {
    this.counts = { ...ZERO };
    this.problems = [];
    this.moreProblems = 0;
    this.later = [];
    this.unread = new Map();
  }

  /** Where it stands now; calling what is given takes back what was added to counts, problems and links since. */
  savepoint(): () => void {
    const { counts, problems, moreProblems, later } = this;
    const [before, lengths] = [{ ...counts }, { problems: problems.length, later: later.length }];
    return () => {
      this.counts = { ...before };
      this.moreProblems = moreProblems;
      problems.length = lengths.problems;
      later.length = lengths.later;
    };
  }

  /** Where nothing of it was kept, nothing was added or updated. */
  discardChanges(): void {
    Object.assign(this.counts, { added: 0, updated: 0 });
  }

  get refused(): number {
    return this.counts.refused;
  }

  get rows(): number {
    return this.counts.rows;
  }

  result(): ImportResult {
    return {
      ...this.counts,
      problems: this.problems,
      moreProblems: this.moreProblems,
      unread: [...this.unread].map(([column, rows]) => ({ column, rows })),
    };
  }
}
