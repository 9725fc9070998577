import type { Template } from '../templates/template';

/** What of a template decides whether it answers. */
type Serving = Pick<Template, 'id' | 'purpose' | 'serves' | 'order'>;

export interface Candidate<T extends Serving> {
  template: T;
  /** Why it stands where it does, in words. */
  reason: string;
}

/**
 * The ordered list of templates that could answer a page of this content type: the first one does. Within a level the
 * designer's order decides; `tied` says that only the order decided.
 */
export function contest<T extends Serving>(
  templates: readonly T[],
  purpose: Template['purpose'],
  typeId: string,
): { candidates: Candidate<T>[]; tied: boolean } {
  const candidates = templates
    .filter((template) => template.purpose === purpose && template.serves.some((target) => target.typeId === typeId))
    .sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1))
    .map((template, i) => ({
      template,
      reason: i === 0 ? 'Serves this content type.' : 'Serves this content type too, but stands later in the order.',
    }));
  return { candidates, tied: candidates.length > 1 };
}
