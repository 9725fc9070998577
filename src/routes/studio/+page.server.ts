import { atLeast } from '$lib/core/people/roles';
import { readProposals } from '$lib/server/services/sharing';
import { placeOfEnd } from '$lib/core/checks/places';
import { nameOf as nameOfElement } from '$lib/core/templates/names';
import { looseEndsOf } from '$lib/core/checks/loose-ends';
import { patternOf } from '$lib/core/addresses/patterns';
import { targetWords } from '$lib/core/serving/targets';
import { typeOf, typesServed } from '$lib/core/templates/served';
import { recordCounts } from '$lib/server/services/lists';
import { plainOf, readModel } from '$lib/server/services/model';
import { pendingChanges } from '$lib/server/services/releases';
import { partsAmong, readTemplates } from '$lib/server/services/templates';
import { readTheme } from '$lib/server/services/theme';
import { siteDesign } from '$lib/server/site/design';
import { deferred } from '$lib/server/base/deferred';
import { siteAssignments, templateAssignments, tiedTemplates, unserved } from '$lib/server/site/assignments';
import type { PageServerLoad } from './$types';

interface LooseEnd {
  templateId: string;
  templateName: string;
  what: string;
  at?: { name: string; words: string; href: string };
}

/** What every page of the site has to be looked at for: what each template answers, by its id, and what is wrong with that. */
async function lookAtPages() {
  const site = await siteAssignments(await siteDesign('draft'));
  const assignments = templateAssignments(site);
  const nameOf = new Map(assignments.map(({ id, name }) => [id, name]));
  const looseEnds: LooseEnd[] = [
    ...Array.from(tiedTemplates(site), (id) => ({
      templateId: id,
      templateName: nameOf.get(id) ?? '',
      what: 'Only the order of templates decides that another one does not answer, and that this one does:',
    })),
    ...assignments.flatMap(({ id, name, unreachable }) =>
      unreachable ? [{ templateId: id, templateName: name, what: 'No page is answered by' }] : [],
    ),
  ];
  const answers = assignments.map(({ id, pages, answers }) => [id, pages ? answers : 'never answers'] as const);
  return { looseEnds, answers: Object.fromEntries(answers), unserved: unserved(site) };
}

export const load: PageServerLoad = async ({ locals: { who } }) => {
  const pageReport = deferred(lookAtPages());
  // Told when it is waited for.
  pageReport.catch(() => undefined);
  const [model, templates, counts, { theme }, pending] = await Promise.all([
    readModel(),
    readTemplates(),
    recordCounts(),
    readTheme(),
    pendingChanges(),
  ]);
  const finder = partsAmong(templates);
  const looseEnds: LooseEnd[] = templates.flatMap((template) =>
    looseEndsOf(template, model, finder, theme).map((end) => {
      const element = template.tree.elements[end.elementId];
      const place = element && placeOfEnd(end, element);
      return {
        templateId: template.id,
        templateName: template.name,
        what: end.what,
        ...(element &&
          place && {
            at: {
              name: nameOfElement(element, model),
              words: place.words,
              href: `/studio/workbench/${template.id}?${new URLSearchParams({ element: element.id, open: place.tab })}`,
            },
          }),
      };
    }),
  );
  const types = model.types.map((type) => {
    const serving = (purpose: 'record' | 'archive') =>
      templates
        .filter((template) => template.purpose === purpose)
        .flatMap((template) => {
          const target =
            purpose === 'record'
              ? template.serves.find((one) => typesServed({ serves: [one] }, model).includes(type.id))
              : template.serves.find((one) => one.on === 'everything' || ('typeId' in one && one.typeId === type.id));
          if (!target) return [];
          const { id, name } = template;
          return [{ id, name, ...(target.on !== 'type' && { words: targetWords(target, model, purpose) }) }];
        });
    return {
      id: type.id,
      name: type.name,
      plural: type.plural,
      base: type.base,
      pattern: patternOf(type),
      ...(counts[type.id] ?? { published: 0, drafts: 0 }),
      record: serving('record'),
      archive: serving('archive'),
    };
  });
  const parts = templates
    .filter((template) => template.purpose === 'part')
    .map((part) => ({
      id: part.id,
      name: part.name,
      shows: model.type(typeOf(part, model) ?? '')?.name,
      usedIn: templates
        .filter(({ tree }) =>
          Object.values(tree.elements).some(({ kind, props }) => kind === 'part' && props.part === part.id),
        )
        .map((template) => template.name),
    }));
  // What belongs to no one content type.
  const others = templates
    .filter(
      ({ purpose, serves }) =>
        purpose === 'archive' &&
        !serves.some((target) => target.on === 'everything' || ('typeId' in target && target.typeId)),
    )
    .map(({ id, name, serves }) => ({
      id,
      name,
      words: serves.map((target) => targetWords(target, model, 'archive')).join(', '),
    }));
  const frames = templates
    .filter(({ purpose }) => purpose === 'frame')
    .map(({ id, name, serves }) => ({
      id,
      name,
      words: serves.length ? serves.map((target) => targetWords(target, model, 'frame')).join(', ') : 'every page',
    }));
  return {
    model: plainOf(model),
    site: model.site,
    types,
    looseEnds,
    parts,
    frames,
    others,
    targets: templates.map(({ purpose, name, serves }) => ({ purpose, name, serves })),
    pending: { changes: pending.changes.length, shown: pending.shown },
    pageReport: await pageReport,
    proposals: who && atLeast(who.role, 'editor') ? await readProposals() : [],
  };
};
