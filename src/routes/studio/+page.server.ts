import { looseEndsOf } from '$lib/core/checks/loose-ends';
import { contest } from '$lib/core/serving/contest';
import { typeOf } from '$lib/core/templates/template';
import { recordCounts } from '$lib/server/services/lists';
import { readModel } from '$lib/server/services/model';
import { partsAmong, readTemplates } from '$lib/server/services/templates';
import { readTheme } from '$lib/server/services/theme';
import type { PageServerLoad } from './$types';

export const load: PageServerLoad = async () => {
  const [model, templates, counts, { theme }] = await Promise.all([
    readModel(),
    readTemplates(),
    recordCounts(),
    readTheme(),
  ]);
  const finder = partsAmong(templates);
  const looseEnds = templates.flatMap((template) =>
    looseEndsOf(template, model, finder, theme).map((end) => ({
      templateId: template.id,
      templateName: template.name,
      what: end.what,
    })),
  );
  for (const type of model.types)
    for (const purpose of ['record', 'archive'] as const) {
      const { candidates, tied } = contest(templates, purpose, type.id);
      const [first, second] = candidates;
      if (tied && first && second)
        looseEnds.push({
          templateId: second.template.id,
          templateName: second.template.name,
          what: `Only their order decides that ${first.template.name} answers for ${type.plural.toLowerCase()}, and not`,
        });
    }
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
    .filter(
      (template) =>
        (template.purpose === 'record' || template.purpose === 'archive') && !model.type(typeOf(template) ?? ''),
    )
    .map(({ id, name }) => ({ id, name }));
  const parts = templates
    .filter((template) => template.purpose === 'part')
    .map((part) => ({
      id: part.id,
      name: part.name,
      shows: model.type(typeOf(part) ?? '')?.name,
      usedIn: templates
        .filter(({ tree }) =>
          Object.values(tree.elements).some(({ kind, props }) => kind === 'part' && props.part === part.id),
        )
        .map((template) => template.name),
    }));
  const frames = templates.filter((one) => one.purpose === 'frame').map(({ id, name }) => ({ id, name }));
  return { site: model.site, types, looseEnds, orphans, parts, frames };
};
