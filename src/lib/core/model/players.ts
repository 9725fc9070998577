import type { Field } from '../schema/field';
import type { ModelIndex } from './model-index';
import { kindOf, subFieldsOf } from './field';

/** Hosts that players may come from, by any field of the model, those of rows too. */
export function playerHosts(model: Pick<ModelIndex, 'types'>): string[] {
  const hosts = new Set<string>();
  const look = (fields: readonly Field[]): void => {
    for (const field of fields) {
      const known = kindOf(field);
      if (known?.kind.outside === 'player')
        for (const host of (known.settings as { hosts?: string[] }).hosts ?? []) hosts.add(host.toLowerCase());
      look(subFieldsOf(field) ?? []);
    }
  };
  for (const type of model.types) look(type.fields);
  return [...hosts].sort();
}
