import type { Transaction } from 'sequelize';
import { TreeSchema, type Tree } from '../../core/schema/element';
import { fromJson } from '../database/connect';
import { plainRows, table } from '../database/tables';
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

interface Row {
  id: number;
  version: number;
  began: Date;
  saved: Date;
  edits: unknown;
  sitting: string;
}

/** Notes a state of a template, or takes it into the last one of the same sitting. */
export async function noteVersion(
  templateId: string,
  state: { version: number; tree: Tree; edits: string[]; sitting: string },
  before: { version: number; tree: unknown },
  transaction: Transaction,
): Promise<void> {
  const [last] = plainRows<Row>(
    await table('templateVersions').findAll({
      where: { templateId },
      attributes: ['id', 'version', 'began', 'saved', 'edits', 'sitting'],
      order: [['id', 'DESC']],
      limit: 1,
      transaction,
    }),
  );
  const now = new Date();
  // What stood before anybody noted versions can be gone back to as well.
  if (!last)
    await table('templateVersions').create(
      { templateId, version: before.version, tree: before.tree, edits: [], sitting: '', began: now, saved: now },
      { transaction },
    );
  const { version, tree, edits, sitting } = state;
  if (last && sitting && last.sitting === sitting && now.getTime() - last.began.getTime() < TOGETHER) {
    const names = [...(fromJson(last.edits) as string[]), ...edits].slice(-MOST_NAMES);
    await table('templateVersions').update(
      { version, tree, edits: names, saved: now },
      { where: { id: last.id }, transaction },
    );
  } else
    await table('templateVersions').create(
      { templateId, version, tree, edits: edits.slice(-MOST_NAMES), sitting, began: now, saved: now },
      { transaction },
    );
}

/** The states of a template, the newest first. */
export async function readVersions(templateId: string): Promise<VersionHead[]> {
  const rows = await table('templateVersions').findAll({
    where: { templateId },
    attributes: ['id', 'version', 'began', 'saved', 'edits', 'sitting'],
    order: [['id', 'DESC']],
    limit: 500,
  });
  return plainRows<Row>(rows).map(({ id, version, began, saved, edits }) => ({
    id,
    version,
    began: began.toISOString(),
    saved: saved.toISOString(),
    edits: fromJson(edits),
  }));
}

export async function readVersion(templateId: string, id: number): Promise<{ version: number; tree: Tree }> {
  const row = await table('templateVersions').findOne({ where: { templateId, id } });
  if (!row) throw notFound('version with this number');
  return { version: row.get('version') as number, tree: TreeSchema.parse(fromJson(row.get('tree'))) };
}
