import { plainModel, plainOf } from '$lib/server/services/model';
import { readTemplates } from '$lib/server/services/templates';
import { siteDesign, type Which } from '$lib/server/site/design';
import { contestAt, templateStandings, wholeSite } from '$lib/server/site/serving';
import type { PageServerLoad } from './$types';

const PER_PAGE = 100;

/** A path from what was typed or pasted: of this site, or a whole address. */
function pathOf(given: string): string {
  let path = given.trim().replace(/[?#].*$/, '');
  if (/^https?:\/\//i.test(path)) path = path.replace(/^https?:\/\/[^/]*/i, '') || '/';
  try {
    path = path.split('/').map(decodeURIComponent).join('/');
  } catch {
    // What is no escape is meant as it is written.
  }
  return path.startsWith('/') ? path : `/${path}`;
}

export const load: PageServerLoad = async ({ url }) => {
  const asked = url.searchParams;
  const address = asked.get('address') ?? '';
  const which: Which = asked.get('of') === 'visitors' ? 'released' : 'draft';
  const [live, drafts, design] = await Promise.all([plainModel(), readTemplates(), siteDesign(which)]);
  // What visitors see has its own templates, under its own addresses.
  const [model, templates] = which === 'draft' ? [live, drafts] : [plainOf(design.model), design.templates];
  const rows = await wholeSite(design);
  const standings = templateStandings(design, rows);
  const show = asked.get('show') ?? '';
  const words = (asked.get('search') ?? '').trim().toLowerCase();
  const listed = rows.filter(
    (row) =>
      (show === '' ||
        (show === 'unserved' && !row.template) ||
        (show === 'tied' && row.tied) ||
        show === row.template) &&
      (!words || row.title.toLowerCase().includes(words) || decodeURIComponent(row.address).includes(words)),
  );
  const pages = Math.max(1, Math.ceil(listed.length / PER_PAGE));
  const page = Math.min(pages, Math.max(1, Math.floor(Number(asked.get('page')) || 1)));
  return {
    model,
    address,
    which,
    contest: address ? await contestAt(pathOf(address), which) : undefined,
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
        ...(standings.find((one) => one.id === id) ?? { words: '', pages: 0, answers: '', unreachable: false }),
      })),
    counts: {
      all: rows.length,
      unserved: rows.filter((row) => !row.template).length,
      tied: rows.filter((row) => row.tied).length,
    },
    rows: listed.slice((page - 1) * PER_PAGE, page * PER_PAGE),
    found: listed.length,
    page,
    pages,
    show,
    search: asked.get('search') ?? '',
  };
};
