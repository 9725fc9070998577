import fc from 'fast-check';
import { ATTACKS } from './attacks';

/**
 * Asks the API for whatever its own document says that it takes, and for what it does not say: values that fit, values
 * that nearly do, and values of quite another kind, seeded.
 */
interface Schema {
  $ref?: string;
  type?: string | string[];
  enum?: unknown[];
  const?: unknown;
  anyOf?: Schema[];
  oneOf?: Schema[];
  allOf?: Schema[];
  items?: Schema | boolean;
  prefixItems?: Schema[];
  properties?: Record<string, Schema>;
  required?: string[];
  additionalProperties?: Schema | boolean;
  minimum?: number;
  maximum?: number;
  maxLength?: number;
  maxItems?: number;
}
interface Described {
  operationId: string;
  parameters?: { name: string; in: 'path' | 'query' | 'header'; required: boolean; schema: Schema }[];
  requestBody?: { content: Record<string, { schema?: Schema }> };
}
interface Document {
  paths: Record<string, Record<string, Described>>;
  components: { schemas: Record<string, Schema> };
}

export interface Failure {
  operation: string;
  method: string;
  address: string;
  body: string;
  status: number;
  said: string;
}

const text = fc.oneof(
  fc.constantFrom(...ATTACKS),
  fc.string({ maxLength: 30 }),
  fc.string({ unit: 'binary', maxLength: 20 }),
  fc.constantFrom('', 'x', 'y'.repeat(5000)),
);
const number = fc.oneof(fc.integer(), fc.double(), fc.constantFrom(0, -1, 1, 2 ** 31, 2 ** 53, -1e300));
const deep: unknown = JSON.parse('['.repeat(150) + ']'.repeat(150));
/** Anything at all that JSON can say. */
const junk: fc.Arbitrary<unknown> = fc.oneof(
  fc.jsonValue({ maxDepth: 2 }),
  text,
  number,
  fc.constantFrom(null, true, [], {}, deep, JSON.parse('{"__proto__":{"x":1}}'), { constructor: { prototype: {} } }),
);

/** Values of a schema; now and then what is none of it. */
function valuesOf(
  schema: Schema | undefined,
  all: Record<string, Schema>,
  known: fc.Arbitrary<unknown>,
  depth = 0,
): fc.Arbitrary<unknown> {
  if (!schema || depth > 6) return fc.oneof(junk, known);
  const go = (one: Schema | undefined) => valuesOf(one, all, known, depth + 1);
  const fits = (): fc.Arbitrary<unknown> => {
    if (schema.$ref) return go(all[schema.$ref.split('/').at(-1) ?? '']);
    if (schema.const !== undefined) return fc.constant(schema.const);
    if (schema.enum) return fc.constantFrom(...schema.enum);
    const either = schema.anyOf ?? schema.oneOf;
    if (either?.length) return fc.oneof(...either.map(go));
    if (schema.allOf?.length) return go(schema.allOf[0]);
    const [type] = [schema.type].flat();
    if (type === 'string') return fc.oneof(known, text);
    if (type === 'integer')
      return fc.oneof(
        known,
        fc.integer({
          min: Math.max(-(2 ** 31), schema.minimum ?? -10),
          max: Math.min(2 ** 31, schema.maximum ?? 5000),
        }),
      );
    if (type === 'number') return number;
    if (type === 'boolean') return fc.boolean();
    if (type === 'null') return fc.constant(null);
    if (type === 'array') {
      if (schema.prefixItems) return fc.tuple(...schema.prefixItems.map(go));
      return fc.array(go(schema.items === true ? undefined : schema.items || undefined), { maxLength: 3 });
    }
    if (schema.properties) {
      const parts = Object.fromEntries(Object.entries(schema.properties).map(([name, one]) => [name, go(one)]));
      return fc.record(parts, { requiredKeys: schema.required ?? [] });
    }
    if (typeof schema.additionalProperties === 'object')
      return fc.dictionary(fc.oneof(text, fc.string()), go(schema.additionalProperties), { maxKeys: 3 });
    return junk;
  };
  return fc.oneof({ weight: 12, arbitrary: fits() }, { weight: 1, arbitrary: junk });
}

const FILES = [
  '',
  'a,b\n1,2\n',
  '{"a":1}',
  '[{"a":1}]',
  '---\ntitle: x\n---\ntext',
  'PK\u0003\u0004',
  '<svg xmlns="http://www.w3.org/2000/svg" width="4" height="4"/>',
  '\u0000\u0001\u0002',
  'GIF89a',
];

/** What ends the session that asks is not asked for, nor what would fill the disk with exports of the whole site. */
const LEFT_OUT = new Set([
  'endSession',
  'startExport',
  'readBackup',
  'findAffected',
  'generateRecords',
  'deletePerson',
  'changePerson',
  'signOutPerson',
]);

