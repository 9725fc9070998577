import { fieldsIn, targetsIn } from '../model/settings';
import type { ContentRecord } from '../schema/record';
import { kindOf, type Field } from '../model/model';
import type { ModelIndex } from '../model/model-index';
import { fail, ok, problem, type Result } from '../base/result';
import { archiveBuiltIns, recordBuiltIns, siteBuiltIns, iterationBuiltIns, type BuiltIn } from './built-ins';
import { neverEmpty } from '../model/kinds/kind';
import type { Env, Iteration } from './env';
import type { Row, Thing } from './pool';
import type { Path } from '../schema/path';
import type { Scopes, ValueType } from './scopes';

/** A path made ready: its type, and a function that reads it. Reads one value or undefined, or for many an array. */
export interface CompiledPath {
  path: Path;
  type: ValueType;
  read(env: Env): unknown;
}

type ReadRecord = (env: Env) => ContentRecord | undefined;
type ReadThing = (env: Env) => Thing | undefined;
type ReadOf<T> = (record: T, env: Env) => unknown;

/** Where a path starts: the content types there, how the record is read, and the built-in values beside it. */
interface Start {
  name: string;
  typeIds: string[];
  fields?: Field[];
  record?: ReadRecord;
  thing?: ReadThing;
  builtIn?(name: string): { type: BuiltIn<never>; read(env: Env): unknown } | undefined;
}

const find = <T>(list: BuiltIn<T>[], name: string, of: (env: Env) => T | undefined) => {
  const found = list.find((b) => b.name === name);
  return (
    found && {
      type: found as BuiltIn<never>,
      read: (env: Env) => {
        const it = of(env);
        return it === undefined ? undefined : found.read(it, env);
      },
    }
  );
};

function startOf(from: string, scopes: Scopes): Start | undefined {
  if (from === 'site')
    return { name: 'the site', typeIds: [], builtIn: (name) => find(siteBuiltIns, name, (env) => env) };
  const { archive } = scopes;
  if (from === 'archive' && archive)
    return {
      name: 'the archive',
      typeIds: [],
      builtIn: (name) => find(archiveBuiltIns(archive), name, (env) => env.archive),
    };
  if (from === 'record' && scopes.recordTypeIds)
    return { name: 'this record', typeIds: scopes.recordTypeIds, record: (env) => env.record };
  const loop = scopes.loops.findLast((scope) => from === `loop:${scope.id}`);
  if (!loop) return undefined;
  const depth = loop.depth;
  return {
    name: loop.name,
    typeIds: loop.typeIds,
    fields: loop.fields,
    record: (env) => env.turns[depth]?.record,
    thing: loop.fields ? (env) => env.turns[depth]?.row : undefined,
    builtIn: (name) => find<Iteration>(iterationBuiltIns, name, (env) => env.turns[depth]),
  };
}

const labelled = (labels: string[]) => labels.join(' → ');

/**
 * Makes a path ready for one place in a template. Type and number follow from the path alone: the path is many as soon
 * as one of its steps is. Fails, saying which step, where the scope or a field does not exist.
 */
