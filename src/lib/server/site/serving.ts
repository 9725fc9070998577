import { recordsAtSlugs } from '../queries/records';
import type { ContentRecord } from '../../core/schema/record';
import { localDay } from '../../core/base/write';
import type { ModelIndex } from '../../core/model/model-index';
import { makeEnv } from '../../core/paths/env';
import type { Explained } from '../../core/rules/explain';
import { addressOf, type Addressable } from '../../core/addresses/addresses';
import { addressOfArchive, titleOfArchive, type ArchiveOf } from '../../core/addresses/archives';
import { contenders, type Contenders, type Level, type PageOf } from '../../core/serving/contest';
import { placeOf } from '../../core/addresses/places';
import { answersWords, servesWords } from '../../core/serving/targets';
import type { Purpose, Template } from '../../core/schema/template';
import { loadRecords } from '../queries/load';
import { batchPool, drawComplete } from '../queries/pool';
import { siteDesign, type SiteDesign, type Which } from './design';
import { addressable, archivesThere, datesThere } from './outlets';
import { contestFor } from './contests';

/** One page of the site with the template that answers it. */
export interface PageRow {
  /** Names the page whatever its address. */
  key: string;
  address: string;
  title: string;
  is: 'record' | 'archive';
  /** Of a record. */
  id?: number;
  typeId?: string;
  /** The one that answers; none for a page that is drawn plainly. */
  template?: string;
  /** Whether only the order of templates decided. */
  tied: boolean;
}

/** Records of a type are asked rules in groups of so many. */
const TOGETHER = 500;
/** A table of the whole site goes no further than this. */
export const MOST_PAGES = 200_000;

type Listed = Addressable & { id: number; title: string };

/** Every page of the site: its records, and its archives with the front page and those by date. */
async function everyPage(model: ModelIndex): Promise<{ records: Listed[]; archives: ArchiveOf[] }> {
  const [records, archives, dates] = await Promise.all([
    addressable(model, MOST_PAGES, 0),
    archivesThere(model),
    datesThere(model),
  ]);
  return { records, archives: [...archives, ...dates, { of: 'search', words: '' }, { of: 'missing' }] };
}

/** What answers each of these pages, in their order. */
async function standings(
  list: Contenders<Template>,
  pages: readonly PageOf[],
  model: ModelIndex,
): Promise<{ template?: Template; tied: boolean }[]> {
  const none = () => {
    throw new Error('No rule is asked here.');
  };
  const out: { template?: Template; tied: boolean }[] = [];
  const asked: { at: number; id: number }[] = [];
  for (const [at, page] of pages.entries())
    if ('record' in page && list.asksRulesOf.has(page.record.typeId)) asked.push({ at, id: page.record.id });
    else out[at] = list.standing(page, none);
  const today = localDay(new Date(), model.site.timeZone);
  for (let i = 0; i < asked.length; i += TOGETHER) {
    const some = asked.slice(i, i + TOGETHER);
    const records = await loadRecords(
      model,
      some.map(({ id }) => id),
      { drafts: true },
    );
    const byId = new Map(records.map((record) => [record.id, record]));
    const batch = batchPool(model, { drafts: false });
    await drawComplete(batch, () => {
      for (const { at, id } of some) {
        const record = byId.get(id);
        if (record)
          out[at] = list.standing({ record }, (one) => makeEnv({ model, pool: batch.pool, today, record: one }));
        else out[at] = { tied: false };
      }
      return '';
    });
  }
  return out;
}

/** The whole site, each address with the template that answers it. */
export const wholeSite = async (design: SiteDesign): Promise<PageRow[]> =>
  answeredBy(await everyPage(design.model), design.templates, design.model);

/** These pages, each with which of these templates answers it. */
async function answeredBy(
  { records, archives }: Awaited<ReturnType<typeof everyPage>>,
  templates: readonly Template[],
  model: ModelIndex,
): Promise<PageRow[]> {
  const list = (purpose: Purpose) => contenders(templates, purpose, model);
  const ofRecords = records.map((record) => ({ record: record as unknown as ContentRecord }));
  const [served, listed] = await Promise.all([
    standings(list('record'), ofRecords, model),
    standings(
      list('archive'),
      archives.map((archive) => ({ archive })),
      model,
    ),
  ]);
  return [
    ...archives.map((of, i): PageRow => ({
      key: JSON.stringify(of),
      address: of.of === 'missing' ? '(no page)' : addressOfArchive(of, model),
      title: of.of === 'front' ? 'Front page' : titleOfArchive(of, model),
      is: 'archive',
      template: listed[i]?.template?.id,
      tied: listed[i]?.tied ?? false,
    })),
    ...records.map((record, i): PageRow => ({
      key: `record ${record.id}`,
      address: addressOf(record, model),
      title: record.title,
      is: 'record',
      id: record.id,
      typeId: record.typeId,
      template: served[i]?.template?.id,
      tied: served[i]?.tied ?? false,
    })),
  ];
}

export interface TemplateStanding {
  id: string;
  name: string;
  purpose: Purpose;
  words: string;
  /** Pages that it answers; of an archive the first one stands for all. */
  pages: number;
  /** How many it answers, in words. */
  answers: string;
  /** It could answer some, and never does. */
  unreachable: boolean;
}

