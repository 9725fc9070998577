import { currentName, learnIcons, type Icon } from './index';
import set from './set.json';

/** Every icon. Importing this makes all their drawings known, as a server needs; a browser asks for those that it draws. */
export const icons: readonly Icon[] = set;
learnIcons(icons);

const byName = new Map(icons.map((icon) => [icon.name, icon]));

/** The icons of these names, former ones too; names of none are passed over. */
export const iconsNamed = (names: readonly string[]): Icon[] =>
  names.flatMap((name) => byName.get(currentName(name)) ?? []);

/**
 * Icons whose name or words begin, word by word, with everything that is searched for; the one so named first, then
 * those in whose names they are. */
export function findIcons(search: string): readonly Icon[] {
  const wanted = search.toLowerCase().split(/\s+/).filter(Boolean);
  const starts = (words: string[]) => wanted.every((part) => words.some((word) => word.startsWith(part)));
  const named: Icon[] = [];
  const meant: Icon[] = [];
  for (const icon of icons) {
    const own = icon.name.split('-');
    if (starts(own)) named.push(icon);
    else if (starts([...own, ...icon.words.split(' ')])) meant.push(icon);
  }
  const whole = wanted.join('-');
  return [...named.filter(({ name }) => name === whole), ...named.filter(({ name }) => name !== whole), ...meant];
}
