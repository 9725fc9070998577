import { countSamples } from '../queries/records';
import { countsByStatus } from '../queries/counts';
import type { Path } from '../../core/schema/path';
import { pathsOf } from '../../core/rules/walk';
import { usesOf } from '../../core/templates/tree';
import { notFound } from '../base/refusal';
import { relationOf } from '../../core/model/field';
import { otherSide } from './links';
import { readModel } from './model';
import { filledFields } from './there';
import { readTemplates } from './templates';

export interface TypeUse {
  /** What uses it, in words, and where that is in the studio. */
  what: string;
  href?: string;
}

/** Everything that uses a field: templates, the other side of a relation, and how many records have a value. */
export async function usesOfField(typeId: string, fieldId: string): Promise<{ uses: TypeUse[]; values: number }> {
  const model = await readModel();
  const field = model.type(typeId)?.fields.find((f) => f.id === fieldId);
  if (!field) throw notFound('field with this id');
  const uses = await usesInTemplates(new Set([fieldId]));
  const other = relationOf(field) && otherSide(model, field);
  if (other) {
    const type = model.field(other.id)?.type;
    uses.push({
      what: `“${other.label}” of ${type?.name}, the other side of this relation, stays with its links`,
      href: `/studio/content/${type?.id}/fields`,
    });
  }
  return { uses, values: (await fillRates(typeId)).fields[fieldId] ?? 0 };
}

async function usesInTemplates(fieldIds: ReadonlySet<string>): Promise<TypeUse[]> {
  const reads = (path: Path) => path.steps.some((step) => fieldIds.has(step));
  const rules = (await readModel()).rules.filter(({ rule }) => pathsOf(rule).some(reads));
  const named = rules.map(({ name }) => ({ what: `Rule “${name}”`, href: '/studio/rules' }));
  const templates = (await readTemplates()).flatMap((template) => {
    const used = usesOf(template.tree).filter((use) => reads(use.path));
    return used.length
      ? [
          {
            what: `Template “${template.name}”, in ${used.length} ${used.length === 1 ? 'place' : 'places'}`,
            href: `/studio/workbench/${template.id}`,
          },
        ]
      : [];
  });
  return [...templates, ...named];
}

/** Everything that goes or breaks with a content type. */
export async function usesOfType(typeId: string): Promise<{ uses: TypeUse[]; records: number }> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const uses = await usesInTemplates(new Set(type.fields.map((field) => field.id)));
  for (const template of await readTemplates())
    if (
      template.serves.some((target) => 'typeId' in target && target.typeId === typeId) &&
      !uses.some((use) => use.href?.endsWith(`/${template.id}`))
    )
      uses.push({ what: `Template “${template.name}” serves it`, href: `/studio/workbench/${template.id}` });
  for (const other of model.types)
    for (const field of other.fields)
      if (other.id !== typeId && relationOf(field)?.typeIds.includes(typeId))
        uses.push({
          what: `“${field.label}” of ${other.name} leads to it`,
          href: `/studio/content/${other.id}/fields`,
        });
  return { uses, records: (await countsOf(typeId)).total };
}

export async function countsOf(
  typeId: string,
): Promise<{ total: number; published: number; drafts: number; generated: number }> {
  const [counts, generated] = await Promise.all([countsByStatus(), countSamples(typeId)]);
  const of = (status: string) => counts.find((one) => one.typeId === typeId && one.status === status)?.n ?? 0;
  const [published, drafts] = [of('published'), of('draft')];
  return { total: published + drafts, published, drafts, generated };
}

/** How many of a type's records have a value, field by field. */
export async function fillRates(typeId: string): Promise<{ total: number; fields: Record<string, number> }> {
  const model = await readModel();
  const type = model.type(typeId);
  if (!type) throw notFound('content type with this id');
  const [fields, { total }] = await Promise.all([filledFields(model, typeId), countsOf(typeId)]);
  return { total, fields: Object.fromEntries(fields) };
}
