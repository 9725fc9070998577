import type { ContentRecord } from '../schema/record';
import { localDay, writeDatePattern } from '../base/write';
import type { ContentType } from '../schema/model';
import type { ModelIndex } from '../model/model-index';
import { containsWords } from '../content/search';
import { searchWords } from '../base/words';
import type { Target } from '../schema/target';
import { htmlText } from '../base/text';
import { encoded } from './addresses';
import { BY, SEARCH, taxonomyBase } from '../base/reserved';

/** What an archive lists. Types, terms and authors are those of the model. */
export type ArchiveOf =
  | { of: 'type'; typeId: string }
  | { of: 'term'; termId: string }
  | { of: 'author'; authorId: number }
  /** What of a type was published in a year, or in one month of it (1 to 12), by the site's calendar. */
  | { of: 'date'; typeId: string; year: number; month?: number }
  /** Records of every type that have all these words. */
  | { of: 'search'; words: string }
  /** The front page: all there is of every type. */
  | { of: 'front' }
  /** The page that says that there is none; it too may list what there is. */
  | { of: 'missing' };

/** One page of an archive, from 1. */
export type ArchivePlace = ArchiveOf & { page: number };

/** What is known of the archives that a template answers, before any of them is drawn. */
export interface ArchiveScope {
  on: ArchiveOf['of'];
  typeIds: string[];
  taxonomyId?: string;
}

const twoDigits = (month: number): string => String(month).padStart(2, '0');
const baseOf = (typeId: string, model: ModelIndex): string => encoded(model.type(typeId)?.base ?? '');

/** The address of a page of an archive, without a question; '' where what it lists is gone. */
export function addressOfArchive(of: ArchiveOf, model: ModelIndex, page = 1): string {
  const start = startOf(of, model);
  return start && page > 1 ? `${start}page/${page}/` : start;
}

function startOf(of: ArchiveOf, model: ModelIndex): string {
  switch (of.of) {
    case 'type': {
      const base = baseOf(of.typeId, model);
      return base && `/${base}/`;
    }
    case 'term': {
      const term = model.term(of.termId);
      const taxonomy = term && model.taxonomy(term.taxonomyId);
      return taxonomy ? `/${taxonomyBase(taxonomy.key)}/${encoded(term.slug)}/` : '';
    }
    case 'author': {
      const author = model.author(of.authorId);
      return author ? `/${BY}/${encoded(author.slug)}/` : '';
    }
    case 'date': {
      const base = baseOf(of.typeId, model);
      const year = String(of.year).padStart(4, '0');
      return base && `/${base}/${year}/${of.month ? `${twoDigits(of.month)}/` : ''}`;
    }
    case 'search':
      return `/${SEARCH}/`;
    case 'front':
      return '/';
    case 'missing':
      return '';
  }
}

/** Content types whose records an archive lists. */
function typesInArchive(on: ArchiveOf['of'], model: ModelIndex, about: { typeId?: string; taxonomyId?: string }) {
  const ids = (types: readonly ContentType[]) => types.map((type) => type.id);
  if (on === 'type' || on === 'date') return ids(model.types.filter((type) => type.id === about.typeId));
  if (on === 'term') return ids(model.types.filter((type) => type.taxonomyIds.includes(about.taxonomyId ?? '')));
  return ids(model.types);
}

/** What the archives are of that a target names; targets that only records have stand for those of their type. */
const ARCHIVE_OF: Record<Target['on'], ArchiveOf['of']> = {
  everything: 'front',
  type: 'type',
  dates: 'date',
  taxonomy: 'term',
  term: 'term',
  authors: 'author',
  author: 'author',
  search: 'search',
  front: 'front',
  missing: 'missing',
  rule: 'type',
  records: 'type',
};

/** What is known beforehand of the archives that a target stands for. */
export function scopeOfTarget(target: Target, model: ModelIndex): ArchiveScope {
  const on = ARCHIVE_OF[target.on];
  const typeId = 'typeId' in target ? target.typeId : undefined;
  const taxonomyId =
    'taxonomyId' in target
      ? target.taxonomyId
      : target.on === 'term'
        ? model.term(target.termId)?.taxonomyId
        : undefined;
  return { on, typeIds: typesInArchive(on, model, { typeId, taxonomyId }), ...(taxonomyId && { taxonomyId }) };
}

