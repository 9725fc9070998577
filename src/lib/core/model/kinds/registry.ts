import type { FieldKind } from './kind';

const byName = new Map<string, FieldKind>();

/** Makes kinds known by name. Kinds that hold fields of other kinds ask here, so that no kind needs to import the list. */
export function register(kinds: readonly FieldKind[]): void {
  for (const kind of kinds) byName.set(kind.name, kind);
}

export const kindNamed = (name: string): FieldKind | undefined => byName.get(name);