export async function fuzz({
  origin,
  headers,
  requests,
  seed,
  tell,
}: {
  origin: string;
  headers: Record<string, string>;
  requests: number;
  seed: number;
  tell?: (done: number, statuses: Map<number, number>) => void;
}): Promise<{ failures: Failure[]; statuses: Map<number, number>; asked: Map<string, number> }> {
  const root = `${origin}/api/v1`;
  const document = (await (await fetch(`${root}/openapi.json`, { headers })).json()) as Document;
  const all = document.components.schemas;
  const found: string[] = [];
  /** Ids that are there, so that not every request is about nothing. */
  async function look(): Promise<void> {
    found.length = 0;
    for (const path of [
      'types',
      'taxonomies',
      'terms',
      'templates',
      'menus',
      'authors',
      'media',
      'releases',
      'people',
    ]) {
      const answer = (await (await fetch(`${root}/${path}`, { headers })).json()) as {
        items?: { id: unknown; fields?: { id: string }[] }[];
      };
      const items = Array.isArray(answer) ? (answer as { id: unknown }[]) : (answer.items ?? []);
      for (const { id, ...rest } of items.slice(0, 8)) {
        found.push(String(id));
        for (const field of (rest as { fields?: { id: string }[] }).fields ?? []) found.push(field.id);
      }
    }
    if (!found.length) found.push('1');
  }
  await look();
  const known = fc.nat().map((n) => {
    const one = found[n % found.length] ?? '1';
    return /^\d+$/.test(one) && n % 2 ? Number(one) : one;
  });
  const operations = Object.entries(document.paths).flatMap(([path, methods]) =>
    Object.entries(methods)
      .filter(([, { operationId }]) => !LEFT_OUT.has(operationId))
      .map(([method, one]) => {
        const part = fc.oneof({ weight: 5, arbitrary: known.map(String) }, { weight: 1, arbitrary: text });
        const asked = (one.parameters ?? []).filter((each) => each.in === 'query');
        const [type = '', content] = Object.entries(one.requestBody?.content ?? {})[0] ?? [];
        const body = !one.requestBody
          ? fc.constant(undefined)
          : type === 'application/json'
            ? valuesOf(content?.schema, all, known).map((value) => JSON.stringify(value) ?? 'null')
            : fc.constantFrom(...FILES);
        return {
          // What deletes is asked for less often, so that something is left to ask about.
          weight: method === 'delete' ? 1 : 6,
          arbitrary: fc.record({
            operation: fc.constant(one.operationId),
            method: fc.constant(method.toUpperCase()),
            type: fc.oneof(
              { weight: 20, arbitrary: fc.constant(type) },
              { weight: 1, arbitrary: fc.constantFrom('text/plain', 'multipart/form-data', '') },
            ),
            address: fc.tuple(...[...path.matchAll(/\{(\w+)\}/g)].map(() => part)).map((parts) => {
              let i = 0;
              return path.replace(/\{\w+\}/g, () => encodeURIComponent((parts[i++] ?? '').toWellFormed()) || 'x');
            }),
            query: fc.record(
              Object.fromEntries(
                asked.map(({ name, schema }) => [name, fc.oneof(valuesOf(schema, all, known).map(String), text)]),
              ),
              { requiredKeys: asked.filter((each) => each.required).map(({ name }) => name) },
            ),
            match: fc.constantFrom('*', '*', '*', '"x"', '', undefined),
            body,
          }),
        };
      }),
  );
  const any = fc.oneof(...operations);
  const failures: Failure[] = [];
  const statuses = new Map<number, number>();
  const asked = new Map<string, number>();
  const STEP = 500;
  for (let done = 0; done < requests; done += STEP) {
    const some = fc.sample(any, { numRuns: Math.min(STEP, requests - done), seed: seed + done });
    const queue = [...some];
    const worker = async () => {
      for (let one = queue.pop(); one; one = queue.pop()) {
        const query = new URLSearchParams(
          Object.entries(one.query).map(([key, value]) => [key, String(value).toWellFormed()]),
        ).toString();
        const address = `${root}${one.address}${query && `?${query}`}`;
        const answer = await fetch(address, {
          method: one.method,
          redirect: 'manual',
          headers: {
            ...headers,
            ...(one.body !== undefined && one.type && { 'content-type': one.type }),
            ...(one.match && { 'if-match': one.match }),
          },
          ...(one.body !== undefined && { body: one.body }),
        }).catch((error: Error) => error);
        const status = answer instanceof Response ? answer.status : 0;
        const said = answer instanceof Response ? await answer.text().catch(String) : String(answer.cause ?? answer);
        statuses.set(status, (statuses.get(status) ?? 0) + 1);
        asked.set(one.operation, (asked.get(one.operation) ?? 0) + 1);
        const problem =
          answer instanceof Response && answer.headers.get('content-type')?.startsWith('application/problem+json');
        if (status === 0 || status >= 500 || (status >= 400 && !problem))
          failures.push({
            operation: one.operation,
            method: one.method,
            address: address.slice(0, 600),
            body: (one.body ?? '').slice(0, 1500),
            status,
            said: said.slice(0, 300),
          });
      }
    };
    await Promise.all([worker(), worker(), worker(), worker()]);
    await look();
    tell?.(Math.min(requests, done + STEP), statuses);
  }
  return { failures, statuses, asked };
}
