import type { Coverage } from './coverage';

/** How one section changed between two states of a template, by ids of pages. */
export interface Difference {
  gained: number[];
  lost: number[];
}

/**
 * On which pages a section is that it was not on before, and the other way round; of pages that are in one of the two
 * only, nothing is said. Undefined for a section that is not in both.
 */
export function differenceOf(before: Coverage, after: Coverage, id: string): Difference | undefined {
  const rowOf = ({ sections, shown }: Coverage) => shown[sections.findIndex((section) => section.id === id)];
  const [was, is] = [rowOf(before), rowOf(after)];
  if (!was || !is) return undefined;
  const wasOn = new Map(before.ids.map((page, i) => [page, was[i]]));
  const turned = (now: number) =>
    after.ids.filter((page, i) => is[i] === now && wasOn.has(page) && wasOn.get(page) !== now);
  return { gained: turned(1), lost: turned(0) };
}
