import { elementNamed } from '../elements';
import type { ElementKind } from '../elements/element';
import type { LooseEnd } from '../render/compile';
import type { Element } from '../schema/element';

/** Where in the settings of an element something is decided. */
export const TABS = ['repeats', 'branches', 'visitors', 'values', 'looks', 'css', 'rule'] as const;
export type SettingsTab = (typeof TABS)[number];

const PLACES: Record<string, { tab: SettingsTab; words: string }> = {
  repeats: { tab: 'repeats', words: 'what it repeats' },
  rule: { tab: 'rule', words: 'when it appears' },
  css: { tab: 'css', words: 'own CSS' },
  style: { tab: 'looks', words: 'looks' },
  contrast: { tab: 'looks', words: 'looks' },
  level: { tab: 'looks', words: 'level' },
  props: { tab: 'looks', words: 'settings' },
  about: { tab: 'looks', words: 'what it shows' },
  page: { tab: 'rule', words: 'the page' },
};

/** Where a loose end is mended, and what stands there, such as “Alternative text”. */
export function placeOfEnd(
  { via }: Pick<LooseEnd, 'via'>,
  { kind }: Pick<Element, 'kind'>,
): { tab: SettingsTab; words: string } {
  if (via === 'rule' && kind === 'alternatives') return { tab: 'branches', words: 'branches' };
  const label = elementNamed(kind)?.slots[via]?.label;
  return PLACES[via] ?? { tab: 'values', words: label?.toLowerCase() ?? 'values' };
}

/** Where the first decision about a new element is made: what it repeats, its branches, what it says, or how it stands. */
export function firstTab(kind: ElementKind | undefined): SettingsTab {
  if (kind?.loop) return 'repeats';
  if (kind?.name === 'alternatives') return 'branches';
  const says = Object.values(kind?.slots ?? {}).some(({ required, drops = true }) => required || drops);
  return says ? 'values' : 'looks';
}