export function compilePath(path: Path, scopes: Scopes, model: ModelIndex): Result<CompiledPath> {
  const start = startOf(path.from, scopes);
  if (!start)
    return fail(
      problem('from', `Nothing named “${path.from}” can be reached from here.`, 'Choose a value from the shelf.'),
    );
  if (path.steps.length === 0)
    return fail(problem('steps', `The path stops at ${start.name} itself.`, 'Choose one of its values.'));

  const labels: string[] = [];
  let place: Place = { typeIds: start.typeIds, fields: start.fields };
  let one: ReadThing | undefined = start.thing ?? start.record;
  let many: ((env: Env) => Thing[]) | undefined;

  for (const [i, step] of path.steps.entries()) {
    const last = i === path.steps.length - 1;
    const at = `steps.${i}`;
    if (i === 0 && last) {
      const direct = start.builtIn?.(step);
      if (direct) {
        const { kind, settings, label } = direct.type;
        return ok({ path, type: { kind, settings, many: direct.type.many, label, typeIds: [] }, read: direct.read });
      }
    }
    const value = place.fields ? rowValue(step, place.fields) : stepValue(step, place.typeIds, model);
    if (!value.ok) return fail(...value.problems.map((p) => ({ ...p, at })));
    const { type, read, label } = value.value;
    labels.push(label);
    if (last) {
      const end: ValueType = { ...type, many: type.many || many !== undefined, label: labelled(labels) };
      return ok({
        path,
        type: end,
        read: many ? readFromMany(many, read, type.many) : readFromOne(one, read, type.many),
      });
    }
    if (!leadsOn(type))
      return fail(problem(at, `“${label}” does not lead on to other values.`, 'Choose a value from the shelf.'));
    const toRecord = type.kind.family.leads === 'record';
    if (many || type.many) {
      const values = many ? readFromMany(many, read, type.many) : readFromOne(one, read, true);
      many = toRecord
        ? (env) => (values(env) as number[]).map((id) => env.pool.record(id)).filter((r) => r !== undefined)
        : (values as (env: Env) => Row[]);
      one = undefined;
    } else {
      const id = readFromOne(one, read, false);
      one = (env) => {
        const found = id(env) as number | undefined;
        return found === undefined ? undefined : env.pool.record(found);
      };
    }
    place = toRecord ? { typeIds: type.typeIds } : { typeIds: [], fields: fieldsIn(type.settings) };
  }
  return fail(problem('steps', 'The path has no end.'));
}

/**
 * What leads to one record of given types: a path that ends at a relation or stops at a scope, or without one the
 * nearest scope that has such records. Fails where there is none.
 */
export function compileRecord(
  path: Path | undefined,
  typeIds: readonly string[],
  scopes: Scopes,
  model: ModelIndex,
): Result<(env: Env) => ContentRecord | undefined> {
  const names = typeIds.map((id) => model.type(id)?.name ?? 'a deleted type').join(' or ');
  const fits = (ids: readonly string[]) => ids.some((id) => typeIds.includes(id));
  const none = (what: string) => fail(problem('about', what, `Choose a ${names.toLowerCase()} to show.`));
  const only = (read: (env: Env) => ContentRecord | undefined) => (env: Env) => {
    const record = read(env);
    return record && typeIds.includes(record.typeId) ? record : undefined;
  };
  const ofScope = (from: string): ReadRecord | undefined => {
    const start = startOf(from, scopes);
    return start?.record && fits(start.typeIds) ? only(start.record) : undefined;
  };
  if (path && !path.steps.length) {
    const read = ofScope(path.from);
    return read ? ok(read) : none(`What this part was given is no ${names}.`);
  }
  if (path) {
    const made = compilePath(path, scopes, model);
    if (!made.ok) return made;
    const { type, read } = made.value;
    if (type.kind.family.leads !== 'record' || !fits(type.typeIds)) return none(`${type.label} is no ${names}.`);
    return ok(
      only((env) => {
        const value = read(env);
        const id = (Array.isArray(value) ? value[0] : value) as number | undefined;
        return id === undefined ? undefined : env.pool.record(id);
      }),
    );
  }
  for (const from of [...scopes.loops.map((loop) => `loop:${loop.id}`).reverse(), 'record']) {
    const read = ofScope(from);
    if (read) return ok(read);
  }
  return none(`This part shows a ${names}, and there is none here.`);
}

/** Where a path has come to: at records of some types, or at rows with some sub-fields. */
interface Place {
  typeIds: string[];
  fields?: Field[];
}

/** Whether other values lie behind a value: those of a related record, or of rows. */
export const leadsOn = (type: Pick<ValueType, 'kind'>): boolean => type.kind.family.leads !== undefined;

