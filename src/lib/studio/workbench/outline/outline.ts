import type { Sign as SignShape } from '$lib/core/base/icons';
import { leftOutWords } from '$lib/core/checks/why';
import { elementNamed } from '$lib/core/elements';
import { fixedWords, sentenceOf } from '$lib/core/templates/names';
import { pathWords } from '$lib/core/paths/built-ins';
import { explain, type Explained } from '$lib/core/rules/explain';
import type { Workbench } from '../state/workbench.svelte';

/** One line of the outline, flat, so that lines which stay as they are can be told. */
export interface OutlineRow {
  id: string;
  depth: number;
  sign: SignShape | undefined;
  label: string;
  /** Why it is not on the page in front of the designer; undefined while it is. */
  gone?: 'rule' | 'empty' | 'above';
  /** The reason, in words. */
  why?: string;
  /** What it is bound to first. */
  bound?: string;
  /** What is wrong with it. */
  broken?: string;
  repeats: boolean;
  ruled: boolean;
  holds: boolean;
  folded: boolean;
}

const testsOf = (part: Explained): string[] =>
  part.parts.length ? part.parts.flatMap(testsOf) : [`${part.words}: saw ${part.saw ?? 'nothing'}`];

function absence(wb: Workbench, id: string): Pick<OutlineRow, 'gone' | 'why'> {
  const fates = wb.preview.fates.get(id);
  if (!fates) return { gone: 'above', why: 'What it stands in is not shown.' };
  if (fates.drawn) return {};
  const made = wb.compiledOf(id);
  if (!fates.rule) {
    const env = () => wb.preview.envAt(made?.scopes ?? wb.scopes);
    const why = made && leftOutWords(wb.tree, made, id, env, (one) => wb.titleOf(one));
    return { gone: 'empty', why };
  }
  return made?.rule ? { gone: 'rule', why: testsOf(explain(made.rule, wb.preview.envAt(made.scopes))).join('; ') } : {};
}

/** What the outline lists, in reading order. */
export function outlineRows(wb: Workbench): OutlineRow[] {
  const boundTo = new Map<string, string>();
  for (const use of wb.uses)
    if (!boundTo.has(use.elementId) && use.via !== 'rule' && use.via !== 'repeats')
      boundTo.set(use.elementId, pathWords(use.path, wb.index));
  const broken = new Map(wb.looseEnds.map((end) => [end.elementId, end.what]));
  return wb.selection.listed.map(({ element, depth }) => {
    const { id } = element;
    const kind = elementNamed(element.kind);
    const bound = boundTo.get(id);
    return {
      id,
      depth,
      sign: kind?.sign,
      label: element.name || sentenceOf(element, wb.index) || bound || fixedWords(element) || (kind?.label ?? ''),
      gone: undefined,
      why: undefined,
      ...absence(wb, id),
      bound,
      broken: broken.get(id),
      repeats: Boolean(wb.compiledOf(id)?.loop),
      ruled: Boolean(element.rule?.rules.length),
      holds: element.children.length > 0,
      folded: wb.selection.folded.has(id),
    };
  });
}
