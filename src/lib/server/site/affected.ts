import { canonical } from '../../core/releases/canonical';
import type { Template } from '../../core/schema/template';
import { lackOf, type Lack } from '../../core/checks/lacking';
import type { Progress } from '../jobs/jobs';
import { looksChanged } from '../../core/releases/looks';
import { modelDesign } from '../../core/releases/design';
import { type SiteDesign, siteDesign } from './design';
import { answer } from './respond';
import type { Assignments } from '../../core/serving/assignments';
import { noRows, type Rows } from '../../core/columns/table';
import { countsOf, recordRows, siteAssignments, type PageRow, type SiteAssignments } from './assignments';
import { fingerprintOf } from './fingerprints';

/** A page that is not the same in two designs. */
export interface AffectedPage {
  /** Where it is in the later design; of one that goes, where it was. */
  address: string;
  /** Where it was, if elsewhere. */
  was?: string;
  title: string;
  /** `looks`: its HTML is the same, and what it looks like is not. */
  how: 'changed' | 'looks' | 'moved' | 'new' | 'gone';
  /** Templates that answer it before and after. */
  templates: [string | undefined, string | undefined];
}

export interface Affected {
  /** Pages of the site. */
  pages: number;
  /** Pages that were drawn both ways; of the others nothing that they are drawn from is different. */
  drawn: number;
  changed: number;
  /** Some of them, each template's first ones first. */
  some: AffectedPage[];
  /** Pages of which only the looks are different. */
  looks: number;
  /** Pages that would have nothing in them, and pages without a heading of the first level; as visitors would get them. */
  bare: Lacking;
  untitled: Lacking;
}

export interface Lacking {
  pages: number;
  some: { address: string; title: string }[];
}

const MOST_TOLD = 200;
const MOST_LACKING = 8;
/** So many pages are drawn at once. */
const TOGETHER = 4;
/** So many rows are read at once. */
const READ = 200;

/** A page's HTML without the address of its style sheet. */
const withoutSheet = (html: string): string => html.replace(/\/styles\/[\w-]+\.css/g, '');

/** A design with what answers each page in it. */
interface Side {
  design: SiteDesign;
  assignments: SiteAssignments;
  /** Equal for two templates where nothing that they are drawn from, beside records, is different. */
  fingerprint: (template: Template | undefined) => string;
  template(id: string | undefined): Template | undefined;
}

/** The designs before and after. */
interface Comparison {
  before: Side;
  after: Side;
  /** Frames or the model are different, so that every page may be. */
  everywhere: boolean;
  /** Whether a page of this HTML looks different though it is the same; undefined where no looks are different. */
  looks: ((html: string) => boolean) | undefined;
}

/** The pages that may be different: archives, and of each type the rows of its table. */
interface Doubt {
  archives: PageRow[];
  types: { assignments: Assignments<Template>; former: Assignments<Template> | undefined; rows: Rows }[];
}

async function sideOf(design: SiteDesign): Promise<Side> {
  const templates = new Map(design.templates.map((one) => [one.id, one]));
  return {
    design,
    assignments: await siteAssignments(design),
    fingerprint: fingerprintOf(design),
    template: (id) => (id === undefined ? undefined : templates.get(id)),
  };
}

async function compareDesigns(base: string, designs: readonly [SiteDesign, SiteDesign]): Promise<Comparison> {
  const [before, after] = [await sideOf(designs[0]), await sideOf(designs[1])];
  const frames = ({ design, fingerprint }: Side) =>
    canonical(
      design.templates
        .filter(({ purpose }) => purpose === 'frame')
        .map((frame) => [fingerprint(frame), frame.serves, frame.except ?? [], frame.order]),
    );
  const modelOf = ({ design }: Side) => canonical(modelDesign(design.model));
  return {
    before,
    after,
    everywhere: frames(before) !== frames(after) || modelOf(before) !== modelOf(after),
    looks: looksChanged(before.design.sheet(base).css, after.design.sheet(base).css),
  };
}

const archivesByKey = ({ assignments }: Side): Map<string, PageRow> =>
  new Map(assignments.archives.map((row) => [row.key, row]));

