import type { ModelIndex } from '../model/model-index';
import { servesWords } from '../serving/targets';
import { nameOf } from '../templates/names';
import { parentOf } from '../templates/tree';
import type { Element, Tree } from '../schema/element';
import type { Template } from '../schema/template';
import { same } from './canonical';
import type { Change } from './change';
import type { Design } from './design';
import { modelChanges } from './model-changes';

/** Everything that is different between two designs, in the words of the model as it is after. */
export function changesBetween(before: Design, after: Design, model: ModelIndex): Change[] {
  const listed = <T extends { id: string; name: string; version: number }>(
    what: Change['what'],
    from: readonly T[],
    to: readonly T[],
    told: (a: T, b: T) => string[],
  ): Change[] => {
    const known = new Map(from.map((one) => [one.id, one]));
    const kept = new Set(to.map((one) => one.id));
    return [
      ...to.flatMap((one): Change[] => {
        const former = known.get(one.id);
        if (!former) return [{ what, how: 'new', id: one.id, name: one.name, details: [] }];
        const details = told(former, one);
        return details.length ? [{ what, how: 'changed', id: one.id, name: one.name, details }] : [];
      }),
      ...from
        .filter((one) => !kept.has(one.id))
        .map((one): Change => ({ what, how: 'gone', id: one.id, name: one.name, details: [] })),
    ];
  };
  const renamed = (a: { name: string }, b: { name: string }) => (a.name === b.name ? [] : [`Renamed from “${a.name}”`]);
  const templates = listed('template', before.templates, after.templates, (a, b) => [
    ...renamed(a, b),
    ...(same([a.serves, a.except ?? []], [b.serves, b.except ?? []])
      ? []
      : [`${servesWords(b, model)}; before: ${lowerFirst(servesWords(a, model))}`]),
    ...treeChanges(a.tree, b.tree, model),
  ]);
  const order = orderChanges(before.templates, after.templates);
  const rules = listed('rule', before.rules, after.rules, (a, b) => [
    ...renamed(a, b),
    ...(same([a.typeId, a.rule], [b.typeId, b.rule]) ? [] : ['Asks something else']),
  ]);
  const menus = listed('menu', before.menus, after.menus, (a, b) => [
    ...renamed(a, b),
    ...(same(a.entries, b.entries) ? [] : ['Has other entries']),
  ]);
  const details = themeChanges(before.theme, after.theme);
  const theme: Change[] = details.length ? [{ what: 'theme', how: 'changed', id: '', name: 'Theme', details }] : [];
  return [...modelChanges(before, after), ...templates, ...order, ...rules, ...menus, ...theme];
}

const lowerFirst = (text: string) => text.slice(0, 1).toLowerCase() + text.slice(1);

/** Templates whose place among those of their purpose has changed. */
function orderChanges(before: readonly Template[], after: readonly Template[]): Change[] {
  const line = (list: readonly Template[], ids: ReadonlySet<string>) =>
    [...list].filter(({ id }) => ids.has(id)).sort((a, b) => a.order - b.order || (a.id < b.id ? -1 : 1));
  const both = new Set(before.map(({ id }) => id).filter((id) => after.some((one) => one.id === id)));
  const [was, now] = [line(before, both), line(after, both)];
  return was.some(({ id }, i) => id !== now[i]?.id)
    ? [
        {
          what: 'order',
          how: 'changed',
          id: '',
          name: 'Order of templates',
          details: [now.map(({ name }) => name).join(', ')],
        },
      ]
    : [];
}

const MOST_NAMED = 3;
const named = (elements: readonly Element[], model: ModelIndex): string => {
  const names = elements.slice(0, MOST_NAMED).map((element) => `“${nameOf(element, model)}”`);
  const more = elements.length - names.length;
  return names.join(', ') + (more > 0 ? ` and ${more} more` : '');
};

/** What is different between two trees, element by element. */
export function treeChanges(before: Tree, after: Tree, model: ModelIndex): string[] {
  const own = (tree: Tree) => Object.values(tree.elements);
  const added = own(after).filter(({ id }) => !Object.hasOwn(before.elements, id));
  const gone = own(before).filter(({ id }) => !Object.hasOwn(after.elements, id));
  const pairs = own(after).flatMap((now) => {
    const was = before.elements[now.id];
    return was ? [{ was, now }] : [];
  });
  const parts: [string, (element: Element) => unknown][] = [
    ['Other values or words', ({ slots }) => slots],
    ['Other settings', ({ props, kind }) => [kind, props]],
    ['Other rule', ({ rule }) => rule ?? null],
    ['Other looks', ({ style, css }) => [style ?? null, css ?? null]],
    ['Renamed', ({ name }) => name ?? null],
  ];
  const different = parts.flatMap(([words, of]) => {
    const changed = pairs.filter(({ was, now }) => !same(of(was), of(now))).map(({ now }) => now);
    return changed.length ? [`${words}: ${named(changed, model)}`] : [];
  });
  const placeOf = (tree: Tree, id: string) => {
    const place = parentOf(tree, id);
    return (
      place &&
      `${place.parent.id} ${place.parent.children.filter((one) => before.elements[one] && after.elements[one]).indexOf(id)}`
    );
  };
  const moved = pairs.filter(({ now }) => placeOf(before, now.id) !== placeOf(after, now.id)).map(({ now }) => now);
  return [
    ...(added.length ? [`Added: ${named(added, model)}`] : []),
    ...(gone.length ? [`Taken out: ${named(gone, model)}`] : []),
    ...(moved.length ? [`Moved: ${named(moved, model)}`] : []),
    ...different,
  ];
}

/** Tokens that are different, by group. */
function themeChanges(before: Design['theme'], after: Design['theme']): string[] {
  const groups = new Set([...Object.keys(before), ...Object.keys(after)]) as Set<keyof Design['theme']>;
  return [...groups].flatMap((group) => {
    if (same(before[group], after[group])) return [];
    const list = (value: unknown): { key?: string; name?: string }[] =>
      Array.isArray(value) ? (value as { key?: string; name?: string }[]) : [];
    const former = new Map(list(before[group]).map((token) => [token.key, token]));
    const changed = list(after[group]).filter((token) => !same(former.get(token.key), token));
    const words = changed.slice(0, 6).map(({ name, key }) => name ?? key ?? '');
    return [`${String(group)}${words.length ? `: ${words.join(', ')}` : ''}`];
  });
}
