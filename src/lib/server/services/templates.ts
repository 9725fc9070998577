import { newId } from '../../core/ids';
import { compileTree, scopesOf, type LooseEnd } from '../../core/render/compile';
import { problem } from '../../core/result';
import { blankTree } from '../../core/templates/build';
import { parseTemplate, TemplateSchema, typeOf, type Template } from '../../core/templates/template';
import { fromJson, inTransaction, run } from '../database/connect';
import { plain, table } from '../database/tables';
import { notFound, Refusal } from '../refusal';
import { readModel } from './model';

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

/** Creates a blank template for one content type, or one with the given tree. */
export async function createTemplate(input: {
  name: string;
  purpose: Template['purpose'];
  typeId: string;
  id?: string;
  tree?: unknown;
}): Promise<Template> {
  const model = await readModel();
  if (!model.type(input.typeId))
    throw new Refusal(422, 'The template cannot be made.', [
      problem('typeId', 'There is no content type with this id.'),
    ]);
  const template = {
    id: input.id ?? newId('tpl'),
    name: input.name,
    purpose: input.purpose,
    serves: [{ on: 'type', typeId: input.typeId }],
    order: await table('templates').count(),
    tree: input.tree ?? blankTree(),
    version: 1,
  };
  const checked = await check(template);
  await table('templates').create(checked.template);
  return checked.template;
}

/** Puts a template in the place of what is kept under its id. With a stale `version` nothing is written. */
export async function saveTemplate(id: string, input: unknown): Promise<{ template: Template; looseEnds: LooseEnd[] }> {
  const { template, looseEnds } = await check(input);
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
    const saved = { ...template, version: kept + 1 };
    await row.update(saved, { transaction });
    return { template: saved, looseEnds };
  });
}

export async function deleteTemplate(id: string): Promise<void> {
  const existing = await table('templates').findByPk(id);
  if (!existing) throw notFound('template with this id');
  await run('DELETE FROM templates WHERE id = ?', [id]);
}

/**
 * Parses a template. A value in a slot that does not take it is refused; a binding whose field is gone is kept, and told
 * as a loose end, since nothing of the designer's work may be lost by it.
 */
async function check(input: unknown): Promise<{ template: Template; looseEnds: LooseEnd[] }> {
  const parsed = parseTemplate(input);
  if (!parsed.ok) throw new Refusal(422, 'The template cannot be read.', parsed.problems);
  const template = parsed.value;
  const model = await readModel();
  if (!typeOf(template))
    throw new Refusal(422, 'The template serves nothing.', [problem('serves', 'A template says what it is for.')]);
  const { looseEnds } = compileTree(template.tree, scopesOf(template), model);
  const misfits = looseEnds.filter((end) => /^(fallbacks\.\d+\.)?(take|path)$/.test(end.at));
  if (misfits.length)
    throw new Refusal(
      422,
      'A value does not fit where it was put.',
      misfits.map((end) => problem(`tree.elements.${end.elementId}.slots.${end.via}`, end.what, end.fix)),
    );
  return { template, looseEnds };
}
