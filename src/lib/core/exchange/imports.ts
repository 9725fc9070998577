import type { Problem } from '../base/result';
import type { FileColumn, ColumnTarget } from './columns';

export const IMPORT_FORMATS = ['csv', 'json', 'geojson', 'markdown'] as const;
export type ImportFormat = (typeof IMPORT_FORMATS)[number];

/** A file's columns with a few rows, as it is shown before it comes in. */
export interface FileView {
  columns: string[];
  sample: Record<string, string>[];
  /** What each column most likely is. */
  targets: Record<string, ColumnTarget>;
  /** What columns may go into. */
  into: FileColumn[];
}

export interface ImportResult {
  rows: number;
  added: number;
  updated: number;
  skipped: number;
  /** Rows that were left out for their problems. */
  refused: number;
  /** Each with its place in the file; the first thousand. */
  problems: (Problem & { place: string })[];
  moreProblems: number;
  /** Columns that say something and that nothing was said about, with how many rows fill them. They went nowhere. */
  unread: { column: string; rows: number }[];
}

/** Long work that somebody waits for: how far it is, and what came of it. */
export interface Job<R = unknown> {
  id: string;
  state: 'running' | 'done' | 'failed' | 'cancelled';
  done: number;
  /** How much there is to do, once that is known. */
  total?: number;
  result?: R;
  title?: string;
  problems?: Problem[];
}
