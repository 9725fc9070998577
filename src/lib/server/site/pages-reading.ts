import type { Path } from '../../core/schema/path';
import type { Template } from '../../core/schema/template';
import type { Rule } from '../../core/schema/rule';
import { namesIn, pathsOf } from '../../core/rules/walk';
import { usesOf } from '../../core/templates/tree';
import { siteDesign } from './design';
import { siteAssignments, templateAssignments } from './assignments';

/** A released template that reads something, and how many pages visitors get by it. */
export interface PagesReading {
  template: string;
  pages: number;
}

/** The pages that visitors see now and that are made from a field, by the template that reads it, itself or by a part. */
export async function pagesReading(fieldId: string): Promise<PagesReading[]> {
  const design = await siteDesign('released');
  const { templates } = design;
  const reads = (path: Path) => path.steps.includes(fieldId);
  const asks = (rule: unknown): boolean =>
    Boolean(rule) &&
    (pathsOf(rule as Rule).some(reads) || namesIn(rule as Rule).some((id) => asks(design.model.rule(id)?.rule)));
  const own = ({ tree, serves }: Template) =>
    usesOf(tree).some(({ path }) => reads(path)) ||
    Object.values(tree.elements).some(({ rule, props }) => asks(rule) || asks(props.filter)) ||
    serves.some((target) => 'rule' in target && asks(target.rule));
  const reading = new Set(templates.filter(own).map(({ id }) => id));
  // A part is read wherever it stands, in other parts too.
  for (let before = -1; before !== reading.size;) {
    before = reading.size;
    for (const template of templates) if ([...reading].some((id) => placesPart(template, id))) reading.add(template.id);
  }
  if (!reading.size) return [];
  return templateAssignments(await siteAssignments(design)).flatMap(({ id, name, pages }) =>
    reading.has(id) ? [{ template: name, pages }] : [],
  );
}

const placesPart = ({ tree }: Template, id: string): boolean =>
  Object.values(tree.elements).some(({ kind, props }) => kind === 'part' && props.part === id);