function doubtOf({ before, after, everywhere, looks }: Comparison): Doubt {
  const all = everywhere || looks !== undefined;
  const former = archivesByKey(before);
  const alike = (row: PageRow, other: PageRow | undefined) =>
    other?.address === row.address &&
    before.fingerprint(before.template(other.template)) === after.fingerprint(after.template(row.template));
  return {
    archives: after.assignments.archives.filter((row) => all || !alike(row, former.get(row.key))),
    types: after.assignments.types.map(({ typeId, assignments }) => {
      const then = before.assignments.types.find((one) => one.typeId === typeId)?.assignments;
      // The model is the same where not everything is in doubt, and so are the addresses of records.
      // Rows of a table that was filled anew in between are others.
      const same = !all && then?.table === assignments.table ? alikeRows(before, then, after, assignments) : noRows();
      return { assignments, former: then, rows: assignments.seen.new_difference(same) };
    }),
  };
}

/** Rows of one table for which the templates before and after come to the same. */
function alikeRows(before: Side, then: Assignments<Template>, after: Side, now: Assignments<Template>): Rows {
  const byFingerprint = new Map<string, Rows>();
  const add = (fingerprint: string, rows: Rows) =>
    byFingerprint.set(fingerprint, (byFingerprint.get(fingerprint) ?? noRows()).new_union(rows));
  for (const { template, rows } of then.answers) add(before.fingerprint(template), rows);
  add(before.fingerprint(undefined), then.unserved);
  let alike = noRows();
  for (const { template, rows } of [...now.answers, { template: undefined, rows: now.unserved }])
    alike = alike.new_union(rows.new_intersection(byFingerprint.get(after.fingerprint(template)) ?? noRows()));
  return alike;
}

/** A page as it is, and as it was if it was there. */
interface PagePair {
  row: PageRow;
  former?: PageRow;
}

/** The pages in doubt with what they were, some at a time. */
async function* pagesInDoubt({ before, after }: Comparison, doubt: Doubt): AsyncGenerator<PagePair[]> {
  const former = archivesByKey(before);
  for (let i = 0; i < doubt.archives.length; i += READ)
    yield doubt.archives.slice(i, i + READ).map((row) => ({ row, former: former.get(row.key) }));
  for (const { assignments, former: then, rows } of doubt.types) {
    const all = rows.array();
    for (let i = 0; i < all.length; i += READ) {
      const own = await recordRows(after.design.model, assignments, all.slice(i, i + READ));
      const known = new Map<string, PageRow>();
      if (then) {
        const rowsThen = own.flatMap(({ id }) => then.table.rowOf(id as number) ?? []);
        for (const row of await recordRows(before.design.model, then, rowsThen)) known.set(row.key, row);
      }
      yield own.map((row) => ({ row, former: known.get(row.key) }));
    }
  }
}

/** A page as visitors get it, with its status. */
async function drawPage(design: SiteDesign, address: string, base: string): Promise<string> {
  const path = address.startsWith('/') ? address.split('/').map(decodeURIComponent).join('/') : '/no-page-here';
  const { html, status } = await answer(path, { base, origin: '', design });
  return `${status} ${withoutSheet(html)}`;
}

/** Draws a page both ways: how it is now, and what is different of it. */
async function comparePage(
  { before, after, looks }: Comparison,
  { row, former }: PagePair,
  base: string,
): Promise<{ html: string; affected?: AffectedPage }> {
  const { address, title } = row;
  const templates: AffectedPage['templates'] = [
    before.template(former?.template)?.name,
    after.template(row.template)?.name,
  ];
  const stays = former?.address === address;
  const [html, was] = await Promise.all([
    drawPage(after.design, address, base),
    stays ? drawPage(before.design, address, base) : undefined,
  ]);
  const affected = (how: AffectedPage['how']) => ({ html, affected: { address, title, templates, how } });
  if (!former) return affected('new');
  if (!stays) return { html, affected: { address, title, templates, was: former.address, how: 'moved' } };
  if (was !== html) return affected('changed');
  return looks?.(html) ? affected('looks') : { html };
}

