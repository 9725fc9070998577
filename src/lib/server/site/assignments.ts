import { localDay } from '../../core/base/write';
import { fold } from '../../core/base/text';
import { addressOf } from '../../core/addresses/addresses';
import { patternOf } from '../../core/addresses/patterns';
import { addressOfArchive, titleOfArchive, type ArchiveOf } from '../../core/addresses/archives';
import type { TextColumn } from '../../core/columns/column';
import { filtered } from '../../core/columns/conditions';
import { columnAt, eachOf, tableOf } from '../../core/columns/reading';
import { noRows, type Rows, type Table } from '../../core/columns/table';
import type { ModelIndex } from '../../core/model/model-index';
import { EMPTY_POOL, makeEnv } from '../../core/paths/env';
import type { Purpose, Template } from '../../core/schema/template';
import { contenders } from '../../core/serving/resolution';
import { ruleKey, assignmentsFrom, type Assignments } from '../../core/serving/assignments';
import { servedWords, servesWords } from '../../core/serving/targets';
import { fromColumns, fromRecords } from '../queries/tables';
import type { SiteDesign } from './design';
import { matchingRecords } from './matching-records';
import { addressableOf, archivesThere, datesThere } from './outlets';

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

/** What answers every page of a site: of records by type, and the archives with the front page and those by date. */
export interface SiteAssignments {
  design: SiteDesign;
  types: { typeId: string; assignments: Assignments<Template> }[];
  archives: PageRow[];
}

/** What answers each page of a design's site. */
export const siteAssignments = (design: SiteDesign): Promise<SiteAssignments> =>
  assignmentsAmong(design, design.templates);

/** What would answer each page if these were the templates. */
export async function assignmentsAmong(design: SiteDesign, templates: readonly Template[]): Promise<SiteAssignments> {
  const { model } = design;
  const [types, archives, dates] = await Promise.all([
    Promise.all(
      model.types.map(async ({ id }) => ({ typeId: id, assignments: await assignmentsOf(id, templates, model) })),
    ),
    archivesThere(model),
    datesThere(model),
  ]);
  const list = contenders(templates, 'archive', model);
  const none = () => {
    throw new Error('No rule is asked here.');
  };
  const all: ArchiveOf[] = [...archives, ...dates, { of: 'search', words: '' }, { of: 'missing' }];
  return {
    design,
    types,
    archives: all.map((of): PageRow => {
      const { template, tied } = list.standing({ archive: of }, none);
      return {
        key: JSON.stringify(of),
        address: of.of === 'missing' ? '(no page)' : addressOfArchive(of, model),
        title: of.of === 'front' ? 'Front page' : titleOfArchive(of, model),
        is: 'archive',
        template: template?.id,
        tied,
      };
    }),
  };
}

/** Has columns laid out that `siteStandings` is answered from. No record is asked, whatever the rules. */
export async function prewarmAssignments({ model, templates }: SiteDesign): Promise<void> {
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  for (const { id } of model.types)
    await fromColumns((tables) => assignmentsFrom(tables, templates, id, env, new Map<string, ReadonlySet<number>>()));
  await archivesThere(model);
  await datesThere(model);
}

/** What answers the records of a type. Rules that columns cannot answer are asked of each record. */
async function assignmentsOf(
  typeId: string,
  templates: readonly Template[],
  model: ModelIndex,
): Promise<Assignments<Template>> {
  const env = makeEnv({ model, pool: EMPTY_POOL, today: localDay(new Date(), model.site.timeZone) });
  const looked = new Map<string, ReadonlySet<number>>();
  for (;;) {
    const found = await fromColumns((tables) => assignmentsFrom(tables, templates, typeId, env, looked));
    if (!Array.isArray(found)) return found;
    for (const target of found) looked.set(ruleKey(target), await matchingRecords(target, model));
  }
}

/** The pages that are asked for: all, or those of one template, that none answers, or that only the order decides. */
export interface PageQuery {
  show?: string;
  /** Part of a title or an address. */
  search?: string;
  offset: number;
  count: number;
}

/** Some pages of a site, archives first, and how many there are of those that are asked for. */
export async function pageRows(
  site: SiteAssignments,
  { show = '', search = '', offset, count }: PageQuery,
): Promise<{ rows: PageRow[]; found: number }> {
  const words = fold(search.trim());
  const archives = site.archives.filter(
    (row) =>
      (show === '' ||
        (show === 'unserved' && !row.template) ||
        (show === 'tied' && row.tied) ||
        show === row.template) &&
      (!words || fold(row.title).includes(words) || fold(decodeURIComponent(row.address)).includes(words)),
  );
  const rows = archives.slice(offset, offset + count);
  let found = archives.length;
  for (const { assignments } of site.types) {
    const own = words
      ? shown(assignments, show).new_intersection(await rowsNamed(site.design.model, assignments.table, words))
      : shown(assignments, show);
    const from = Math.max(0, offset - found);
    const wanted = count - rows.length;
    if (wanted > 0)
      rows.push(...(await recordRows(site.design.model, assignments, own.array().slice(from, from + wanted))));
    found += own.size();
  }
  return { rows, found };
}

