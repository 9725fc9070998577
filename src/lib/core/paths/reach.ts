import { fieldsOf } from './items';
import { kindOf } from '../model/model';
import type { ModelIndex } from '../model/model-index';
import { archiveBuiltIns, recordBuiltIns, siteBuiltIns, iterationBuiltIns } from './built-ins';
import { compilePath, leadsOn } from './compile';
import type { Env } from './env';
import type { Path } from '../schema/path';
import type { Scopes, ValueType } from './scopes';

/** A value that can be reached from a place: its path, its type, and whether other values lie behind it. */
export interface Reachable {
  path: Path;
  type: ValueType;
  /** The last step in words. */
  label: string;
  opens: boolean;
  read(env: Env): unknown;
}

export interface ReachGroup {
  from: string;
  name: string;
  entries: Reachable[];
}

const stepsOf = (typeIds: string[], model: ModelIndex): string[] => {
  const taxonomies = new Set(typeIds.flatMap((id) => model.type(id)?.taxonomyIds ?? []));
  const builtIns = recordBuiltIns(model)
    .map((b) => b.name)
    .filter((name) => !name.startsWith('@terms:') || taxonomies.has(name.slice('@terms:'.length)));
  const fields = typeIds.flatMap(
    (id) =>
      model
        .type(id)
        ?.fields.filter((field) => kindOf(field))
        .map((field) => field.id) ?? [],
  );
  const [title = '@title', ...others] = builtIns;
  return [title, ...fields, ...others];
};

function entry(path: Path, scopes: Scopes, model: ModelIndex): Reachable[] {
  const made = compilePath(path, scopes, model);
  if (!made.ok) return [];
  const { type, read } = made.value;
  const label = type.label.split(' → ').at(-1) as string;
  return [{ path, type, label, opens: leadsOn(type), read }];
}

/** Where a field has the name of what every record has, such as Address, the latter says that it is that of the page. */
function toldApart(one: Reachable, among: readonly Reachable[]): Reachable {
  const isBuiltIn = one.path.steps[0]?.startsWith('@');
  if (!isBuiltIn || among.filter(({ label }) => label === one.label).length < 2) return one;
  return { ...one, label: `${one.label} (of ${one.path.from === 'record' ? 'this' : 'its'} page)` };
}

/** Everything that a path may start with here, by scope: the innermost loop first, the site last. */
export function reachable(scopes: Scopes, model: ModelIndex): ReachGroup[] {
  const groups: ReachGroup[] = [];
  const add = (from: string, name: string, steps: string[]) => {
    const entries = steps.flatMap((step) => entry({ from, steps: [step] }, scopes, model));
    groups.push({ from, name, entries: entries.map((one) => toldApart(one, entries)) });
  };
  for (const loop of [...scopes.loops].reverse())
    add(`loop:${loop.id}`, `Each ${loop.name}`, [
      ...(loop.fields ? loop.fields.map((field) => field.id) : stepsOf(loop.typeIds, model)),
      ...iterationBuiltIns
        .map((b) => b.name)
        .filter((name) => (loop.grouped || !name.startsWith('@group')) && (loop.searched || name !== '@found')),
    ]);
  if (scopes.recordTypeIds) {
    const names = scopes.recordTypeIds.map((id) => model.type(id)?.name).filter(Boolean);
    add('record', `This ${names.join(' or ') || 'record'}`, stepsOf(scopes.recordTypeIds, model));
  }
  if (scopes.archive)
    add(
      'archive',
      'The archive',
      archiveBuiltIns(scopes.archive).map((b) => b.name),
    );
  add(
    'site',
    'The site',
    siteBuiltIns.map((b) => b.name),
  );
  return groups;
}

/** What lies one step behind a relation or rows. */
export function beyond(from: Reachable, scopes: Scopes, model: ModelIndex): Reachable[] {
  if (!from.opens || from.path.steps.length >= 6) return [];
  const steps =
    from.type.kind.family.leads === 'entry'
      ? (fieldsOf(from.type) ?? []).map((field) => field.id)
      : stepsOf(from.type.typeIds, model);
  return steps.flatMap((step) => entry({ from: from.path.from, steps: [...from.path.steps, step] }, scopes, model));
}