/** The pages that are no longer there, some at a time. */
async function* pagesGone({ before, after }: Comparison): AsyncGenerator<PageRow[]> {
  const there = new Set(after.assignments.archives.map(({ key }) => key));
  yield before.assignments.archives.filter(({ key }) => !there.has(key));
  for (const { typeId, assignments } of before.assignments.types) {
    if (after.design.model.type(typeId)) continue;
    const all = assignments.seen.array();
    for (let i = 0; i < all.length; i += READ)
      yield await recordRows(before.design.model, assignments, all.slice(i, i + READ));
  }
}

/**
 * Which pages visitors would see changed by releasing the draft (or by going from the first design given to the second), found by drawing
 * those that may differ both ways. Costs two drawings of each page in doubt.
 */
export async function affectedPages(
  progress: Progress,
  base: string,
  designs?: [SiteDesign, SiteDesign],
): Promise<Affected> {
  const compared = await compareDesigns(
    base,
    designs ?? (await Promise.all([siteDesign('released'), siteDesign('draft')])),
  );
  const doubt = doubtOf(compared);
  const doubtful = doubt.types.reduce((all, { rows }) => all + rows.size(), doubt.archives.length);
  const found = foundPages();
  const lacking = lackingPages();
  let done = 0;
  progress.report(0, doubtful);
  for await (const pages of pagesInDoubt(compared, doubt)) {
    if (progress.signal.aborted) break;
    for (let i = 0; i < pages.length && !progress.signal.aborted; i += TOGETHER) {
      const some = pages.slice(i, i + TOGETHER);
      // Pages that are drawn at once come to an end in any order.
      const results = await Promise.all(
        some.map((pair) => comparePage(compared, pair, base).finally(() => progress.report(++done, doubtful))),
      );
      for (const [at, { html, affected }] of results.entries()) {
        if (affected) found.add(affected);
        lacking.add((some[at] as PagePair).row, html);
      }
    }
  }
  for await (const rows of pagesGone(compared))
    for (const { address, title, template } of rows)
      found.add({ address, title, how: 'gone', templates: [compared.before.template(template)?.name, undefined] });
  return {
    pages: countsOf(compared.after.assignments).all,
    drawn: doubtful,
    changed: found.count(),
    some: found.some(),
    looks: found.count('looks'),
    ...lacking.pages,
  };
}

/** Counts pages that lack something that visitors need, and keeps the first of each sort. */
function lackingPages() {
  const pages: Record<Lack, Lacking> = { bare: { pages: 0, some: [] }, untitled: { pages: 0, some: [] } };
  return {
    pages,
    /** Notes what a page lacks that its template draws. */
    add({ address, title, template }: PageRow, html: string): void {
      if (!template) return;
      const main = /<main\b[^>]*>([\s\S]*)<\/main>/.exec(html)?.[1] ?? '';
      const lack = lackOf(main, html);
      if (!lack) return;
      pages[lack].pages++;
      if (pages[lack].some.length < MOST_LACKING) pages[lack].some.push({ address, title });
    },
  };
}

/** Counts pages, and keeps some: one of each template first, then others, so that the first ones show every kind of change. */
function foundPages() {
  const groups = new Map<string, { how: AffectedPage['how']; pages: AffectedPage[]; count: number }>();
  return {
    add(page: AffectedPage): void {
      const key = `${page.how} ${page.templates.join(' ')}`;
      const group = groups.get(key) ?? { how: page.how, pages: [], count: 0 };
      groups.set(key, group);
      group.count++;
      if (group.pages.length < MOST_TOLD) group.pages.push(page);
    },
    count: (how?: AffectedPage['how']): number =>
      [...groups.values()].reduce(
        (all, group) => (how === undefined || group.how === how ? all + group.count : all),
        0,
      ),
    some(): AffectedPage[] {
      const lists = [...groups.values()].map(({ pages }) => pages);
      const longest = Math.max(0, ...lists.map(({ length }) => length));
      return Array.from({ length: longest }, (_, i) => lists.flatMap((list) => list[i] ?? []))
        .flat()
        .slice(0, MOST_TOLD);
    },
  };
}
