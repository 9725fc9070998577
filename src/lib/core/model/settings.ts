import type { Field } from '../schema/field';
import type { Option } from './kinds/choice';
import type { PlayerHost } from './kinds/player';

/**
 * What the settings of a field say, asked by name. Each kind has settings of its own and says in its schema what they are; who
 * meets a field of any kind asks here, and is given nothing where that kind does not say it.
 */

const at = (settings: unknown, name: string): unknown =>
  typeof settings === 'object' && settings !== null ? (settings as Record<string, unknown>)[name] : undefined;
const list = <T>(settings: unknown, name: string): T[] => {
  const value = at(settings, name);
  return Array.isArray(value) ? (value as T[]) : [];
};
const text = (settings: unknown, name: string): string | undefined => {
  const value = at(settings, name);
  return typeof value === 'string' ? value : undefined;
};
const number = (settings: unknown, name: string): number | undefined => {
  const value = at(settings, name);
  return typeof value === 'number' ? value : undefined;
};

/** What stands after a number, such as “m”, and after one of it where that is a word. */
export const unitIn = (settings: unknown): { unit?: string; unitOne?: string } => ({
  unit: text(settings, 'unit'),
  unitOne: text(settings, 'unitOne'),
});
/** The smallest and the largest number that may be. */
export const boundsIn = (settings: unknown): { min?: number; max?: number } => ({
  min: number(settings, 'min'),
  max: number(settings, 'max'),
});
export const decimalsIn = (settings: unknown): number | undefined => number(settings, 'decimals');
/** The fewest and the most values, rows or options that may be. */
export const countsIn = (settings: unknown): { least?: number; most?: number } => ({
  least: number(settings, 'least'),
  most: number(settings, 'most'),
});
/** The types of the records that a relation leads to. */
export const targetsIn = (settings: unknown): string[] => list(settings, 'typeIds');
/** Whether several may be related; so it is where nothing is said. */
export const leadsToMany = (settings: unknown): boolean => at(settings, 'many') !== false;
export const taxonomyIn = (settings: unknown): string => text(settings, 'taxonomyId') ?? '';
/** The sub-fields of rows. */
export const fieldsIn = (settings: unknown): Field[] => list(settings, 'fields');
export const hasOptions = (settings: unknown): boolean => Array.isArray(at(settings, 'options'));
export const optionsIn = (settings: unknown): Option[] => list(settings, 'options');
/** Options that were taken away, and that values may still be. */
export const formerOptionsIn = (settings: unknown): Option[] => list(settings, 'gone');
/** The hosts of players that are allowed. */
export const hostsIn = (settings: unknown): PlayerHost[] => list(settings, 'hosts');
