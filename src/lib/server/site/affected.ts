import { createHash } from 'node:crypto';
import { canonical } from '../../core/releases/canonical';
import type { Template } from '../../core/schema/template';
import { lackOf, type Lack } from '../../core/checks/lacking';
import { usesOf } from '../../core/templates/tree';
import type { Progress } from '../jobs/jobs';
import { looksChanged } from '../../core/releases/looks';
import { modelDesign } from '../../core/releases/design';
import { type SiteDesign, siteDesign } from './design';
import { answer } from './respond';
import type { Assignments } from '../../core/serving/assignments';
import { noRows, type Rows } from '../../core/columns/table';
import { countsOf, recordRows, siteAssignments, type PageRow } from './assignments';

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

/** A mark of everything that a template is drawn from, beside records. */
function printOf(design: SiteDesign): (template: Template | undefined) => string {
  const parts = new Map(design.templates.filter(({ purpose }) => purpose === 'part').map((one) => [one.id, one]));
  const known = new Map<string, string>();
  const reached = (template: Template, seen: Set<string>): Template[] => {
    if (seen.has(template.id)) return [];
    seen.add(template.id);
    const below = Object.values(template.tree.elements).flatMap(({ kind, props }) => {
      const part = kind === 'part' && typeof props.part === 'string' ? parts.get(props.part) : undefined;
      return part ? reached(part, seen) : [];
    });
    return [template, ...below];
  };
  const unversioned = <T extends { version: number }>({ version: _, ...rest }: T) => rest;
  const rules = design.model.rules.map(unversioned);
  const menus = design.model.menus.map(unversioned);
  return (template) => {
    if (!template) return 'plain';
    let print = known.get(template.id);
    if (print === undefined) {
      const all = reached(template, new Set());
      // Looks are in the style sheet, which is compared by itself.
      const trees = all.map(({ tree }) => Object.values(tree.elements).map(({ style: _, css: __, ...rest }) => rest));
      const asks = all.some(({ tree }) => usesOf(tree).length > 0);
      const lists = all.some(({ tree }) => Object.values(tree.elements).some(({ kind }) => kind === 'menu'));
      print = createHash('sha256')
        .update(canonical([template.id, trees, asks ? rules : [], lists ? menus : []]))
        .digest('hex');
      known.set(template.id, print);
    }
    return print;
  };
}

/** A page's HTML without the address of its style sheet. */
const withoutSheet = (html: string): string => html.replace(/\/styles\/[\w-]+\.css/g, '');

