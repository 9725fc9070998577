import type { Template } from '../schema/template';
import type { ModelIndex } from '../model/model-index';

/** The content types whose records a template may meet. */
export function typesServed(template: Pick<Template, 'serves'>, model: ModelIndex): string[] {
  const all = () => model.types.map(({ id }) => id);
  const filedUnder = (taxonomyId: string | undefined) =>
    model.types.filter((type) => type.taxonomyIds.includes(taxonomyId ?? '')).map(({ id }) => id);
  return [
    ...new Set(
      template.serves.flatMap((target) => {
        if ('typeId' in target && target.typeId) return [target.typeId];
        if (target.on === 'taxonomy') return filedUnder(target.taxonomyId);
        if (target.on === 'term') return filedUnder(model.term(target.termId)?.taxonomyId);
        return target.on === 'everything' || target.on === 'author' ? all() : [];
      }),
    ),
  ];
}

/** The content type that a template is designed for: the first it serves. */
export const typeOf = (template: Pick<Template, 'serves'>, model: ModelIndex): string | undefined =>
  typesServed(template, model)[0];