/** What each record and archive template answers of the whole site. */
export function templateStandings(design: SiteDesign, rows: readonly PageRow[]): TemplateStanding[] {
  const counts = new Map<string, number>();
  for (const { template } of rows) if (template) counts.set(template, (counts.get(template) ?? 0) + 1);
  return design.templates
    .filter(({ purpose }) => purpose === 'record' || purpose === 'archive' || purpose === 'frame')
    .map((template) => {
      const pages = counts.get(template.id) ?? 0;
      const { id, name, purpose } = template;
      return {
        id,
        name,
        purpose,
        words: servesWords(template, design.model),
        pages,
        answers: answersWords(template, pages),
        unreachable: purpose !== 'frame' && pages === 0 && rows.length > 0,
      };
    });
}

export interface AddressContest {
  address: string;
  title: string;
  is: 'record' | 'archive' | 'moved' | 'nothing';
  /** Where a redirect leads. */
  to?: string;
  recordId?: number;
  typeId?: string;
  contests: {
    purpose: 'record' | 'archive' | 'frame';
    tied: boolean;
    candidates: { id: string; name: string; level: Level; reason: string; order: number }[];
    others: { id: string; name: string; reason: string; rule?: Explained }[];
  }[];
}

/** The contest for any address of the site, as the draft has it or as visitors see it. */
export async function contestAt(path: string, which: Which = 'draft'): Promise<AddressContest> {
  const design = await siteDesign(which);
  const { model } = design;
  const place = placeOf(path, model);
  if (place.at === 'moved') return { address: path, title: '', is: 'moved', to: place.to, contests: [] };
  let page: PageOf = { archive: { of: 'missing' } };
  let about: Partial<AddressContest> = { title: 'There is no page at this address', is: 'nothing' };
  if (place.at === 'archive') {
    page = { archive: place.of };
    about = { title: place.of.of === 'front' ? 'Front page' : titleOfArchive(place.of, model), is: 'archive' };
  } else if (place.at === 'record') {
    const [row] = await recordsAtSlugs(place.typeId, [place.slug]);
    const [record] = row ? await loadRecords(model, [row.id], { drafts: true }) : [];
    if (record) {
      page = { record };
      about = { title: record.title, is: 'record', recordId: record.id, typeId: record.typeId };
    }
  }
  const purposes = ['record' in page ? 'record' : 'archive', 'frame'] as const;
  const contests = await Promise.all(
    purposes.map(async (purpose) => {
      const { candidates, others, tied } = await contestFor(design, purpose, page);
      return {
        purpose,
        tied,
        candidates: candidates.map(({ template: { id, name, order }, level, reason }) => ({
          id,
          name,
          order,
          level,
          reason,
        })),
        others: others.map(({ template: { id, name }, reason, rule }) => ({ id, name, reason, ...(rule && { rule }) })),
      };
    }),
  );
  return { address: path, title: '', is: 'nothing', ...about, contests };
}

export interface ServingPreview {
  words: string;
  /** How many pages or archives it would answer, in words. */
  answers: string;
  /** Pages that it would answer, some of them by name. */
  pages: number;
  some: { address: string; title: string }[];
  /** Pages that would be answered by another template than now. */
  changes: { address: string; title: string; from?: string; to?: string }[];
  changed: number;
}

const MOST_TOLD = 100;

/** What would be different if a template served something else, or if there were one more. */
export async function previewServing(
  wanted: Pick<Template, 'serves' | 'except' | 'purpose'> & { id?: string; order?: number },
): Promise<ServingPreview> {
  const design = await siteDesign('draft');
  const { templates, model } = design;
  const id = wanted.id ?? '(new)';
  const words = servesWords(wanted, model);
  if (wanted.purpose !== 'record' && wanted.purpose !== 'archive')
    return { words, answers: '', pages: 0, some: [], changes: [], changed: 0 };
  const before = templates.find((one) => one.id === id);
  const fresh: Template = {
    ...(before ?? { name: 'The new template', version: 0, tree: { root: 'none', elements: {} } }),
    order: wanted.order ?? before?.order ?? templates.length,
    id,
    purpose: wanted.purpose,
    serves: wanted.serves,
    except: wanted.except,
  };
  const after = [...templates.filter((one) => one.id !== id), fresh];
  const pages = await everyPage(model);
  const [was, now] = await Promise.all([answeredBy(pages, templates, model), answeredBy(pages, after, model)]);
  const nameOf = (one: string | undefined) => after.find((template) => template.id === one)?.name;
  const own = now.filter(({ template }) => template === id);
  const changes = now.flatMap(({ address, title, template }, i) =>
    template === was[i]?.template ? [] : [{ address, title, from: nameOf(was[i]?.template), to: nameOf(template) }],
  );
  return {
    words,
    answers: answersWords(wanted, own.length),
    pages: own.length,
    some: own.slice(0, MOST_TOLD).map(({ address, title }) => ({ address, title })),
    changes: changes.slice(0, MOST_TOLD),
    changed: changes.length,
  };
}

/** Types of which some record pages have no template, with how many. */
export function unserved(rows: readonly PageRow[], model: ModelIndex): { typeId: string; pages: number }[] {
  const counts = new Map<string, number>();
  for (const { template, typeId } of rows)
    if (!template && typeId !== undefined) counts.set(typeId, (counts.get(typeId) ?? 0) + 1);
  return model.types.flatMap(({ id }) => {
    const pages = counts.get(id);
    return pages ? [{ typeId: id, pages }] : [];
  });
}
