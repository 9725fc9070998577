import { SEARCH } from '../../core/base/reserved';
import { escapeHtml } from '../../core/base/text';
import { startOfDay } from '../../core/base/write';
import {
  addressOfArchive,
  daysOf,
  descriptionOfArchive,
  pictureOfArchive,
  scopeOfArchive,
  titleOfArchive,
  type ArchivePlace,
} from '../../core/addresses/archives';
import { questionOf } from '../../core/loops/visitors';
import type { ModelIndex } from '../../core/model/model-index';
import { firstWords } from '../../core/render/first-words';
import { FEED_FORMS } from '../../core/serving/feeds';
import { archiveTree } from '../../core/templates/start';
import { currentCache } from '../queries/read-cache';
import { publishedCounts } from '../queries/counts';
import { isAnyPublished } from '../queries/records';
import { winner } from './resolutions';
import { drawTemplate, type Question } from './draw';
import { feedsOf } from './outlets';
import { pictureOf, type PageAnswer, type Visit } from './visit';

/** The page of an archive, or of the front, a day, a search. */
export async function answerArchive(
  { design, model, still, batch, reads, page, missing, inspection }: Visit,
  archive: ArchivePlace,
  asked: Question,
): Promise<PageAnswer> {
  if (archive.of === 'date') reads.type(archive.typeId);
  if (archive.of === 'date' && !(await anyPublished(archive, model))) return missing();
  const template = await winner(design, 'archive', { archive }, reads);
  const frame = await winner(design, 'frame', { archive }, reads);
  const address = addressOfArchive(archive, model, archive.page);
  const plainFront = archive.of === 'front' && !template;
  if (plainFront && archive.page > 1) return missing();
  if (plainFront) for (const { id } of model.types) reads.type(id);
  const { html, env, hears } = plainFront
    ? { html: await frontMain(model), env: undefined, hears: new Set<string>() }
    : await drawTemplate(design, template, {
        tree: () => archiveTree(scopeOfArchive(archive, model), model),
        archive,
        asked,
        address,
        still,
        batch,
        reads,
        frame,
        inspect: inspection,
      });
  const { pages } = env?.paging ?? { pages: 1 };
  if (archive.page > pages || env?.pastEnd) return missing();
  const title = titleOfArchive(archive, model);
  const at = (n: number) => addressOfArchive(archive, model, n) + questionOf(env?.asked ?? {});
  return {
    status: 200,
    hears,
    ...(still && archive.page === 1 && { further: Array.from({ length: pages - 1 }, (_, i) => at(i + 2)) }),
    ...(await page({
      title: archive.page > 1 ? `${title}, page ${archive.page}` : title,
      of: { archive },
      frame,
      description:
        descriptionOfArchive(archive, model).slice(0, 300).trim() ||
        firstWords(html, { facts: false }) ||
        `${title} · ${[model.site.name, model.site.tagline].filter(Boolean).join(': ')}`,
      main: html,
      path: at(archive.page),
      address,
      previous: archive.page > 1 ? at(archive.page - 1) : undefined,
      next: archive.page < pages ? at(archive.page + 1) : undefined,
      current: 'typeId' in archive ? archive.typeId : archive.of === 'search' ? SEARCH : undefined,
      unlisted: archive.of === 'search' || undefined,
      feeds: feedLinks(archive, title, model),
      picture: await pictureOf(pictureOfArchive(archive, model), env),
      colours: env?.colours,
    })),
  };
}

/** Whether anything of a type was published in a year or month; those in which nothing was have no page. */
async function anyPublished(of: ArchivePlace & { of: 'date' }, { site }: ModelIndex): Promise<boolean> {
  const [from, until] = daysOf(of);
  const cache = await currentCache();
  const key = `any published ${of.typeId} ${from} ${until}`;
  const known = cache.get(key) as boolean | undefined;
  if (known !== undefined) return known;
  const any = await isAnyPublished(of.typeId, startOfDay(from, site.timeZone), startOfDay(until, site.timeZone));
  cache.put(key, any);
  return any;
}

const feedLinks = (of: ArchivePlace, title: string, model: ModelIndex) =>
  Object.entries(feedsOf(of, model) ?? {}).map(([form, href]) => ({
    href,
    type: FEED_FORMS[form as keyof typeof FEED_FORMS],
    title: `${title}, as ${form === 'feed.atom' ? 'Atom' : 'JSON'}`,
  }));

async function frontMain(model: ModelIndex): Promise<string> {
  const counts = await publishedCounts();
  const items = model.types.map((type) => {
    const n = counts.get(type.id) ?? 0;
    return `<li><a href="${addressOfArchive({ of: 'type', typeId: type.id }, model)}">${escapeHtml(type.plural)}</a> <span class="tone-quiet">${n}</span></li>`;
  });
  return `<div class="stack gap-m front"><h1>${escapeHtml(model.site.name)}</h1><p class="text text-l">${escapeHtml(model.site.tagline)}</p><ul class="front-list">${items.join('')}</ul></div>`;
}
