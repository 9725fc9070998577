import { mergeOperations, TemplateEditsSchema, type SentOperation } from '../../core/templates/merging';
import type { Transaction } from 'sequelize';
import { z } from 'zod';
import { newId } from '../../core/base/ids';
import { compileTree, scopesOf, type LooseEnd, type PartFinder } from '../../core/render/compile';
import { problem, type Problem } from '../../core/base/result';
import { scopeOfTarget } from '../../core/addresses/archives';
import { targetProblems } from '../../core/serving/targets';
import { blankTree } from '../../core/templates/build';
import { archiveTree, frameTree, recordTree } from '../../core/templates/start';
import { parseTemplate } from '../../core/templates/parse';
import { TargetSchema, type Target } from '../../core/schema/target';
import { TemplateSchema, type Purpose, type Template } from '../../core/schema/template';
import { typeOf } from '../../core/templates/served';
import type { Tree } from '../../core/schema/element';
import { inTransaction } from '../database/connect';
import { writeOrder as putInOrder } from '../queries/design';
import { beginRemoval, sweep } from './removal';
import {
  countTemplates,
  insertTemplate,
  lockTemplate,
  partRows,
  templateHeadRows,
  templateRow,
  templateRows,
  updateTemplate,
} from '../queries/templates';
import { notFound, Refusal } from '../base/refusal';
import { readModel } from './model';
import { noteVersion } from './versions';

const TemplateHeadSchema = TemplateSchema.omit({ tree: true });

/** A template without its tree: what says which one answers an address. */
export type TemplateHead = Omit<Template, 'tree'>;

export const readTemplateHeads = async (): Promise<TemplateHead[]> =>
  (await templateHeadRows()).map((row) => TemplateHeadSchema.parse(row));

/** All templates in the designer's order. */
export const readTemplates = async (transaction?: Transaction): Promise<Template[]> =>
  (await templateRows(transaction)).map((row) => TemplateSchema.parse(row));

export async function readTemplate(id: string): Promise<Template> {
  const row = await templateRow(id);
  if (!row) throw notFound('template with this id');
  return TemplateSchema.parse(row);
}

/** Finds a part by its id among templates. */
export const partsAmong = (templates: readonly Template[]): PartFinder => {
  const parts = new Map(templates.filter((one) => one.purpose === 'part').map((one) => [one.id, one]));
  return (id) => parts.get(id);
};

export const readParts = async (transaction?: Transaction): Promise<Template[]> =>
  (await partRows(transaction)).map((row) => TemplateSchema.parse(row));

/**
 * Creates a template for one content type or for the archives that `serves` names, or a part or frame that need none: with the given tree, with one that a
 * designer would keep (`ready`), or blank.
 */
export async function createTemplate(input: {
  name: string;
  purpose: Purpose;
  typeId?: string;
  serves?: Target[];
  except?: Target[];
  id?: string;
  tree?: unknown;
  ready?: boolean;
}): Promise<Template> {
  const model = await readModel();
  const type = input.typeId ? model.type(input.typeId) : undefined;
  const serves: Target[] = input.serves ?? (type ? [{ on: 'type', typeId: type.id }] : []);
  const wrong = [
    ...targetProblems(serves, input.purpose, model, 'serves'),
    ...targetProblems(input.except ?? [], input.purpose, model, 'except'),
  ];
  if (wrong.length) throw new Refusal(422, 'The template cannot be made.', wrong);
  if (!serves.length && (input.typeId || input.purpose === 'record' || input.purpose === 'archive'))
    throw new Refusal(422, 'The template cannot be made.', [
      problem('typeId', 'There is no content type with this id.'),
    ]);
  const start = () => {
    if (input.purpose === 'frame') return frameTree();
    const [first] = serves;
    if (!input.ready || !first) return blankTree();
    if (input.purpose === 'archive') return archiveTree(scopeOfTarget(first, model), model);
    const shown = type ?? model.type(typeOf({ serves }, model) ?? '');
    return shown ? recordTree(shown, model) : blankTree();
  };
  const template = {
    id: input.id ?? newId('tpl'),
    name: input.name,
    purpose: input.purpose,
    serves,
    ...(input.except?.length ? { except: input.except } : {}),
    order: await countTemplates(),
    tree: input.tree ?? start(),
    version: 1,
  };
  const checked = await check(template);
  refuseMisfits(checked.misfits);
  await insertTemplate(checked.template);
  return checked.template;
}

/** What a designer did since the last saving, and the sitting it belongs to. */
export interface Sitting {
  edits: string[];
  sitting: string;
}

