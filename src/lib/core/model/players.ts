import type { Field } from '../schema/field';
import type { ModelIndex } from './model-index';
import { kindOf, subFieldsOf } from './field';
import type { PlayerHost } from './kinds/player';

/** Asked for with every page; a model does not change. */
const known = new WeakMap<object, readonly string[]>();

/** Hosts that players may come from, by any field of the model, those of rows too. */
export function playerHosts(model: Pick<ModelIndex, 'types'>): readonly string[] {
  const before = known.get(model);
  if (before) return before;
  const hosts = new Set<string>();
  const look = (fields: readonly Field[]): void => {
    for (const field of fields) {
      const made = kindOf(field);
      if (made?.kind.outside)
        for (const { host } of (made.settings as { hosts?: PlayerHost[] }).hosts ?? []) hosts.add(host);
      look(subFieldsOf(field) ?? []);
    }
  };
  for (const type of model.types) look(type.fields);
  const sorted = [...hosts].sort();
  known.set(model, sorted);
  return sorted;
}
