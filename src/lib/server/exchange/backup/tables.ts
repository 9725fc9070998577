/** A table as a backup has it. */
export interface BackupTable {
  name: string;
  /** Columns that hold what lets somebody in; in a backup with people alone. */
  secrets?: readonly string[];
  /** The whole table lets somebody in. */
  secret?: true;
  /** Columns that are this database's own affair. */
  left?: readonly string[];
  /** Columns with the number of an account. */
  accounts?: readonly string[];
}

/**
 * Every table that a backup has, in an order in which each row's keys lead to rows that came before. What is not among them is either the
 * running of this very process (jobs, files that wait, counters, work left) or lets somebody in for a while (sessions, links, tries, devices).
 */
export const BACKUP_TABLES: readonly BackupTable[] = [
  { name: 'settings' },
  { name: 'accounts', secrets: ['password', 'code_secret', 'code_step'] },
  { name: 'passkeys', secret: true },
  { name: 'recovery_codes', secret: true },
  { name: 'content_types' },
  { name: 'fields' },
  { name: 'taxonomies' },
  { name: 'terms' },
  { name: 'media', accounts: ['made_by'] },
  { name: 'authors' },
  { name: 'named_rules' },
  { name: 'menus' },
  { name: 'themes' },
  { name: 'templates' },
  { name: 'template_versions' },
  { name: 'releases' },
  { name: 'sites', left: ['model_version'] },
  { name: 'records', accounts: ['made_by'] },
  { name: 'record_terms' },
  { name: 'links' },
  { name: 'mentions' },
  { name: 'unique_values' },
  { name: 'record_counts' },
  { name: 'record_index' },
  { name: 'record_words' },
  { name: 'record_shares', accounts: ['account_id'] },
  { name: 'former_addresses' },
  { name: 'former_slugs' },
  { name: 'redirects' },
  { name: 'share_links' },
  { name: 'removals', accounts: ['made_by'] },
  { name: 'removed_rows' },
  { name: 'activities', accounts: ['account_id'] },
];

/** Tables that no backup has, each with why. */
export const LEFT_OUT: Record<string, string> = {
  sessions: 'let somebody in',
  api_tokens: 'let a program in',
  passes: 'let somebody in once',
  throttles: 'tries of this hour',
  devices: 'know somebody again',
  idempotency_keys: 'answers of this day',
  jobs: 'work of these processes',
  held_files: 'files that wait for somebody for a day',
  exports: 'files that lie in another place',
  work_left: 'work of these processes',
  content_changes: 'a counter of this database',
  record_changes: 'what changed in the last hour',
  migrations: 'how far this database is',
};

/** The version of the format; see docs/formats/backup.md. */
export const VERSION = 2;

/** The part of a table in the zip. */
export const partOf = (table: string): string => `tables/${table}.jsonl`;
