import { run, select } from '../database/connect';

/** The last export for an address; `file` has the hash of each of its files. */
export interface ExportRow {
  site: string;
  made: Date;
  pages: number;
  file: string;
}

/** The newest first. */
export const exportRows = (): Promise<ExportRow[]> =>
  select<ExportRow>('SELECT site, made, pages, file FROM exports ORDER BY made DESC, site LIMIT 100');

export const exportRow = async (site: string): Promise<ExportRow | undefined> =>
  (await select<ExportRow>('SELECT site, made, pages, file FROM exports WHERE site = ?', [site]))[0];

export const noteExport = ({ site, made, pages, file }: ExportRow): Promise<void> =>
  run(
    'INSERT INTO exports (site, made, pages, file) VALUES (?, ?, ?, ?) ON DUPLICATE KEY UPDATE made = VALUES(made), pages = VALUES(pages), file = VALUES(file)',
    [site, made, pages, file],
  );
