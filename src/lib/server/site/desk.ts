import { patternOf } from '../../core/addresses/patterns';
import { looseEndsOf } from '../../core/checks/loose-ends';
import { placeOfEnd } from '../../core/checks/places';
import type { ModelIndex } from '../../core/model/model-index';
import type { ContentType } from '../../core/schema/model';
import type { Template } from '../../core/schema/template';
import type { Theme } from '../../core/schema/theme';
import { targetWords } from '../../core/serving/targets';
import { nameOf as nameOfElement } from '../../core/templates/names';
import { typeOf, typesServed } from '../../core/templates/served';
import { deferred } from '../base/deferred';
import { recordCounts } from '../services/lists';
import { plainOf, readModel } from '../services/model';
import { pendingChanges } from '../services/releases';
import { partsAmong, readTemplates } from '../services/templates';
import { readTheme } from '../services/theme';
import { siteAssignments, templateAssignments, tiedTemplates, unserved } from './assignments';
import { siteDesign } from './design';

/** Something that a template lacks, with the place in it where that is mended. */
interface LooseEnd {
  templateId: string;
  templateName: string;
  what: string;
  at?: { name: string; words: string; href: string };
}

/** A template by its name, with words for what it answers. */
interface TemplateEntry {
  id: string;
  name: string;
  words?: string;
}

/** What the desk shows: content types with their templates, parts, frames, and what is loose or waits for a release. Costs the assignments of all pages. */
export async function readDesk() {
  const pageReport = deferred(reportPages());
  // A failure is met where it is waited for.
  pageReport.catch(() => undefined);
  const [model, templates, counts, { theme }, pending] = await Promise.all([
    readModel(),
    readTemplates(),
    recordCounts(),
    readTheme(),
    pendingChanges(),
  ]);
  return {
    model: plainOf(model),
    site: model.site,
    types: model.types.map((type) => ({
      id: type.id,
      name: type.name,
      plural: type.plural,
      base: type.base,
      pattern: patternOf(type),
      ...(counts[type.id] ?? { published: 0, drafts: 0 }),
      record: templatesFor(type, 'record', templates, model),
      archive: templatesFor(type, 'archive', templates, model),
    })),
    looseEnds: looseEndsIn(templates, model, theme),
    parts: partEntries(templates, model),
    frames: templates.filter(({ purpose }) => purpose === 'frame').map((frame) => frameEntry(frame, model)),
    others: templates.filter(ofNoType).map((template) => ({
      id: template.id,
      name: template.name,
      words: template.serves.map((target) => targetWords(target, model, 'archive')).join(', '),
    })),
    targets: templates.map(({ purpose, name, serves }) => ({ purpose, name, serves })),
    pending: { changes: pending.changes.length, shown: pending.shown },
    pageReport: await pageReport,
  };
}

/** What every page of the site has to be looked at for: what each template answers, by its id, and what is wrong with that. */
async function reportPages() {
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

function looseEndsIn(templates: readonly Template[], model: ModelIndex, theme: Theme): LooseEnd[] {
  const finder = partsAmong(templates);
  return templates.flatMap((template) =>
    looseEndsOf(template, model, finder, theme).map((end) => {
      const own = { templateId: template.id, templateName: template.name, what: end.what };
      const element = template.tree.elements[end.elementId];
      const place = element && placeOfEnd(end, element);
      if (!element || !place) return own;
      const query = new URLSearchParams({ element: element.id, open: place.tab });
      const href = `/studio/workbench/${template.id}?${query}`;
      return { ...own, at: { name: nameOfElement(element, model), words: place.words, href } };
    }),
  );
}

/** The templates that answer records or archives of a type, with words where they answer others or only some. */
function templatesFor(
  type: ContentType,
  purpose: 'record' | 'archive',
  templates: readonly Template[],
  model: ModelIndex,
): TemplateEntry[] {
  return templates
    .filter((template) => template.purpose === purpose)
    .flatMap(({ id, name, serves }) => {
      const target =
        purpose === 'record'
          ? serves.find((one) => typesServed({ serves: [one] }, model).includes(type.id))
          : serves.find((one) => one.on === 'everything' || ('typeId' in one && one.typeId === type.id));
      if (!target) return [];
      return [{ id, name, ...(target.on !== 'type' && { words: targetWords(target, model, purpose) }) }];
    });
}

/** Parts with what they show and the templates that place them. */
function partEntries(templates: readonly Template[], model: ModelIndex) {
  const places = (part: Template, { tree }: Template) =>
    Object.values(tree.elements).some(({ kind, props }) => kind === 'part' && props.part === part.id);
  return templates
    .filter(({ purpose }) => purpose === 'part')
    .map((part) => ({
      id: part.id,
      name: part.name,
      shows: model.type(typeOf(part, model) ?? '')?.name,
      usedIn: templates.filter((template) => places(part, template)).map(({ name }) => name),
    }));
}

const frameEntry = ({ id, name, serves }: Template, model: ModelIndex) => ({
  id,
  name,
  words: serves.length ? serves.map((target) => targetWords(target, model, 'frame')).join(', ') : 'every page',
});

/** An archive template that belongs to no one content type. */
const ofNoType = ({ purpose, serves }: Template): boolean =>
  purpose === 'archive' &&
  !serves.some((target) => target.on === 'everything' || ('typeId' in target && target.typeId));