/** What is known beforehand of the one archive at a place. */
export function scopeOfArchive(of: ArchiveOf, model: ModelIndex): ArchiveScope {
  const taxonomyId = of.of === 'term' ? model.term(of.termId)?.taxonomyId : undefined;
  const typeId = 'typeId' in of ? of.typeId : undefined;
  return {
    on: of.of,
    typeIds: typesInArchive(of.of, model, { typeId, taxonomyId }),
    ...(taxonomyId && { taxonomyId }),
  };
}

/** What an archive lists, in words. */
export function titleOfArchive(of: ArchiveOf, model: ModelIndex): string {
  switch (of.of) {
    case 'type':
      return model.type(of.typeId)?.plural ?? '';
    case 'term':
      return model.term(of.termId)?.name ?? '';
    case 'author':
      return model.author(of.authorId)?.name ?? '';
    case 'date': {
      const plural = model.type(of.typeId)?.plural ?? '';
      return `${plural}, ${periodWords(of, model)}`;
    }
    case 'search':
      return of.words.trim() ? `Search: ${of.words.trim()}` : 'Search';
    case 'front':
      return model.site.name;
    case 'missing':
      return 'Page not found';
  }
}

/** A year or a month of one, in words of the site's language. */
export function periodWords({ year, month }: { year: number; month?: number }, model: ModelIndex): string {
  const text = String(year).padStart(4, '0');
  return month ? (writeDatePattern(`${text}-${twoDigits(month)}-01`, model.site.locale, 'MMMM y') ?? text) : text;
}

/** What is said of what an archive lists: of the type, the term or the author, as plain text. */
export function descriptionOfArchive(of: ArchiveOf, model: ModelIndex): string {
  if (of.of === 'type') return model.type(of.typeId)?.description ?? '';
  if (of.of === 'front') return model.site.tagline;
  if (of.of === 'term') return model.term(of.termId)?.description ?? '';
  if (of.of === 'author') return htmlText(model.author(of.authorId)?.about ?? '');
  return '';
}

/** The picture of a term or of an author. */
export function pictureOfArchive(of: ArchiveOf, model: ModelIndex): number | undefined {
  if (of.of === 'term') return model.term(of.termId)?.pictureId ?? undefined;
  return (of.of === 'author' && model.author(of.authorId)?.pictureId) || undefined;
}

/** The days of an archive by date: from the first, up to but without the second; both full-dates. */
export function daysOf({ year, month }: { year: number; month?: number }): [string, string] {
  const day = (y: number, m: number) => `${String(y).padStart(4, '0')}-${twoDigits(m)}-01`;
  if (!month) return [day(year, 1), day(year + 1, 1)];
  return [day(year, month), month === 12 ? day(year + 1, 1) : day(year, month + 1)];
}

/** Whether an archive lists a record that is of one of its types. */
export function inArchive(of: ArchiveOf, record: ContentRecord, model: ModelIndex): boolean {
  switch (of.of) {
    case 'front':
    case 'missing':
      return true;
    case 'type':
      return record.typeId === of.typeId;
    case 'term': {
      const below = model.below(of.termId);
      return record.terms.some((id) => below.includes(id));
    }
    case 'author':
      return record.authorId === of.authorId;
    case 'date': {
      if (!record.published || record.typeId !== of.typeId) return false;
      const day = localDay(new Date(record.published), model.site.timeZone);
      const [from, until] = daysOf(of);
      return day >= from && day < until;
    }
    case 'search': {
      const words = searchWords(of.words);
      return words.length > 0 && containsWords(record, words, undefined, model);
    }
  }
}

/** Months, newest first, in which records of a type were published. */
export function monthsOf(records: readonly ContentRecord[], model: ModelIndex): { year: number; month: number }[] {
  const found = new Set<string>();
  for (const { published } of records)
    if (published) found.add(localDay(new Date(published), model.site.timeZone).slice(0, 7));
  return [...found]
    .sort()
    .reverse()
    .map((text) => ({ year: Number(text.slice(0, 4)), month: Number(text.slice(5, 7)) }));
}
