import type { ModelIndex } from '../model/model-index';
import type { CompiledElement, LooseEnd } from '../render/compile';
import { testsIn } from '../rules/analyse';
import { SCREENS } from '../schema/style';
import type { Element, Tree } from '../schema/element';
import type { Theme } from '../schema/theme';
import { readKey } from '../styles/boxes';
import { isToken } from '../styles/property';
import { branchEdit, noBranches } from '../templates/branches';
import type { Edit } from '../templates/edits';
import { contrast } from '../theme/contrast';

/** What a mend is made from. */
export interface MendContext {
  tree: Tree;
  elements: ReadonlyMap<string, CompiledElement>;
  model: ModelIndex;
  theme: Theme;
}

/** An edit that mends, with what it does as an order, such as “Make it level 1”. */
export interface Mend extends Edit {
  words: string;
}

/** What would mend a loose end as one edit, where one thing would; undefined where it is for the designer to choose. */
export function mendOf(end: LooseEnd, ground: MendContext): Mend | undefined {
  const element = ground.tree.elements[end.elementId];
  if (!element) return undefined;
  const [first, second] = end.at.split('.');
  if (end.via === 'level') {
    const level = Number(/level (\d)\.$/.exec(end.fix ?? '')?.[1]);
    return level
      ? put(`Make it level ${level}`, `Made a heading of level ${level}`, element, ['props', 'level'], level)
      : undefined;
  }
  if (end.via === 'style') return withoutTokens(element, ground.theme);
  if (end.via === 'contrast') return readable(element, end, ground.theme);
  if (end.via === 'rule' && first === 'rule') return branchMend(element, end, ground);
  if (first === 'formats' && second) {
    const slot = element.slots[end.via];
    const formats = slot && 'bound' in slot ? slot.bound.formats.filter((_, at) => at !== Number(second)) : undefined;
    return (
      formats &&
      put('Take the format away', 'Took a format away', element, ['slots', end.via, 'bound', 'formats'], formats)
    );
  }
  return undefined;
}

const put = (words: string, label: string, { id }: Element, at: string[], value: unknown): Mend => ({
  words,
  label,
  operations: [{ do: 'put', id, at, value }],
});

/** Looks without those that name a token which is gone. */
function withoutTokens(element: Element, theme: Theme): Mend | undefined {
  const operations: Mend['operations'] = SCREENS.flatMap((screen) =>
    Object.entries(element.style?.[screen] ?? {}).flatMap(([name, value]) => {
      const control = readKey(name)?.property.control;
      const gone =
        control?.as === 'token' && isToken(value) && !theme[control.of].some(({ key }) => key === String(value));
      return gone ? [{ do: 'put', id: element.id, at: ['style', screen, name], value: undefined }] : [];
    }),
  );
  if (element.look && !theme.looks.some(({ key }) => key === element.look))
    operations.push({ do: 'put', id: element.id, at: ['look'], value: undefined });
  return operations.length
    ? { words: 'Take these looks away', label: 'Took away looks whose token is gone', operations }
    : undefined;
}

/** The colour of the theme that reads best on the ground that was seen. */
function readable(element: Element, { at }: LooseEnd, theme: Theme): Mend | undefined {
  const [, ground = '', needed = '4.5'] = /^contrast (\S+) ([\d.]+)$/.exec(at) ?? [];
  const [best] = theme.colour
    .map(({ key, name, value }) => ({ key, name, ratio: contrast(value, ground) }))
    .sort((a, b) => b.ratio - a.ratio);
  return best && best.ratio >= Number(needed)
    ? put(`Take ${best.name} for it`, `Took ${best.name} for its text`, element, ['style', 'wide', 'colour'], best.key)
    : undefined;
}

/** Branches that are missing, or one that has nothing in it. */
function branchMend(element: Element, { cause }: LooseEnd, { tree, elements, model }: MendContext): Mend | undefined {
  const { id, kind, children } = element;
  if (kind !== 'alternatives')
    return cause === 'empty branch'
      ? { words: 'Take the branch away', label: 'Took away an empty branch', operations: [{ do: 'remove', id }] }
      : undefined;
  const scopes = elements.get(id)?.scopes;
  const tested = children
    .flatMap((child) => elements.get(child)?.rule ?? [])
    .flatMap(testsIn)
    .find(({ path: { type } }) => !noBranches(type));
  const edit = scopes && tested && branchEdit({ tree, scopes, model }, id, tested.path.path, tested.path.type);
  return edit && { ...edit, words: edit.operations.length > 1 ? 'Add the branches' : 'Add the branch' };
}
