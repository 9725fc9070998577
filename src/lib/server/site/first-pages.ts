import { localDay } from '../../core/base/write';
import { addressOfArchive, type ArchiveOf } from '../../core/addresses/archives';
import { SEARCH } from '../../core/base/reserved';
import { log } from '../log';
import { newestTitles } from '../queries/records';
import type { SiteDesign } from './design';
import { answer } from './respond';
import { addressOf } from '../../core/addresses/addresses';
import { loadRecords } from '../queries/load';

/** A word that few records have: a search for it looks through all of them. */
const WORD = 'zx';
/** So many of the newest records of a type are looked at for one that is published. */
const NEWEST = 20;

/**
 * Draws a page of each kind that visitors ask for (archives of types, years, terms and authors, each search and order that
 * visitors may choose, the site's search, records), so that the first visitor of each finds its columns laid out. What cannot
 * be drawn is told in the log and waits for its visitor. After a start they are drawn several times (`rounds`), since code is at
 * its full speed only once it has run.
 */
export async function drawFirstPages(design: SiteDesign, rounds: number): Promise<void> {
  const { model, templates } = design;
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
  const questions: Record<string, string[]>[] = [{}];
  for (const template of templates)
    for (const { loop } of design.ready(template).tree.elements.values()) {
      const { visitors } = loop ?? {};
      if (visitors?.search.length) questions.push({ [visitors.searchKey]: [WORD] });
      for (const { key } of visitors?.sorts ?? []) questions.push({ [visitors!.sortKey]: [key] });
    }
  const ids: number[] = [];
  for (const { id } of model.types) {
    const newest = (await newestTitles([id], NEWEST)).find(({ status }) => status === 'published');
    if (newest) ids.push(newest.id);
  }
  const records = await loadRecords(model, ids, { drafts: false });
  const asked: [string, Record<string, string[]>][] = [
    ...archives.flatMap((of) =>
      questions.map((question): [string, Record<string, string[]>] => [addressOfArchive(of, model), question]),
    ),
    [`/${SEARCH}/`, { q: [WORD] }],
    ...records.map((record): [string, Record<string, string[]>] => [addressOf(record, model), {}]),
  ];
  for (let round = 0; round < rounds; round++)
    for (const [address, question] of asked) {
      if (!address) continue;
      await answer(decodeURI(address), { base: '', origin: '', design }, question).catch((error: unknown) =>
        log.warn({ address, error: (error as Error).message }, 'A page could not be drawn beforehand'),
      );
    }
}
