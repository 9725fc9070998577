import { looseEndsOf } from '$lib/core/checks/loose-ends';
import { contest } from '$lib/core/serving/contest';
import { BY, SEARCH, taxonomyBase } from '$lib/core/serving/archives';
import { typeOf, type Target } from '$lib/core/templates/template';
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
      const { candidates, tied } = contest(templates, purpose, [{ on: 'type', typeId: type.id }]);
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
      contest(templates, purpose, [{ on: 'type', typeId: type.id }]).candidates.map(({ template }) => ({
        id: template.id,
        name: template.name,
      }));
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
      ({ purpose, serves }) =>
        (purpose === 'record' || purpose === 'archive') &&
        !serves.some((target) =>
          'typeId' in target
            ? model.type(target.typeId)
            : 'taxonomyId' in target
              ? model.taxonomy(target.taxonomyId)
              : true,
        ),
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
  // The archives that belong to no one content type.
  const archives = [
    ...model.taxonomies.map(({ id, key, name }) => ({
      what: `Each term of ${name}`,
      address: `/${taxonomyBase(key)}/…/`,
      target: { on: 'taxonomy', taxonomyId: id } as Target,
    })),
    ...model.types.map(({ id, plural, base }) => ({
      what: `${plural} by year and month`,
      address: `/${base}/2026/…`,
      target: { on: 'dates', typeId: id } as Target,
    })),
    { what: 'Each author', address: `/${BY}/…/`, target: { on: 'authors' } as Target },
    { what: 'The search', address: `/${SEARCH}/`, target: { on: 'search' } as Target },
  ].map((one) => ({
    ...one,
    templates: contest(templates, 'archive', [one.target]).candidates.map(({ template: { id, name } }) => ({
      id,
      name,
    })),
  }));
  const frames = templates.filter((one) => one.purpose === 'frame').map(({ id, name }) => ({ id, name }));
  return { site: model.site, types, looseEnds, orphans, parts, frames, archives };
};
