import { former, names } from './names.json';

/** A drawing in a box of 24 by 24, as the Lucide set (ISC licence) has it: elements of SVG with their attributes. */
export type Sign = readonly (readonly [string, Readonly<Record<string, string | number>>])[];

/** One icon of the shipped set: its name, words to find it by, and what is drawn in a box of 24 by 24. */
export interface Icon {
  name: string;
  words: string;
  body: string;
}

/** The names of every icon of the shipped set, which is that of Lucide (ISC licence); see `scripts/icons.mjs`. */
export const iconNames: readonly string[] = names.split(' ');

const known = new Set(iconNames);
/** The name that an icon has now: some were called otherwise in earlier releases of the set. */
export const currentName = (name: string): string => (former as Record<string, string>)[name] ?? name;
export const isIcon = (name: string): boolean => known.has(currentName(name));

/** Drawings by the name of their icon: all of them where `./all` has been imported, else those that were learned. */
const drawings = new Map<string, string>();

/** Makes the drawings of icons known to whatever draws them. */
export function learnIcons(icons: readonly Icon[]): void {
  for (const { name, body } of icons) drawings.set(name, body);
}

let onMissing: ((name: string) => void) | undefined;
/** Sets what is done with the name of an icon that is drawn and whose drawing is not known, such as fetching it. */
export function onMissingIcon(listener: (name: string) => void): void {
  onMissing = listener;
}

/** An icon as SVG in the size of the text around it. It says nothing to those who listen. */
export function drawIcon(name: string): string {
  if (!isIcon(name)) return '';
  const body = drawings.get(currentName(name));
  if (body === undefined) onMissing?.(currentName(name));
  return `<svg class="icon" viewBox="0 0 24 24" width="1em" height="1em" fill="none" stroke="currentColor" stroke-width="2" stroke-linecap="round" stroke-linejoin="round" aria-hidden="true">${body ?? ''}</svg>`;
}
