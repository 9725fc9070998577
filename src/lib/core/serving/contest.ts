import type { Target, Template } from '../templates/template';
import type { ArchiveOf } from './archives';
import type { ModelIndex } from '../model/model';

/** What of a template decides whether it answers. */
type Serving = Pick<Template, 'id' | 'purpose' | 'serves' | 'order'>;

export interface Candidate<T extends Serving> {
  template: T;
  /** Why it stands where it does, in words. */
  reason: string;
}

const WORDS: Record<Target['on'], string> = {
  type: 'this content type',
  dates: 'the years and months of this content type',
  taxonomy: 'the terms of this taxonomy',
  authors: 'the authors',
  search: 'the search',
};

/** What a template may serve to answer an archive, the nearest first. */
export function targetsOf(of: ArchiveOf, model: ModelIndex): Target[] {
  switch (of.of) {
    case 'type':
      return [{ on: 'type', typeId: of.typeId }];
    case 'date':
      return [
        { on: 'dates', typeId: of.typeId },
        { on: 'type', typeId: of.typeId },
      ];
    case 'term':
      return [{ on: 'taxonomy', taxonomyId: model.term(of.termId)?.taxonomyId ?? '' }];
    case 'author':
      return [{ on: 'authors' }];
    case 'search':
      return [{ on: 'search' }];
  }
}

const same = (a: Target, b: Target): boolean =>
  a.on === b.on &&
  ('typeId' in a ? 'typeId' in b && a.typeId === b.typeId : true) &&
  ('taxonomyId' in a ? 'taxonomyId' in b && a.taxonomyId === b.taxonomyId : true);

/**
 * The ordered list of templates that could answer an address whose targets these are, the nearest first: the first one
 * does. Within a level the designer's order decides; `tied` says that only the order decided.
 */
export function contest<T extends Serving>(
  templates: readonly T[],
  purpose: Template['purpose'],
  targets: readonly Target[],
): { candidates: Candidate<T>[]; tied: boolean } {
  const levelOf = (template: T) => targets.findIndex((target) => template.serves.some((own) => same(own, target)));
  const found = templates
    .filter((template) => template.purpose === purpose)
    .map((template) => ({ template, level: levelOf(template) }))
    .filter(({ level }) => level >= 0)
    .sort(
      (a, b) => a.level - b.level || a.template.order - b.template.order || (a.template.id < b.template.id ? -1 : 1),
    );
  const [first, second] = found;
  const candidates = found.map(({ template, level }, i) => {
    const what = WORDS[(targets[level] as Target).on];
    if (i === 0) return { template, reason: `Serves ${what}.` };
    return {
      template,
      reason:
        level === first?.level
          ? `Serves ${what} too, but stands later in the order.`
          : `Serves ${what}, which is less near.`,
    };
  });
  return { candidates, tied: second !== undefined && second.level === first?.level };
}
