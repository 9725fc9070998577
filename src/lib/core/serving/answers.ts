import { archivesOfTargets, listing } from '../addresses/served';
import { addressOf } from '../addresses/addresses';
import { addressOfArchive, titleOfArchive, type ArchiveOf } from '../addresses/archives';
import type { ModelIndex } from '../model/model-index';
import type { Env } from '../paths/env';
import type { ContentRecord } from '../schema/record';
import { typesServed } from '../templates/served';
import { contenders, type Serving } from './resolution';

/** The records that a template is looked at with. */
export interface ServedPage {
  /** Those that it answers, or all of its types, drafts too; `all` too where it answers none. */
  set: 'answered' | 'all';
  records: ContentRecord[];
  /** How many it answers. */
  answered: number;
  /** How many there are of its types, drafts too. */
  all: number;
}

/** The templates of a site, one of them as it is on screen. */
const among = (template: Serving, templates: readonly Serving[]): Serving[] => [
  ...templates.filter(({ id }) => id !== template.id),
  template,
];

/**
 * The records for which a template decides what visitors see: published ones for which it wins the contest, of every type
 * that it serves. A part is in no contest; it may stand on the page of any of its records. `env` is what rules of targets
 * are asked in; its record is set to each in turn.
 */
export function recordsAnswered(
  template: Serving,
  templates: readonly Serving[],
  records: readonly ContentRecord[],
  model: ModelIndex,
  env: Env,
  set: ServedPage['set'] = 'answered',
): ServedPage {
  const typeIds = new Set(
    template.purpose === 'record' || template.purpose === 'part' ? typesServed(template, model) : [],
  );
  const all = records.filter(({ typeId }) => typeIds.has(typeId));
  const { winner } = contenders(among(template, templates), 'record', model);
  const own = all.filter(
    (record) =>
      record.status === 'published' &&
      (template.purpose === 'part' || winner({ record }, (asked) => ({ ...env, record: asked }))?.id === template.id),
  );
  const given = set === 'all' || !own.length ? 'all' : 'answered';
  return { set: given, records: given === 'all' ? all : own, answered: own.length, all: all.length };
}

/**
 * The archives that an archive template answers: of those that it serves and that list something, where no other stands
 * nearer. Where there are none, all that it serves.
 */
export function archivesAnswered(
  template: Serving,
  templates: readonly Serving[],
  records: readonly ContentRecord[],
  model: ModelIndex,
): { set: ServedPage['set']; archives: ArchiveOf[] } {
  if (template.purpose !== 'archive') return { set: 'answered', archives: [] };
  const { winner } = contenders(among(template, templates), 'archive', model);
  const noRule = () => {
    throw new Error('Targets of archives have no rules.');
  };
  const all = archivesOfTargets(template.serves, records, model);
  const lists = listing(records, model);
  const own = all.filter((archive) => lists(archive) && winner({ archive }, noRule)?.id === template.id);
  return own.length ? { set: 'answered', archives: own } : { set: 'all', archives: all };
}

/** A page of the site, by where it is. */
export interface PageThere {
  id: number;
  title: string;
  address: string;
}

/** The pages that a frame surrounds, of those that published records and archives have: archives first. */
export function pagesSurrounded(
  frame: Serving,
  templates: readonly Serving[],
  records: readonly ContentRecord[],
  model: ModelIndex,
  env: Env,
): PageThere[] {
  const { winner } = contenders(among(frame, templates), 'frame', model);
  const asked = (record: ContentRecord): Env => ({ ...env, record });
  const archives = archivesOfTargets([{ on: 'front' }, { on: 'everything' }, { on: 'missing' }], records, model).filter(
    listing(records, model),
  );
  const pages = [
    ...archives.map((archive) => ({
      page: { archive },
      title: archive.of === 'front' ? 'Front page' : titleOfArchive(archive, model),
      address: addressOfArchive(archive, model),
    })),
    ...records
      .filter(({ status }) => status === 'published')
      .map((record) => ({ page: { record }, title: record.title, address: addressOf(record, model) })),
  ];
  return pages
    .filter(({ page }) => winner(page, asked)?.id === frame.id)
    .map(({ title, address }, at) => ({ id: at + 1, title, address }));
}
