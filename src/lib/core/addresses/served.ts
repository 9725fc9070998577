import type { ModelIndex } from '../model/model-index';
import type { ContentRecord } from '../schema/record';
import type { Target } from '../schema/target';
import { monthsOf, type ArchiveOf } from './archives';

/** Every archive that targets name, each once, also those that list nothing: terms in their order, months newest first. */
export function archivesOfTargets(
  targets: readonly Target[],
  records: readonly ContentRecord[],
  model: ModelIndex,
): ArchiveOf[] {
  const shown = records.filter(({ status }) => status === 'published');
  const seen = new Set<string>();
  // Those of years and months are of their type too, where nothing nearer answers them.
  const dated = targets.flatMap((target): Target[] =>
    target.on === 'type' ? [{ on: 'dates', typeId: target.typeId }] : [],
  );
  return [...targets, ...dated]
    .flatMap((target) => archivesOf(target, shown, model))
    .filter((of) => {
      const key = JSON.stringify(of);
      return !seen.has(key) && Boolean(seen.add(key));
    });
}

/** Whether archives list anything, by what is published; a search and what is not found are pages all the same. */
export function listing(records: readonly ContentRecord[], model: ModelIndex): (of: ArchiveOf) => boolean {
  const shown = records.filter(({ status }) => status === 'published');
  const types = new Set(shown.map(({ typeId }) => typeId));
  const terms = new Set(shown.flatMap((record) => record.terms.flatMap((id) => model.above(id))));
  const authors = new Set(shown.map(({ authorId }) => authorId));
  return (of) => {
    if (of.of === 'type') return types.has(of.typeId);
    if (of.of === 'term') return terms.has(of.termId);
    return of.of === 'author' ? authors.has(of.authorId) : true;
  };
}

function archivesOf(target: Target, shown: readonly ContentRecord[], model: ModelIndex): ArchiveOf[] {
  const terms = (ids: readonly string[]) => ids.map((termId): ArchiveOf => ({ of: 'term', termId }));
  const on = (more: Target) => archivesOf(more, shown, model);
  switch (target.on) {
    case 'type':
      return [{ of: 'type', typeId: target.typeId }];
    case 'taxonomy':
      return terms(model.termsOf(target.taxonomyId).map(({ id }) => id));
    case 'term':
      return terms(model.below(target.termId));
    case 'authors':
      return model.authors.map(({ id }) => ({ of: 'author', authorId: id }));
    case 'author':
      return [{ of: 'author', authorId: target.authorId }];
    case 'dates': {
      const { typeId } = target;
      const own = shown.filter((record) => record.typeId === typeId);
      const months = monthsOf(own, model);
      const years = [...new Set(months.map(({ year }) => year))];
      return years.flatMap((year): ArchiveOf[] => [
        { of: 'date', typeId, year },
        ...months.filter((one) => one.year === year).map((month): ArchiveOf => ({ of: 'date', typeId, ...month })),
      ]);
    }
    case 'search': {
      // Something to look at from the first: the first word of some title.
      const [word] = (shown[0]?.title ?? '').split(' ');
      return [{ of: 'search', words: word ?? '' }];
    }
    case 'front':
      return [{ of: 'front' }];
    case 'missing':
      return [{ of: 'missing' }];
    case 'everything':
      return [
        ...model.types.map(({ id }): ArchiveOf => ({ of: 'type', typeId: id })),
        ...model.taxonomies.flatMap(({ id }) => on({ on: 'taxonomy', taxonomyId: id })),
        ...on({ on: 'authors' }),
        ...model.types.flatMap(({ id }) => on({ on: 'dates', typeId: id })),
        ...on({ on: 'search' }),
      ];
    case 'rule':
    case 'records':
      return [];
  }
}
