import { LRUCache } from 'lru-cache';
import { questionOf, readQuestion } from '../../core/loops/visitors';
import { perServer } from '../base/server';

/** What stands in the question of an address beyond this is not read. */
const MOST_ASKED = 200;

/** An address in its parts: the path as it was sent, what is given in its question, and of that what says anything. */
export function partsOf(address: string): { path: string; given: [string, string][]; said: [string, string][] } {
  const at = address.indexOf('?');
  if (at < 0) return { path: address || '/', given: [], said: [] };
  const given = [...new URLSearchParams(address.slice(at + 1))].slice(0, MOST_ASKED);
  return { path: address.slice(0, at) || '/', given, said: given.filter(([, value]) => value !== '') };
}

/** The names in questions that pages listen to, by their paths. */
const dependencies = perServer(() => new LRUCache<string, ReadonlySet<string>>({ max: 20_000 }));

/** Notes what the page at a path listens to, when it is kept. */
export const noteDependencies = (path: string, names: ReadonlySet<string>): void =>
  void dependencies().set(path, names);

/**
 * The address of the same page without what it does not listen to, such as where a visitor comes from; as it is where
 * that is not known, or where a form left something empty, which leads to the address without.
 */
export function addressOfDependencies(address: string): string {
  if (!address.includes('?')) return address;
  const { path, given, said } = partsOf(address);
  const names = dependencies().get(path);
  if (!names || said.length < given.length) return address;
  return path + questionOf(readQuestion(said.filter(([name]) => names.has(name))));
}