/** Puts a template in the place of what is kept under its id. With a stale `version` nothing is written. */
export async function saveTemplate(
  id: string,
  input: unknown,
  { edits, sitting }: Sitting = { edits: [], sitting: '' },
): Promise<{ template: Template; looseEnds: LooseEnd[] }> {
  const { template, looseEnds, misfits, wrong } = await check(input);
  if (template.id !== id) throw new Refusal(422, 'The template has another id than its address.');
  return inTransaction(
    async (transaction) => {
      const row = await lockTemplate(id, transaction);
      if (!row) throw notFound('template with this id');
      const currentVersion = row.version;
      if (currentVersion !== template.version)
        throw new Refusal(
          409,
          'This template has been changed elsewhere since it was opened here. Nothing was overwritten.',
          [],
          { version: currentVersion },
        );
      const before: unknown = row.tree;
      // Targets that stood before may have lost what they name; nobody is kept from saving by that.
      const targets = (serves: unknown, except: unknown) => JSON.stringify([serves, except ?? []]);
      const asBefore = targets(row.serves, row.except) === targets(template.serves, template.except);
      if (wrong.length && !asBefore) throw new Refusal(422, 'The template cannot serve this.', wrong);
      refuseMisfits(misfits.filter((end) => !stoodBefore(before, template.tree, end)));
      const saved = { ...template, except: template.except ?? null, version: currentVersion + 1 };
      await updateTemplate(id, saved, transaction);
      if (JSON.stringify(before) !== JSON.stringify(saved.tree))
        await noteVersion(
          id,
          { version: saved.version, tree: saved.tree, edits, sitting },
          { version: currentVersion, tree: before },
          transaction,
        );
      return { template: { ...template, version: currentVersion + 1 }, looseEnds };
    },
    { writes: 'nothing' },
  );
}

/**
 * Keeps what was done to a template since some version of it. What others have kept meanwhile stays where it is another
 * place; where it is the same one, nothing is written. `tree` is told where it is not what the asker has.
 */
export async function editTemplate(
  id: string,
  input: z.output<typeof TemplateEditsSchema>,
): Promise<{ version: number; name: string; tree?: Tree; looseEnds: LooseEnd[] }> {
  const { version, operations, labels, name, sitting } = input;
  return inTransaction(
    async (transaction) => {
      const row = await lockTemplate(id, transaction);
      if (!row) throw notFound('template with this id');
      const before = TemplateSchema.parse(row);
      const clash = (problems: Problem[]) =>
        new Refusal(
          409,
          'This template has been changed elsewhere since it was opened here. Nothing was overwritten.',
          problems,
          { version: before.version },
        );
      const merged = mergeOperations(before.tree, operations as SentOperation[]);
      if (!merged.ok)
        throw before.version === version
          ? new Refusal(422, 'The template cannot be saved.', merged.problems)
          : clash(merged.problems);
      if (name && name.from !== before.name)
        throw clash([problem('name', `It is called “${before.name}” by now.`, 'Look at both states, and choose.')]);
      const { template, looseEnds, misfits } = await check(
        {
          ...before,
          tree: merged.value,
          name: name?.to ?? before.name,
        },
        transaction,
      );
      refuseMisfits(misfits.filter((end) => !stoodBefore(before.tree, template.tree, end)));
      const saved = { tree: template.tree, name: template.name, version: before.version + 1 };
      await updateTemplate(id, saved, transaction);
      if (operations.length)
        await noteVersion(
          id,
          { version: saved.version, tree: saved.tree, edits: labels, sitting },
          { version: before.version, tree: before.tree },
          transaction,
        );
      const { version: now, name: named } = saved;
      return { version: now, name: named, ...(before.version === version ? {} : { tree: saved.tree }), looseEnds };
    },
    { writes: 'nothing' },
  );
}

export const ServingSchema = z.strictObject({
  serves: z.array(TargetSchema).max(50),
  except: z.array(TargetSchema).max(50).default([]),
  version: z.number().int(),
});

/** Changes what a template serves, and nothing else of it. With a stale `version` nothing is written. */
export async function saveServing(id: string, input: z.output<typeof ServingSchema>): Promise<Template> {
  const { serves, except, version } = input;
  const template = await readTemplate(id);
  const saved = await saveTemplate(id, { ...template, version, serves, ...withExcept(except) });
  return saved.template;
}

const withExcept = (except: Target[]): Pick<Template, 'except'> => ({ except: except.length ? except : undefined });

export const AssignedSchema = z.strictObject({
  typeId: z.string(),
  ids: z.array(z.number().int().positive()).min(1, { error: 'No record is chosen.' }).max(5000),
});

/**
 * Has records of a type be answered by a template, as chosen records; other templates that had them chosen let go of
 * them. Gives how many other templates this changed.
 */
