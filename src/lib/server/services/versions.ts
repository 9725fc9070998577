import type { Transaction } from 'sequelize';
import { TreeSchema, type Tree } from '../../core/schema/element';
import { insertVersion, updateVersion, versionRow, versionRows } from '../queries/templates';
import { notFound } from '../base/refusal';

/** One state of a template that can be gone back to. */
export interface VersionHead {
  id: number;
  version: number;
  /** Instants, RFC 3339. */
  began: string;
  saved: string;
  /** Names of the edits that led to it from the one before. */
  edits: string[];
}

/** Edits of one sitting at the workbench that follow each other within this time are one version, in milliseconds. */
const TOGETHER = 3 * 60_000;
const MOST_NAMES = 200;

/** Notes a state of a template, or takes it into the last one of the same sitting. */
export async function noteVersion(
  templateId: string,
  state: { version: number; tree: Tree; edits: string[]; sitting: string },
  before: { version: number; tree: unknown },
  transaction: Transaction,
): Promise<void> {
  const [last] = await versionRows(templateId, 1, transaction);
  const now = new Date();
  const times = { began: now, saved: now };
  // What stood before anybody noted versions can be gone back to as well.
  if (!last) await insertVersion({ templateId, ...before, edits: [], sitting: '', ...times }, transaction);
  const { version, tree, edits, sitting } = state;
  if (last && sitting && last.sitting === sitting && now.getTime() - last.began.getTime() < TOGETHER) {
    const names = [...last.edits, ...edits].slice(-MOST_NAMES);
    await updateVersion(last.id, { version, tree, edits: names, saved: now }, transaction);
  } else
    await insertVersion({ templateId, version, tree, edits: edits.slice(-MOST_NAMES), sitting, ...times }, transaction);
}

/** The states of a template, the newest first. */
export const readVersions = async (templateId: string): Promise<VersionHead[]> =>
  (await versionRows(templateId, 500)).map(({ id, version, began, saved, edits }) => ({
    id,
    version,
    edits,
    began: began.toISOString(),
    saved: saved.toISOString(),
  }));

export async function readVersion(templateId: string, id: number): Promise<{ version: number; tree: Tree }> {
  const row = await versionRow(templateId, id);
  if (!row) throw notFound('version with this number');
  return { version: row.version, tree: TreeSchema.parse(row.tree) };
}
