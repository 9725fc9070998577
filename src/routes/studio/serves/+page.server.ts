import { decodedPath } from '$lib/core/addresses/decoded';
import { plainModel, plainOf } from '$lib/server/services/model';
import { readTemplates } from '$lib/server/services/templates';
import { siteDesign, type Which } from '$lib/server/site/design';
import { resolutionAt } from '$lib/server/site/serving';
import { countsOf, pageRows, siteAssignments, templateAssignments } from '$lib/server/site/assignments';
import type { PageServerLoad } from './$types';

const PER_PAGE = 100;

/** A path from what was typed or pasted: of this site, or a whole address. */
function pathOf(given: string): string {
  let path = given.trim().replace(/[?#].*$/, '');
  if (/^https?:\/\//i.test(path)) path = path.replace(/^https?:\/\/[^/]*/i, '') || '/';
  // What is no escape is meant as it is written.
  path = decodedPath(path) ?? path;
  return path.startsWith('/') ? path : `/${path}`;
}

export const load: PageServerLoad = async ({ url }) => {
  const asked = url.searchParams;
  const address = asked.get('address') ?? '';
  const which: Which = asked.get('of') === 'visitors' ? 'released' : 'draft';
  const [live, drafts, design] = await Promise.all([plainModel(), readTemplates(), siteDesign(which)]);
  // What visitors see has its own templates, under its own addresses.
  const [model, templates] = which === 'draft' ? [live, drafts] : [plainOf(design.model), design.templates];
  const site = await siteAssignments(design);
  const assignments = templateAssignments(site);
  const [show, search] = [asked.get('show') ?? '', asked.get('search') ?? ''];
  const partOf = (page: number) => pageRows(site, { show, search, offset: (page - 1) * PER_PAGE, count: PER_PAGE });
  let page = Math.max(1, Math.floor(Number(asked.get('page')) || 1));
  let part = await partOf(page);
  const pages = Math.max(1, Math.ceil(part.found / PER_PAGE));
  if (page > pages) part = await partOf((page = pages));
  return {
    model,
    address,
    which,
    contest: address ? await resolutionAt(pathOf(address), which) : undefined,
    templates: templates
      .filter(({ purpose }) => purpose !== 'part')
      .map(({ id, name, purpose, serves, except, version, order }) => ({
        id,
        name,
        purpose,
        serves,
        except,
        version,
        order,
        ...(assignments.find((one) => one.id === id) ?? { words: '', pages: 0, answers: '', unreachable: false }),
      })),
    counts: countsOf(site),
    ...part,
    page,
    pages,
    show,
    search,
  };
};