export async function assignRecords(
  id: string,
  input: z.output<typeof AssignedSchema>,
): Promise<{ template: Template; others: number }> {
  const { typeId, ids } = input;
  const templates = await readTemplates();
  const own = templates.find((one) => one.id === id);
  if (!own) throw notFound('template with this id');
  if (own.purpose !== 'record')
    throw new Refusal(422, `“${own.name}” shows no record.`, [problem('', 'Choose a template for record pages.')]);
  const gone = new Set(ids);
  const chosen = (serves: Target[], change: (ids: number[]) => number[]): Target[] =>
    serves.flatMap((target) => {
      if (target.on !== 'records' || target.typeId !== typeId) return [target];
      const left = change(target.ids);
      return left.length ? [{ ...target, ids: left }] : [];
    });
  let others = 0;
  for (const other of templates) {
    if (other.id === id || other.purpose !== 'record') continue;
    const serves = chosen(other.serves, (list) => list.filter((one) => !gone.has(one)));
    if (JSON.stringify(serves) === JSON.stringify(other.serves) || !serves.length) continue;
    await saveServing(other.id, { serves, except: other.except ?? [], version: other.version });
    others++;
  }
  const has = own.serves.some((target) => target.on === 'records' && target.typeId === typeId);
  const serves = has
    ? chosen(own.serves, (list) => [...new Set([...list, ...ids])])
    : [...own.serves, { on: 'records' as const, typeId, ids }];
  const template = await saveServing(id, { serves, except: own.except ?? [], version: own.version });
  return { template, others };
}

export const OrderSchema = z.strictObject({ ids: z.array(z.string().max(60)).max(2000) });

/** Puts templates into an order: those named first, as they are named. It decides where they are equally near. */
export async function orderTemplates(input: z.output<typeof OrderSchema>): Promise<void> {
  await inTransaction(async (transaction) => {
    const known = (await readTemplates(transaction)).map(({ id }) => id);
    const named = input.ids.filter((id) => known.includes(id));
    const order = [...named, ...known.filter((id) => !named.includes(id))];
    await putInOrder(order, transaction);
  });
}

export async function deleteTemplate(id: string): Promise<void> {
  const existing = await templateRow(id);
  if (!existing) throw notFound('template with this id');
  const users = existing.purpose === 'part' ? await usersOf(id) : [];
  if (users.length)
    throw new Refusal(
      409,
      `This part stands in ${users.map((one) => `“${one.name}”`).join(', ')}. Take it out there first.`,
    );
  await inTransaction(async (transaction) => {
    const removal = await beginRemoval(`template “${existing.name}”`, transaction);
    // What it was before goes with it, and comes back with it.
    await sweep(
      removal,
      [
        { table: 'template_versions', column: 'template_id', values: [id] },
        { table: 'templates', column: 'id', values: [id] },
      ],
      transaction,
    );
  });
}

/** The templates that a part stands in. */
async function usersOf(partId: string): Promise<Template[]> {
  return (await readTemplates()).filter(({ tree }) =>
    Object.values(tree.elements).some(({ kind, props }) => kind === 'part' && props.part === partId),
  );
}

/**
 * Whether a misfit was there when the template was last saved: its field has become another kind since. It stays a
 * loose end, and nothing else of the designer's work waits for it.
 */
function stoodBefore(before: unknown, now: Tree, { elementId, via }: LooseEnd): boolean {
  const slotOf = (tree: unknown) => {
    const element = (tree as Partial<Tree> | null)?.elements?.[elementId];
    return JSON.stringify(via === 'about' ? element?.props : element?.slots?.[via]);
  };
  return slotOf(before) !== undefined && slotOf(before) === slotOf(now);
}

function refuseMisfits(misfits: LooseEnd[]): void {
  if (misfits.length)
    throw new Refusal(
      422,
      'A value does not fit where it was put.',
      misfits.map((end) => problem(`tree.elements.${end.elementId}.slots.${end.via}`, end.what, end.fix)),
    );
}

/**
 * Parses a template, and finds the values in slots that do not take them. A binding whose field is gone is told as a
 * loose end only, since nothing of the designer's work may be lost by it.
 */
async function check(
  input: unknown,
  transaction?: Transaction,
): Promise<{
  template: Template;
  looseEnds: LooseEnd[];
  misfits: LooseEnd[];
  /** What is wrong with its targets. */
  wrong: Problem[];
}> {
  const parsed = parseTemplate(input);
  if (!parsed.ok) throw new Refusal(422, 'The template cannot be read.', parsed.problems);
  const template = parsed.value;
  const model = await readModel(transaction);
  if (!template.serves.length && (template.purpose === 'record' || template.purpose === 'archive'))
    throw new Refusal(422, 'The template serves nothing.', [problem('serves', 'A template says what it is for.')]);
  const wrong = [
    ...targetProblems(template.serves, template.purpose, model, 'serves'),
    ...targetProblems(template.except ?? [], template.purpose, model, 'except'),
  ];
  const others = (await readParts(transaction)).filter((part) => part.id !== template.id);
  const parts = partsAmong([...others, template]);
  const { looseEnds } = compileTree(template.tree, scopesOf(template, model), model, { parts, id: template.id });
  const misfits = looseEnds.filter((end) =>
    /^((words\.\d+\.\d+\.)?(fallbacks\.\d+\.)?(take|path)|cycle)$/.test(end.at),
  );
  return { template, looseEnds, misfits, wrong };
}