/** Which pages visitors would see changed by releasing the draft, found by drawing those that may differ both ways. */
export async function affectedPages(
  progress: Progress,
  base: string,
  designs?: [SiteDesign, SiteDesign],
): Promise<Affected> {
  const [before, after] = designs ?? (await Promise.all([siteDesign('released'), siteDesign('draft')]));
  const [was, now] = [await siteAssignments(before), await siteAssignments(after)];
  const [printBefore, printAfter] = [printOf(before), printOf(after)];
  const templateOf = (design: SiteDesign, id: string | undefined) => design.templates.find((one) => one.id === id);
  const nameOf = (design: SiteDesign, id: string | undefined) => templateOf(design, id)?.name;
  const frames = (design: SiteDesign, print: (template: Template | undefined) => string) =>
    canonical(
      design.templates
        .filter(({ purpose }) => purpose === 'frame')
        .map((frame) => [print(frame), frame.serves, frame.except ?? [], frame.order]),
    );
  const everywhere =
    frames(before, printBefore) !== frames(after, printAfter) ||
    canonical(modelDesign(before.model)) !== canonical(modelDesign(after.model));
  const looks = looksChanged(before.sheet(base).css, after.sheet(base).css);
  const former = new Map(was.archives.map((row) => [row.key, row]));
  const same = (row: PageRow, other: PageRow | undefined) =>
    other?.address === row.address &&
    printBefore(templateOf(before, other.template)) === printAfter(templateOf(after, row.template));
  const archives = now.archives.filter((row) => everywhere || looks !== undefined || !same(row, former.get(row.key)));
  const types = now.types.map(({ typeId, assignments }) => {
    const other = was.types.find((one) => one.typeId === typeId)?.assignments;
    // The model is the same where not everything is in doubt, and so are the addresses of records.
    // Rows of a table that was filled anew in between are others.
    const comparable = !everywhere && looks === undefined && other?.table === assignments.table;
    const alike = comparable ? alikeRows(other, assignments) : noRows();
    return { assignments, other, rows: assignments.seen.new_difference(alike) };
  });
  /** Rows for which both templates come to the same. */
  function alikeRows(one: Assignments<Template>, other: Assignments<Template>): Rows {
    const byPrint = new Map<string, Rows>();
    const add = (print: string, rows: Rows) => byPrint.set(print, (byPrint.get(print) ?? noRows()).new_union(rows));
    for (const { template, rows } of one.answers) add(printBefore(template), rows);
    add(printBefore(undefined), one.unserved);
    let alike = noRows();
    for (const { template, rows } of [...other.answers, { template: undefined, rows: other.unserved }])
      alike = alike.new_union(rows.new_intersection(byPrint.get(printAfter(template)) ?? noRows()));
    return alike;
  }
  const doubtful = types.reduce((all, { rows }) => all + rows.size(), archives.length);
  /** The pages in doubt with what they were, some at a time. */
  async function* inDoubt(): AsyncGenerator<{ row: PageRow; other?: PageRow }[]> {
    for (let i = 0; i < archives.length; i += READ)
      yield archives.slice(i, i + READ).map((row) => ({ row, other: former.get(row.key) }));
    for (const { assignments, other, rows } of types) {
      const all = rows.array();
      for (let i = 0; i < all.length; i += READ) {
        const own = await recordRows(after.model, assignments, all.slice(i, i + READ));
        const then =
          other &&
          (await recordRows(
            before.model,
            other,
            own.flatMap(({ id }) => other.table.rowOf(id as number) ?? []),
          ));
        const known = new Map(then?.map((row) => [row.key, row]));
        yield own.map((row) => ({ row, other: known.get(row.key) }));
      }
    }
  }
  const found = foundPages();
  let done = 0;
  progress.report(0, doubtful);
  const draw = async (design: SiteDesign, address: string) => {
    const path = address.startsWith('/') ? address.split('/').map(decodeURIComponent).join('/') : '/no-page-here';
    const { html, status } = await answer(path, { base, origin: '', design });
    return `${status} ${withoutSheet(html)}`;
  };
  const lacking: Record<Lack, Lacking> = {
    bare: { pages: 0, some: [] },
    untitled: { pages: 0, some: [] },
  };
  /** Notes what a page lacks that its template draws. */
  const judge = ({ address, title, template }: PageRow, html: string) => {
    if (!template) return;
    const main = /<main\b[^>]*>([\s\S]*)<\/main>/.exec(html)?.[1] ?? '';
    const lacks = lackOf(main, html);
    if (!lacks) return;
    const own = lacking[lacks];
    own.pages++;
    if (own.some.length < MOST_LACKING) own.some.push({ address, title });
  };
  /** What is different of a page; pages that are drawn at once come to an end in any order. */
  const look = async (row: PageRow, other: PageRow | undefined): Promise<[string, AffectedPage?]> => {
    const page = {
      address: row.address,
      title: row.title,
      templates: [nameOf(before, other?.template), nameOf(after, row.template)] as AffectedPage['templates'],
    };
    const stays = other?.address === row.address;
    const [b, a] = await Promise.all([draw(after, row.address), stays ? draw(before, row.address) : undefined]);
    progress.report(++done, doubtful);
    if (!other) return [b, { ...page, how: 'new' }];
    if (!stays) return [b, { ...page, was: other.address, how: 'moved' }];
    if (a !== b) return [b, { ...page, how: 'changed' }];
    return looks?.(b) ? [b, { ...page, how: 'looks' }] : [b];
  };
  for await (const pages of inDoubt()) {
    if (progress.signal.aborted) break;
    for (let i = 0; i < pages.length && !progress.signal.aborted; i += TOGETHER) {
      const some = pages.slice(i, i + TOGETHER);
      const looked = await Promise.all(some.map(({ row, other }) => look(row, other)));
      for (const [at, [html, page]] of looked.entries()) {
        if (page) found.add(page);
        judge((some[at] as { row: PageRow }).row, html);
      }
    }
  }
  const gone = (rows: readonly PageRow[]) => {
    for (const { address, title, template } of rows)
      found.add({ ...{ address, title }, how: 'gone', templates: [nameOf(before, template), undefined] });
  };
  const there = new Set(now.archives.map(({ key }) => key));
  gone(was.archives.filter(({ key }) => !there.has(key)));
  for (const { typeId, assignments } of was.types) {
    if (after.model.type(typeId)) continue;
    const all = assignments.seen.array();
    for (let i = 0; i < all.length; i += READ)
      gone(await recordRows(before.model, assignments, all.slice(i, i + READ)));
  }
  return {
    pages: countsOf(now).all,
    drawn: doubtful,
    changed: found.count(),
    some: found.some(),
    looks: found.count('looks'),
    ...lacking,
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
