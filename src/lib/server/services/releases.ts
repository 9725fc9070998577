import { createHash } from 'node:crypto';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { canonical } from '../../core/releases/canonical';
import { ChangeSchema, type Change } from '../../core/releases/change';
import { changesBetween } from '../../core/releases/compare';
import { besideOf, modelDesign, underDesign, type Design } from '../../core/releases/design';
import type { ModelIndex } from '../../core/model/model-index';
import { fromJson, inTransaction } from '../database/connect';
import { putTaxonomy } from '../queries/model';
import { putTemplate } from '../queries/templates';
import { notFound, Refusal } from '../base/refusal';
import { readRelease } from './designs';
import { taxonomyBase } from '../../core/base/reserved';
import { clearFields, FIELD_PARTS } from '../queries/record-parts';
import { putInOrder } from '../queries/types';
import { clearDesigned, deleteDesigned, putMenu, putNamedRule, putTheme } from '../queries/design';
import { insertRelease, noteFormerAddresses, releaseRows } from '../queries/releases';
import { lockSite, modelMoved, releaseShown, showRelease } from '../queries/site';
import { plainOf, readModel, readModels } from './model';
import { reindex } from './record-parts';
import { writeType } from './types';
import { readTemplates } from './templates';
import { readTheme } from './theme';

export const ReleaseHeadSchema = z.object({
  id: z.number().int(),
  /** An instant, RFC 3339. */
  created: z.string(),
  note: z.string(),
  changes: z.array(ChangeSchema),
  /** How many pages it changed; null where that was not counted. */
  pages: z.number().int().nullable(),
  /** Whether visitors see it now. */
  shown: z.boolean(),
});
export type ReleaseHead = z.infer<typeof ReleaseHeadSchema>;

/** The design as it stands in the studio, and a mark that is another one as soon as anything of it changes. */
export async function draftDesign(
  model: ModelIndex,
  transaction?: Transaction,
): Promise<{ design: Design; mark: string }> {
  const [templates, { theme }] = await Promise.all([readTemplates(transaction), readTheme(transaction)]);
  const { rules, menus } = model;
  const design: Design = { templates, rules, menus, theme, ...modelDesign(model) };
  return { design, mark: markOf(design) };
}

const markOf = (value: unknown): string => createHash('sha256').update(canonical(value)).digest('hex').slice(0, 20);

/** What a release would change now, and the mark by which the state that was looked at is known. */
export async function pendingChanges(): Promise<{ changes: Change[]; mark: string; shown: number }> {
  const [model, shown] = await Promise.all([readModel(), releaseShown()]);
  const [{ design, mark }, before] = await Promise.all([draftDesign(model), readRelease(shown)]);
  return { changes: changesBetween(before, design, model), mark, shown };
}

/** All releases, the newest first. */
export async function readReleases(limit = 200, offset = 0): Promise<ReleaseHead[]> {
  const shown = await releaseShown();
  const rows = await releaseRows(limit, offset);
  return rows.map((row) => ({
    ...row,
    created: row.created.toISOString(),
    changes: fromJson<Change[]>(row.changes),
    shown: row.id === shown,
  }));
}

export const ReleaseWanted = z.strictObject({
  note: z.string().trim().max(500).default(''),
  /** The mark of the draft that was looked at; without one whatever stands is released. */
  mark: z.string().max(40).optional(),
  pages: z.number().int().min(0).nullable().default(null),
});

/**
 * Publishes everything that was designed since the last release. It is one row, written and shown in one transaction:
 * whoever asks for a page before sees the former release, whoever asks after sees this one.
 */
export async function release({
  note = '',
  mark,
  pages = null,
}: Partial<z.output<typeof ReleaseWanted>> = {}): Promise<ReleaseHead> {
  const made = await inTransaction(async (transaction) => {
    // One release at a time, and none while the model is being written.
    await lockSite(transaction);
    const model = await readModel(transaction);
    const draft = await draftDesign(model, transaction);
    if (mark !== undefined && mark !== draft.mark)
      throw new Refusal(
        409,
        'Something has been changed since you looked at the list. Look at it again; nothing was released.',
      );
    const shown = await releaseShown(transaction);
    const before = await readRelease(shown, transaction);
    const changes = changesBetween(before, draft.design, model);
    if (!changes.length && shown) throw new Refusal(409, 'Nothing has changed since the last release.');
    const created = new Date();
    const id = await insertRelease(
      [created, note, JSON.stringify(draft.design), JSON.stringify(changes), pages],
      transaction,
    );
    await show(id, before, draft.design, transaction);
    return { id, created: created.toISOString(), note, changes, pages, shown: true };
  });
  return made;
}

