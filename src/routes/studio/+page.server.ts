import { compileTree, scopesOf } from '$lib/core/render/compile';
import { contest } from '$lib/core/serving/contest';
import { typeOf } from '$lib/core/templates/template';
import { recordCounts } from '$lib/server/services/lists';
import { readModel } from '$lib/server/services/model';
import { readTemplates } from '$lib/server/services/templates';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [model, templates, counts] = await Promise.all([readModel(), readTemplates(), recordCounts()]);
  const looseEnds = templates.flatMap((template) =>
    compileTree(template.tree, scopesOf(template), model).looseEnds.map((end) => ({
      templateId: template.id,
      templateName: template.name,
      what: end.what,
    })),
  );
  const types = model.types.map((type) => {
    const count = counts[type.id] ?? { published: 0, drafts: 0 };
    const serving = (purpose: 'record' | 'archive') =>
      contest(templates, purpose, type.id).candidates.map(({ template }) => ({ id: template.id, name: template.name }));
    return {
      id: type.id,
      name: type.name,
      plural: type.plural,
      base: type.base,
      ...count,
      record: serving('record'),
      archive: serving('archive'),
    };
  });
  const orphans = templates
    .filter((template) => !model.type(typeOf(template) ?? ''))
    .map(({ id, name }) => ({ id, name }));
  return { site: model.site, types, looseEnds, orphans };
};
