import { contextFreeWords } from '../rules/explain';
import { compileRule } from '../rules/compile';
import type { ModelIndex } from '../model/model-index';
import { problem, type Problem } from '../base/result';
import type { Purpose, Template } from '../schema/template';
import type { Target } from '../schema/target';

/** Targets that mean something to templates of a purpose. */
export const TARGETS_FOR: Record<Purpose, readonly Target['on'][]> = {
  record: ['everything', 'type', 'taxonomy', 'term', 'rule', 'author', 'records'],
  archive: ['everything', 'type', 'dates', 'taxonomy', 'term', 'authors', 'author', 'search', 'front', 'missing'],
  frame: [
    ...([
      'everything',
      'type',
      'dates',
      'taxonomy',
      'term',
      'authors',
      'author',
      'search',
      'front',
      'missing',
    ] as const),
    ...(['rule', 'records'] as const),
  ],
  part: ['type'],
};

/** A target in words that go after “serves” and “leaves out”. */
export function targetWords(target: Target, model: ModelIndex, purpose: Purpose): string {
  const plural = (typeId: string) => model.type(typeId)?.plural.toLowerCase() ?? 'a content type that is gone';
  const archives = purpose === 'archive';
  switch (target.on) {
    case 'everything':
      return purpose === 'frame' ? 'every page' : archives ? 'every archive' : 'every record';
    case 'type':
      return archives ? `the archive of ${plural(target.typeId)}` : `all ${plural(target.typeId)}`;
    case 'dates':
      return `${plural(target.typeId)} by year and month`;
    case 'taxonomy': {
      const name = model.taxonomy(target.taxonomyId)?.name;
      if (!name) return 'a taxonomy that is gone';
      return archives
        ? `the archive of each term of ${name}`
        : `${target.typeId ? `${plural(target.typeId)} with` : 'what has'} a term of ${name}`;
    }
    case 'term': {
      const term = model.term(target.termId);
      if (!term) return 'a term that is gone';
      const orBelow = model.below(term.id).length > 1 ? ' or below' : '';
      return archives
        ? `the archive of ${term.name}${orBelow}`
        : `${target.typeId ? plural(target.typeId) : 'what is'} filed under ${term.name}${orBelow}`;
    }
    case 'authors':
      return 'the archive of each author';
    case 'author': {
      const name = model.author(target.authorId)?.name ?? 'an author who is gone';
      return archives
        ? `the archive of ${name}`
        : target.typeId
          ? `${plural(target.typeId)} by ${name}`
          : `what ${name} wrote`;
    }
    case 'search':
      return 'the search';
    case 'front':
      return 'the front page';
    case 'missing':
      return 'the page for addresses where there is none';
    case 'rule':
      return `${plural(target.typeId)} for which ${ruleOf(target, model)}`;
    case 'records': {
      const { length } = target.ids;
      const type = model.type(target.typeId);
      return length === 1
        ? `one chosen ${type?.name.toLowerCase() ?? 'record'}`
        : `${length} chosen ${plural(target.typeId)}`;
    }
  }
}

const ruleOf = (target: Target & { on: 'rule' }, model: ModelIndex): string =>
  contextFreeWords(compileRule(target.rule, { recordTypeIds: [target.typeId], loops: [] }, model), model);

/** What a template answers, as a sentence without its full stop. */
export function servesWords(
  { serves, except, purpose }: Pick<Template, 'serves' | 'except' | 'purpose'>,
  model: ModelIndex,
): string {
  const join = (targets: readonly Target[]) => {
    const words = targets.map((target) => targetWords(target, model, purpose));
    return words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words.at(-1)}` : (words[0] ?? '');
  };
  const all = serves.length ? join(serves) : purpose === 'frame' ? 'every page' : 'nothing';
  return `Serves ${all}${except?.length ? `, but not ${join(except)}` : ''}`;
}

const ONE_PAGE = new Set<Target['on']>(['front', 'search', 'missing']);

/** How many a template answers, in words: pages of records, or archives, each of which may come to several pages. */
export function servedWords({ serves, purpose }: Pick<Template, 'serves' | 'purpose'>, count: number): string {
  const archives = purpose === 'archive' && serves.some(({ on }) => !ONE_PAGE.has(on));
  return `${count.toLocaleString('en')} ${archives ? 'archive' : 'page'}${count === 1 ? '' : 's'}`;
}

/** What is wrong with the targets of a template; `at` is `serves` or `except`. */
export function targetProblems(
  targets: readonly Target[],
  purpose: Purpose,
  model: ModelIndex,
  at: 'serves' | 'except',
): Problem[] {
  return targets.flatMap((target, i): Problem[] => {
    const wrong = (what: string, fix?: string) => [problem(`${at}.${i}`, what, fix)];
    if (!TARGETS_FOR[purpose].includes(target.on))
      return wrong(`${targetWords(target, model, purpose)} is nothing that a template of this kind serves.`);
    if ('typeId' in target && target.typeId !== undefined && !model.type(target.typeId))
      return wrong('There is no content type with this id.');
    if ('taxonomyId' in target && !model.taxonomy(target.taxonomyId))
      return wrong('There is no taxonomy with this id.');
    if (target.on === 'term' && !model.term(target.termId)) return wrong('There is no term with this id.');
    if (target.on === 'author' && !model.author(target.authorId)) return wrong('There is no author with this number.');
    if (target.on === 'records' && !target.ids.length)
      return wrong('No record is chosen.', 'Choose one, or take this away.');
    if (target.on === 'rule') {
      const { problems } = compileRule(target.rule, { recordTypeIds: [target.typeId], loops: [] }, model);
      return problems.map((p) => ({ ...p, at: `${at}.${i}.rule${p.at && `.${p.at}`}` }));
    }
    return [];
  });
}