/** Has visitors see a release. Where it makes addresses differently, those that were lead on. */
async function show(id: number, before: Design, after: Design, transaction: Transaction): Promise<void> {
  const gone = before.types.flatMap(({ id: typeId, base, address = '' }) => {
    const now = after.types.find((type) => type.id === typeId);
    const same = now && base === now.base && address === (now.address ?? '');
    return same ? [] : [{ typeId, base, address }];
  });
  const moved = before.taxonomies.flatMap(({ id: typeId, key }) =>
    after.taxonomies.some((one) => one.id === typeId && one.key === key)
      ? []
      : [{ typeId, base: taxonomyBase(key), address: '' }],
  );
  await noteFormerAddresses([...gone, ...moved], transaction);
  const { kept: was } = await readModels(transaction);
  await showRelease(id, transaction);
  const { kept } = await readModels(transaction);
  // What visitors look things up by is written as they see it.
  const { written, fields: dropped } = besideOf(kept, was);
  if (dropped.length) for (const part of FIELD_PARTS) await clearFields(part, dropped, transaction);
  for (const type of kept) {
    const fields = new Set(type.fields.flatMap((field) => (written.has(field.id) ? [field.id] : [])));
    if (fields.size) await reindex(type, transaction, fields);
  }
}

/** Has visitors see an earlier release again. What designers work on stays as it is. */
export async function goBack(id: number): Promise<ReleaseHead> {
  await inTransaction(async (transaction) => {
    await lockSite(transaction);
    const shown = await releaseShown(transaction);
    if (shown === id) throw new Refusal(409, `Visitors see release ${id} already.`);
    const [before, after] = [await readRelease(shown, transaction), await readRelease(id, transaction)];
    await show(id, before, after, transaction);
  });
  const [head] = (await readReleases(1000)).filter((one) => one.id === id);
  if (!head) throw notFound('release with this number');
  return head;
}

/** Puts the design of a release in the place of what designers work on, so that they go on from there. */
export async function takeUp(id: number): Promise<void> {
  await inTransaction(async (transaction) => {
    await lockSite(transaction);
    await writeDesign(await readRelease(id, transaction), transaction);
  });
}

/** Writes a whole design over the draft. Versions go on counting, so that nobody overwrites what they have not seen. */
async function writeDesign(design: Design, transaction: Transaction): Promise<void> {
  const before = await readTemplates(transaction);
  const versionOf = new Map(before.map(({ id, version }) => [id, version]));
  const kept = new Set(design.templates.map(({ id }) => id));
  const gone = before.filter(({ id }) => !kept.has(id)).map(({ id }) => id);
  await deleteDesigned('templates', gone, transaction);
  for (const template of design.templates)
    await putTemplate({ ...template, version: (versionOf.get(template.id) ?? 0) + 1 }, transaction);
  await clearDesigned('named_rules', transaction);
  for (const rule of design.rules) await putNamedRule({ ...rule, version: rule.version + 1 }, transaction);
  await clearDesigned('menus', transaction);
  for (const [position, menu] of design.menus.entries())
    await putMenu({ ...menu, position, version: menu.version + 1 }, transaction);
  const { version } = await readTheme(transaction);
  await putTheme(design.theme, version + 1, transaction);
  await writeModel(design, transaction);
  await modelMoved(transaction);
}

/**
 * Writes the model of a design over the draft. Values stay what they are: a field keeps the kind that it has come to, and
 * fields, types and taxonomies that came later stay, behind the others.
 */
async function writeModel(design: Design, transaction: Transaction): Promise<void> {
  const { draft, terms } = await readModels(transaction);
  for (const [position, taxonomy] of design.taxonomies.entries()) await putTaxonomy(taxonomy, transaction, position);
  await modelMoved(transaction);
  const { types } = underDesign(plainOf(draft), design, terms);
  for (const type of types) {
    const own = new Set(type.fields.map(({ id }) => id));
    const later = draft.type(type.id)?.fields.filter(({ id }) => !own.has(id)) ?? [];
    const whole = { ...type, fields: [...type.fields, ...later] };
    await writeType(whole, await readModel(transaction), undefined, transaction);
    await modelMoved(transaction);
  }
  const ids = types.map(({ id }) => id);
  const others = draft.types.filter(({ id }) => !ids.includes(id)).map(({ id }) => id);
  await putInOrder('content_types', [...ids, ...others], transaction);
}
