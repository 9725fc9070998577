import { addressOf } from '../../core/addresses/addresses';
import { addressOfArchive, type ArchiveOf } from '../../core/addresses/archives';
import { SEARCH } from '../../core/base/reserved';
import { localDay } from '../../core/base/write';
import { log } from '../base/log';
import { loadRecords } from '../queries/load';
import { newestTitles } from '../queries/records';
import type { Question } from './draw';
import type { SiteDesign } from './design';
import { answer } from './respond';

/** A word that few records have: a search for it looks through all of them. */
const WORD = 'zx';
/** So many of the newest records of a type are looked at for one that is published. */
const NEWEST = 20;

/**
 * Draws a page of each kind that visitors ask for (archives of types, years, terms and authors, each search and order that
 * visitors may choose there, the site's search, records), so that the first visitor of each finds its columns laid out. What
 * cannot be drawn is told in the log and waits for its visitor. After a start they are drawn several times (`rounds`), since
 * code is at its full speed only once it has run.
 */
export async function drawFirstPages(design: SiteDesign, rounds: number): Promise<void> {
  const questions = questionsOf(design);
  const requests: [address: string, question: Question][] = [];
  for (const address of await addressesOf(design)) {
    const names = await draw(design, address, {});
    if (!names) continue;
    requests.push([address, {}]);
    for (const question of questions)
      if (Object.keys(question).every((key) => names.has(key)) && (await draw(design, address, question)))
        requests.push([address, question]);
  }
  for (let round = 1; round < rounds; round++)
    for (const [address, question] of requests) await draw(design, address, question);
}

/** What the page at an address hears of a question; undefined where it could not be drawn. */
async function draw(design: SiteDesign, address: string, question: Question): Promise<ReadonlySet<string> | undefined> {
  try {
    const { hears } = await answer(decodeURI(address), { base: '', origin: '', design }, question);
    return hears ?? new Set();
  } catch (error) {
    log().warn({ address, error: (error as Error).message }, 'Page prewarming failed');
    return undefined;
  }
}

/** A search and each order that visitors may choose in some list; once, however many lists have the same. */
function questionsOf(design: SiteDesign): Question[] {
  const questions = new Map<string, Question>();
  const add = (key: string, value: string) => questions.set(`${key}=${value}`, { [key]: [value] });
  add('q', WORD);
  for (const template of design.templates)
    for (const { loop } of design.ready(template).tree.elements.values()) {
      const { visitors } = loop ?? {};
      if (visitors?.search.length) add(visitors.searchKey, WORD);
      for (const { key } of visitors?.sorts ?? []) add(visitors!.sortKey, key);
    }
  return [...questions.values()];
}

async function addressesOf({ model }: SiteDesign): Promise<string[]> {
  const year = Number(localDay(new Date(), model.site.timeZone).slice(0, 4));
  const archives: ArchiveOf[] = [
    { of: 'front' },
    ...model.types.flatMap(({ id: typeId }): ArchiveOf[] => [
      { of: 'type', typeId },
      { of: 'date', typeId, year },
    ]),
    ...model.taxonomies.flatMap(({ id }): ArchiveOf[] =>
      model
        .termsOf(id)
        .slice(0, 1)
        .map(({ id: termId }) => ({ of: 'term', termId })),
    ),
    ...model.authors.slice(0, 1).map(({ id: authorId }): ArchiveOf => ({ of: 'author', authorId })),
  ];
  const ids: number[] = [];
  for (const { id } of model.types) {
    const newest = (await newestTitles([id], NEWEST)).find(({ status }) => status === 'published');
    if (newest) ids.push(newest.id);
  }
  const records = await loadRecords(model, ids, { drafts: false });
  return [
    ...archives.map((of) => addressOfArchive(of, model)),
    `/${SEARCH}/`,
    ...records.map((record) => addressOf(record, model)),
  ].filter(Boolean);
}
