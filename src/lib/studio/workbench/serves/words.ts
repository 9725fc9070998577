import type { ModelIndex } from '$lib/core/model/model-index';
import type { Target } from '$lib/core/schema/target';

/** How a target begins in the list of what a template serves. */
export const TARGET_WORDS: Record<Target['on'], string> = {
  everything: 'Everything',
  type: 'All',
  dates: 'By year and month:',
  taxonomy: 'With any term of',
  term: 'Filed under',
  authors: 'The archive of each author',
  author: 'By',
  search: 'The search',
  front: 'The front page',
  missing: 'Addresses where there is no page',
  rule: 'By a rule on',
  records: 'Chosen',
};

/** A target of a kind to begin with; undefined where the site has nothing for it yet. */
export function freshTarget(on: Target['on'], index: ModelIndex, typeId = index.types[0]?.id): Target | undefined {
  switch (on) {
    case 'type':
    case 'dates':
      return typeId === undefined ? undefined : { on, typeId };
    case 'rule':
      return typeId === undefined ? undefined : { on, typeId, rule: { group: 'all', rules: [] } };
    case 'records':
      return typeId === undefined ? undefined : { on, typeId, ids: [] };
    case 'taxonomy': {
      const [first] = index.taxonomies;
      return first && { on, taxonomyId: first.id };
    }
    case 'term': {
      const [first] = index.terms;
      return first && { on, termId: first.id };
    }
    case 'author': {
      const [first] = index.authors;
      return first && { on, authorId: first.id };
    }
    default:
      return { on };
  }
}