/** The rows of a type that are asked for. */
function shown({ seen, answers, unserved, tied }: Assignments<Template>, show: string): Rows {
  if (show === '') return seen;
  if (show === 'unserved') return unserved;
  if (show === 'tied') return tied;
  return answers.find(({ template }) => template.id === show)?.rows ?? noRows();
}

/** Rows of a table with these words in their title or their address. */
async function rowsNamed(model: ModelIndex, table: Table, words: string): Promise<Rows> {
  const { typeId } = table;
  const type = model.type(typeId);
  if (!type) return noRows();
  const pattern = patternOf(type);
  // What stands before the part that names the record is the same for all of a type, or made from dates and terms.
  const [before = '', after] = pattern.split('{slug}');
  const plain = !before.includes('{') && !after;
  const ids = await fromRecords(model, { drafts: false }, (reading) => {
    // The table may have been filled anew; numbers of records are the same in both.
    const now = tableOf(reading, typeId);
    const [titles, slugs] = eachOf(['@title', '@slug'], (step) => columnAt<TextColumn>(reading, now, 'text', step));
    const named = filtered(
      now,
      (row) =>
        (titles?.texts[row]?.includes(words) ?? false) ||
        (plain && (fold(before) + (slugs?.texts[row] ?? '')).includes(words)),
    );
    return named.array().map((row) => now.ids[row] as number);
  });
  const found = new Set(ids);
  const all = plain ? [] : table.shown.array();
  for (let i = 0; i < all.length; i += READ) {
    const some = all.slice(i, i + READ).map((row) => table.ids[row] as number);
    for (const record of await addressableOf(some, model))
      if (fold(decodeURIComponent(addressOf(record, model))).includes(words)) found.add(record.id);
  }
  const rows = noRows();
  for (const id of found) {
    const row = table.rowOf(id);
    if (row !== undefined) rows.add(row);
  }
  return rows;
}
/** So many records are read at once. */
const READ = 5000;

/** What stands of these rows. */
export async function recordRows(
  model: ModelIndex,
  { table, answers, tied }: Assignments<Template>,
  rows: readonly number[],
): Promise<PageRow[]> {
  const records = await addressableOf(
    rows.map((row) => table.ids[row] as number),
    model,
  );
  return records.map((record): PageRow => {
    const row = table.rowOf(record.id) as number;
    return {
      key: `record ${record.id}`,
      address: addressOf(record, model),
      title: record.title,
      is: 'record',
      id: record.id,
      typeId: record.typeId,
      template: answers.find((one) => one.rows.has(row))?.template.id,
      tied: tied.has(row),
    };
  });
}

/** How many pages a site has, how many none answers, and of how many only the order decides. */
export function countsOf({ archives, types }: SiteAssignments): { all: number; unserved: number; tied: number } {
  const sum = (of: (assignments: Assignments<Template>) => Rows) =>
    types.reduce((all, { assignments }) => all + of(assignments).size(), 0);
  return {
    all: archives.length + sum(({ seen }) => seen),
    unserved: archives.filter((row) => !row.template).length + sum(({ unserved }) => unserved),
    tied: archives.filter((row) => row.tied).length + sum(({ tied }) => tied),
  };
}

/** Templates that answer some page of which only the order decides. */
export const tiedTemplates = ({ archives, types }: SiteAssignments): Set<string> =>
  new Set([
    ...archives.flatMap((row) => (row.tied && row.template ? [row.template] : [])),
    ...types.flatMap(({ assignments: { answers, tied } }) =>
      answers.flatMap(({ template, rows }) => (rows.intersects(tied) ? [template.id] : [])),
    ),
  ]);

export interface TemplateAssignment {
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
export function templateAssignments({ design, archives, types }: SiteAssignments): TemplateAssignment[] {
  const counts = new Map<string, number>();
  const add = (id: string, pages: number) => counts.set(id, (counts.get(id) ?? 0) + pages);
  for (const { template } of archives) if (template) add(template, 1);
  for (const { assignments } of types)
    for (const { template, rows } of assignments.answers) add(template.id, rows.size());
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
        answers: servedWords(template, pages),
        unreachable: purpose !== 'frame' && pages === 0,
      };
    });
}

/** Types of which some record pages have no template, with how many. */
export const unserved = ({ types }: SiteAssignments): { typeId: string; pages: number }[] =>
  types.flatMap(({ typeId, assignments }) => {
    const pages = assignments.unserved.size();
    return pages ? [{ typeId, pages }] : [];
  });

/** The rows that another template answers after than before. */
export function differingRows(before: Assignments<Template>, after: Assignments<Template>): Rows {
  // Who answered none before and after is in neither.
  let same = before.unserved.new_intersection(after.unserved);
  for (const { template, rows } of after.answers) {
    const was = before.answers.find((one) => one.template.id === template.id);
    if (was) same = same.new_union(was.rows.new_intersection(rows));
  }
  return after.seen.new_difference(same);
}
