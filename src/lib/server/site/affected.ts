import { createHash } from 'node:crypto';
import { canonical } from '../../core/releases/canonical';
import type { Template } from '../../core/schema/template';
import { lackOf, type Lack } from '../../core/checks/lacking';
import { usesOf } from '../../core/templates/tree';
import type { Progress } from '../exchange/jobs';
import { looksChanged } from '../../core/releases/looks';
import { modelDesign } from '../../core/releases/design';
import { type SiteDesign, siteDesign } from './design';
import { answer } from './respond';
import { wholeSite, type PageRow } from './serving';

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
  const [was, now] = [await wholeSite(before), await wholeSite(after)];
  const keyOf = ({ key }: PageRow) => key;
  const former = new Map(was.map((row) => [keyOf(row), row]));
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
  const doubtful = now.filter((row) => {
    const other = former.get(keyOf(row));
    return (
      everywhere ||
      looks !== undefined ||
      !other ||
      other.address !== row.address ||
      printBefore(templateOf(before, other.template)) !== printAfter(templateOf(after, row.template))
    );
  });
  const found: AffectedPage[] = [];
  const drawn = new Map<PageRow, string>();
  let done = 0;
  progress.report(0, doubtful.length);
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
  const look = async (row: PageRow): Promise<AffectedPage | undefined> => {
    const other = former.get(keyOf(row));
    const page = {
      address: row.address,
      title: row.title,
      templates: [nameOf(before, other?.template), nameOf(after, row.template)] as AffectedPage['templates'],
    };
    const same = other?.address === row.address;
    const [b, a] = await Promise.all([draw(after, row.address), same ? draw(before, row.address) : undefined]);
    progress.report(++done, doubtful.length);
    drawn.set(row, b);
    if (!other) return { ...page, how: 'new' };
    if (!same) return { ...page, was: other.address, how: 'moved' };
    if (a !== b) return { ...page, how: 'changed' };
    return looks?.(b) ? { ...page, how: 'looks' } : undefined;
  };
  for (let i = 0; i < doubtful.length && !progress.signal.aborted; i += TOGETHER) {
    const some = doubtful.slice(i, i + TOGETHER);
    for (const page of await Promise.all(some.map(look))) if (page) found.push(page);
    for (const row of some) judge(row, drawn.get(row) ?? '');
    drawn.clear();
  }
  const there = new Set(now.map(keyOf));
  for (const row of was)
    if (!there.has(keyOf(row)))
      found.push({
        address: row.address,
        title: row.title,
        how: 'gone',
        templates: [nameOf(before, row.template), undefined],
      });
  return {
    pages: now.length,
    drawn: doubtful.length,
    changed: found.length,
    some: spread(found).slice(0, MOST_TOLD),
    looks: found.filter(({ how }) => how === 'looks').length,
    ...lacking,
  };
}

/** One page of each template first, then the others, so that the first ones show every kind of change. */
function spread(pages: AffectedPage[]): AffectedPage[] {
  const groups = new Map<string, AffectedPage[]>();
  for (const page of pages) {
    const key = `${page.how} ${page.templates.join(' ')}`;
    groups.set(key, [...(groups.get(key) ?? []), page]);
  }
  const lists = [...groups.values()];
  const out: AffectedPage[] = [];
  for (let i = 0; out.length < pages.length; i++)
    for (const list of lists) if (list[i]) out.push(list[i] as AffectedPage);
  return out;
}
