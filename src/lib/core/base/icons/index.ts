import set from './set.json';

/** A drawing in a box of 24 by 24, as the Lucide set (ISC licence) has it: elements of SVG with their attributes. */
export type Sign = readonly (readonly [string, Readonly<Record<string, string | number>>])[];

/** One icon of the shipped set: its name, words to find it by, and what is drawn in a box of 24 by 24. */
export interface Icon {
  name: string;
  words: string;
  body: string;
}

/** Every icon, by name. Drawn from the Lucide set (ISC licence); `scripts/icons.mjs` says which. */
export const icons: readonly Icon[] = set;

const byName = new Map(icons.map((icon) => [icon.name, icon]));

export const iconNamed = (name: string): Icon | undefined => byName.get(name);

/** Icons whose name or words begin, word by word, with everything that is searched for. */
export function findIcons(search: string): readonly Icon[] {
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  return icons.filter((icon) => {
    const words = `${icon.name.replace(/-/g, ' ')} ${icon.words}`.split(' ');
    return wanted.every((part) => words.some((word) => word.startsWith(part)));
  });
}

/** An icon as SVG in the size of the text around it. It says nothing to those who listen. */
export function drawIcon(name: string): string {
  const icon = iconNamed(name);
  return icon
    ? `<svg class="icon" viewBox="0 0 24 24" width="1em" height="1em" fill="none" stroke="currentColor" stroke-width="2" stroke-linecap="round" stroke-linejoin="round" aria-hidden="true">${icon.body}</svg>`
    : '';
}