function readFromOne(record: ReadThing | undefined, read: ReadOf<Thing>, many: boolean): (env: Env) => unknown {
  if (!record) return () => (many ? [] : undefined);
  return (env) => {
    const at = record(env);
    return at === undefined ? (many ? [] : undefined) : read(at, env);
  };
}

function readFromMany(records: (env: Env) => Thing[], read: ReadOf<Thing>, many: boolean): (env: Env) => unknown[] {
  return (env) => {
    const out: unknown[] = [];
    for (const record of records(env)) {
      const value = read(record, env);
      if (many) out.push(...(value as unknown[]));
      else if (value !== undefined) out.push(value);
    }
    return out;
  };
}

interface StepValue {
  type: Omit<ValueType, 'label'>;
  label: string;
  read: ReadOf<Thing>;
}

/** A step into one of the sub-fields of rows. */
function rowValue(step: string, fields: Field[]): Result<StepValue> {
  const field = fields.find((one) => one.id === step);
  if (!field)
    return fail(problem('', 'The sub-field this was bound to has been deleted.', 'Bind another field, or unbind.'));
  return fieldValue(field, 'these rows', (row, id) => (row as Row)[id]);
}

function stepValue(step: string, typeIds: string[], model: ModelIndex): Result<StepValue> {
  if (step.startsWith('@')) {
    const builtIn = typeIds.length ? recordBuiltIns(model).find((b) => b.name === step) : undefined;
    if (!builtIn)
      return fail(problem('', `There is no built-in value “${step.slice(1)}” here.`, 'Choose a value from the shelf.'));
    const { kind, settings, many, label } = builtIn;
    const read = clean(builtIn.read as ReadOf<Thing>, kind, many);
    return ok({ type: { kind, settings, many, typeIds: [] }, label, read });
  }
  const found = model.field(step);
  if (!found)
    return fail(problem('', 'The field this was bound to has been deleted.', 'Bind another field, or unbind.'));
  if (!typeIds.includes(found.type.id))
    return fail(
      problem(
        '',
        `“${found.field.label}” belongs to ${found.type.name}, which is not what stands here.`,
        'Choose a value from the shelf.',
      ),
    );
  return fieldValue(found.field, found.type.name, (record, id) => (record as ContentRecord).values[id]);
}

function fieldValue(field: Field, owner: string, get: (thing: Thing, id: string) => unknown): Result<StepValue> {
  const known = kindOf(field);
  if (!known)
    return fail(
      problem(
        '',
        `“${field.label}” of ${owner} has a kind or settings that do not exist.`,
        'Mend the field in the content type.',
      ),
    );
  const { kind, settings, many } = known;
  const typeIds = kind.family.leads === 'record' ? targetsIn(settings) : [];
  const id = field.id;
  const raw: ReadOf<Thing> =
    many || !kind.family.listed ? (thing) => get(thing, id) : (thing) => (get(thing, id) as number[] | undefined)?.[0];
  return ok({ type: { kind, settings, many, typeIds }, label: field.label, read: clean(raw, kind, many) });
}

/** Empties become undefined, or leave a list; so does what points at something gone. */
function clean(read: ReadOf<Thing>, kind: StepValue['type']['kind'], many: boolean): ReadOf<Thing> {
  const here = (value: unknown, env: Env) =>
    value !== undefined && value !== null && !kind.isEmpty(value) && !(kind.gone && kind.gone(value, env.reader));
  if (many)
    return (record, env) => {
      const value = read(record, env);
      return Array.isArray(value) ? value.filter((v) => here(v, env)) : [];
    };
  if (!kind.gone && kind.isEmpty === neverEmpty) return (record, env) => read(record, env) ?? undefined;
  if (!kind.gone)
    return (record, env) => {
      const value = read(record, env);
      return value === undefined || value === null || kind.isEmpty(value) ? undefined : value;
    };
  return (record, env) => {
    const value = read(record, env);
    return here(value, env) ? value : undefined;
  };
}
