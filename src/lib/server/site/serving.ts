import { recordsAtSlugs } from '../queries/records';
import { titleOfArchive } from '../../core/addresses/archives';
import type { Level, PageOf } from '../../core/serving/resolution';
import type { Explained } from '../../core/rules/explain';
import { placeOf } from '../../core/addresses/places';
import { servedWords, servesWords } from '../../core/serving/targets';
import type { Template } from '../../core/schema/template';
import { loadRecords } from '../queries/load';
import { siteDesign, type Which } from './design';
import { resolutionFor } from './resolutions';
import { differingRows, pageRows, recordRows, siteAssignments, assignmentsAmong } from './assignments';

export interface AddressResolution {
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
export async function resolutionAt(path: string, which: Which = 'draft'): Promise<AddressResolution> {
  const design = await siteDesign(which);
  const { model } = design;
  const place = placeOf(path, model);
  if (place.at === 'moved') return { address: path, title: '', is: 'moved', to: place.to, contests: [] };
  let page: PageOf = { archive: { of: 'missing' } };
  let about: Partial<AddressResolution> = { title: 'There is no page at this address', is: 'nothing' };
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
      const { candidates, others, tied } = await resolutionFor(design, purpose, page);
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
  const both = async () => [await siteAssignments(design), await assignmentsAmong(design, after)] as const;
  let [was, now] = await both();
  // Rows of a table that was filled anew in between are others.
  for (
    let tries = 0;
    tries < 5 && now.types.some((one, i) => one.assignments.table !== was.types[i]?.assignments.table);
    tries++
  )
    [was, now] = await both();
  const nameOf = (one: string | undefined) => after.find((template) => template.id === one)?.name;
  const own = await pageRows(now, { show: id, offset: 0, count: MOST_TOLD });
  const differing = now.archives.flatMap((row, i) => {
    const before = was.archives[i];
    return row.template === before?.template ? [] : [{ ...row, from: before?.template }];
  });
  const changes = differing.map(({ address, title, template, from }) => ({
    address,
    title,
    from: nameOf(from),
    to: nameOf(template),
  }));
  let changed = changes.length;
  for (const [i, { assignments }] of now.types.entries()) {
    const before = was.types[i]!.assignments;
    const rows = differingRows(before, assignments);
    changed += rows.size();
    const some = rows.array().slice(0, Math.max(0, MOST_TOLD - changes.length));
    for (const { address, title, template, id: record } of await recordRows(model, assignments, some)) {
      const row = assignments.table.rowOf(record as number) as number;
      const from = before.answers.find((one) => one.rows.has(row))?.template.id;
      changes.push({ address, title, from: nameOf(from), to: nameOf(template) });
    }
  }
  return {
    words,
    answers: servedWords(wanted, own.found),
    pages: own.found,
    some: own.rows.map(({ address, title }) => ({ address, title })),
    changes: changes.slice(0, MOST_TOLD),
    changed,
  };
}
