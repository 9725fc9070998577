import { newId } from '../../core/ids';
import { compileTree, scopesOf, type LooseEnd, type PartFinder } from '../../core/render/compile';
import type { ModelIndex } from '../../core/model/model';
import { problem, type Problem } from '../../core/result';
import { scopeOfTarget } from '../../core/serving/archives';
import { blankTree } from '../../core/templates/build';
import { archiveTree, frameTree, recordTree } from '../../core/templates/start';
import {
  parseTemplate,
  TemplateSchema,
  type Purpose,
  type Target,
  type Template,
  type Tree,
} from '../../core/templates/template';
import { fromJson, inTransaction, run } from '../database/connect';
import { plain, table } from '../database/tables';
import { notFound, Refusal } from '../refusal';
import { readModel } from './model';
import { noteVersion } from './versions';

const TemplateHeadSchema = TemplateSchema.omit({ tree: true });

const toTemplate = (row: Template): Template =>
  TemplateSchema.parse({ ...row, serves: fromJson(row.serves), tree: fromJson(row.tree) });

/** A template without its tree: what says which one answers an address. */
export type TemplateHead = Omit<Template, 'tree'>;

export async function readTemplateHeads(): Promise<TemplateHead[]> {
  const rows = await table('templates').findAll({
    attributes: { exclude: ['tree'] },
    order: [
      ['order', 'ASC'],
      ['id', 'ASC'],
    ],
  });
  return plain<TemplateHead>(rows).map((row) => TemplateHeadSchema.parse({ ...row, serves: fromJson(row.serves) }));
}

/** All templates in the designer's order. */
export async function readTemplates(): Promise<Template[]> {
  return plain<Template>(
    await table('templates').findAll({
      order: [
        ['order', 'ASC'],
        ['id', 'ASC'],
      ],
    }),
  ).map(toTemplate);
}

export async function readTemplate(id: string): Promise<Template> {
  const row = await table('templates').findByPk(id);
  if (!row) throw notFound('template with this id');
  return toTemplate(row.get({ plain: true }));
}

/** Finds a part by its id among templates. */
export const partsAmong = (templates: readonly Template[]): PartFinder => {
  const parts = new Map(templates.filter((one) => one.purpose === 'part').map((one) => [one.id, one]));
  return (id) => parts.get(id);
};

export const readParts = async (): Promise<Template[]> =>
  plain<Template>(await table('templates').findAll({ where: { purpose: 'part' }, order: [['order', 'ASC']] })).map(
    toTemplate,
  );

/** What is wrong with a target, or undefined. */
function wrongTarget(target: Target, model: ModelIndex): Problem | undefined {
  if ('typeId' in target && !model.type(target.typeId))
    return problem('serves', 'There is no content type with this id.');
  if ('taxonomyId' in target && !model.taxonomy(target.taxonomyId))
    return problem('serves', 'There is no taxonomy with this id.');
  return undefined;
}

/**
 * Creates a template for one content type or for the archives that `serves` names, or a part or frame that need none: with the given tree, with one that a
 * designer would keep (`ready`), or blank.
 */
export async function createTemplate(input: {
  name: string;
  purpose: Purpose;
  typeId?: string;
  serves?: Target[];
  id?: string;
  tree?: unknown;
  ready?: boolean;
}): Promise<Template> {
  const model = await readModel();
  const type = input.typeId ? model.type(input.typeId) : undefined;
  const serves: Target[] = input.serves ?? (type ? [{ on: 'type', typeId: type.id }] : []);
  const wrong = serves.flatMap((target) => wrongTarget(target, model) ?? []);
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
    return type ? recordTree(type, model) : blankTree();
  };
  const template = {
    id: input.id ?? newId('tpl'),
    name: input.name,
    purpose: input.purpose,
    serves: input.purpose === 'frame' ? [] : serves,
    order: await table('templates').count(),
    tree: input.tree ?? start(),
    version: 1,
  };
  const checked = await check(template);
  refuseMisfits(checked.misfits);
  await table('templates').create(checked.template);
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
  const { template, looseEnds, misfits } = await check(input);
  if (template.id !== id) throw new Refusal(422, 'The template has another id than its address.');
  return inTransaction(async (transaction) => {
    const row = await table('templates').findByPk(id, { transaction, lock: transaction.LOCK.UPDATE });
    if (!row) throw notFound('template with this id');
    const kept = row.get('version') as number;
    if (kept !== template.version)
      throw new Refusal(
        409,
        'This template has been changed elsewhere since it was opened here. Nothing was overwritten.',
        [],
        { version: kept },
      );
    const before: unknown = fromJson(row.get('tree'));
    refuseMisfits(misfits.filter((end) => !stoodBefore(before, template.tree, end)));
    const saved = { ...template, version: kept + 1 };
    await row.update(saved, { transaction });
    if (JSON.stringify(before) !== JSON.stringify(saved.tree))
      await noteVersion(
        id,
        { version: saved.version, tree: saved.tree, edits, sitting },
        { version: kept, tree: before },
        transaction,
      );
    return { template: saved, looseEnds };
  });
}

export async function deleteTemplate(id: string): Promise<void> {
  const existing = await table('templates').findByPk(id);
  if (!existing) throw notFound('template with this id');
  const users = existing.get('purpose') === 'part' ? await usersOf(id) : [];
  if (users.length)
    throw new Refusal(
      409,
      `This part stands in ${users.map((one) => `“${one.name}”`).join(', ')}. Take it out there first.`,
    );
  await run('DELETE FROM templates WHERE id = ?', [id]);
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
async function check(input: unknown): Promise<{ template: Template; looseEnds: LooseEnd[]; misfits: LooseEnd[] }> {
  const parsed = parseTemplate(input);
  if (!parsed.ok) throw new Refusal(422, 'The template cannot be read.', parsed.problems);
  const template = parsed.value;
  const model = await readModel();
  if (!template.serves.length && (template.purpose === 'record' || template.purpose === 'archive'))
    throw new Refusal(422, 'The template serves nothing.', [problem('serves', 'A template says what it is for.')]);
  const others = (await readParts()).filter((part) => part.id !== template.id);
  const parts = partsAmong([...others, template]);
  const { looseEnds } = compileTree(template.tree, scopesOf(template, model), model, { parts, id: template.id });
  const misfits = looseEnds.filter((end) =>
    /^((words\.\d+\.\d+\.)?(fallbacks\.\d+\.)?(take|path)|cycle)$/.test(end.at),
  );
  return { template, looseEnds, misfits };
}
