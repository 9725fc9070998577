import { z } from 'zod';
import { STATUSES } from '../schema/record';
import { newId } from '../base/ids';
import { FieldSchema, type Field } from '../schema/field';
import { parseContentType } from '../model/model';
import type { ContentType } from '../schema/model';
import type { ModelIndex } from '../model/model-index';
import { kinds } from '../model/kinds';
import type { JsonSchema } from '../model/kinds/kind';
import type { SchemaInside, SchemaNode } from '../model/kinds/schema-node';
import { fail, ok, problem, type Problem, type Result } from '../base/result';
import { keyOf, slugOf } from '../base/text';
import { plainSchema } from './cells';
import { columnsOf } from './columns';

const DIALECT = 'https://json-schema.org/draft/2020-12/schema';

/** A content type as JSON Schema (2020-12) of its records in files: one flat object, fields by key. */
export function typeSchema(type: ContentType, model: ModelIndex): JsonSchema {
  const properties: Record<string, JsonSchema> = {};
  for (const { name, target, label } of columnsOf(type, model)) {
    const field = type.fields.find((f) => f.id === target);
    if (field) properties[name] = plainSchema(field);
    else if (target.startsWith('@terms:'))
      properties[name] = { title: label, type: 'array', items: { type: 'string' } };
    else
      properties[name] = {
        title: label,
        ...({
          '@title': { type: 'string', minLength: 1, maxLength: 500, pattern: '\\S' },
          '@slug': { type: 'string', maxLength: 100, pattern: '^[\\p{L}\\p{N}]+(-[\\p{L}\\p{N}]+)*$' },
          '@status': { enum: [...STATUSES] },
          '@author': { type: 'string' },
          '@created': { type: 'string', format: 'date-time' },
          '@published': { type: 'string', format: 'date-time' },
        }[target] ?? {}),
      };
  }
  const { id, key, name, plural, base, taxonomyIds } = type;
  return {
    $schema: DIALECT,
    $id: `urn:plum-thread:type:${key}`,
    title: name,
    type: 'object',
    properties,
    required: ['title'],
    additionalProperties: false,
    'x-plum-thread': { id, key, name, plural, base, taxonomyIds, fields: type.fields.map((field) => field.id) },
  };
}

const Node: z.ZodType<SchemaNode> = z.lazy(() =>
  z.looseObject({
    title: z.string().optional(),
    description: z.string().optional(),
    type: z.union([z.string(), z.array(z.string())]).optional(),
    format: z.string().optional(),
    enum: z.array(z.unknown()).optional(),
    oneOf: z.array(z.looseObject({ const: z.unknown(), title: z.string().optional() })).optional(),
    properties: z.record(z.string(), Node).optional(),
    required: z.array(z.string()).optional(),
    items: Node.optional(),
    minimum: z.number().optional(),
    maximum: z.number().optional(),
    multipleOf: z.number().optional(),
    minLength: z.number().optional(),
    maxLength: z.number().optional(),
    minItems: z.number().optional(),
    maxItems: z.number().optional(),
    'x-plum-thread': z.looseObject({}).optional(),
  }),
) as z.ZodType<SchemaNode>;
const words = (name: string) =>
  name
    .replace(/[_-]+/g, ' ')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .replace(/^./, (c) => c.toUpperCase());

const PARTS = new Set(['title', 'slug', 'status', 'author', 'created', 'published']);
const DEEPEST = 12;

/**
 * A content type from a JSON Schema of objects: our own come back as they were, others are understood by type, format
 * and limits. `left` says what could not be taken over.
 */
export function typeFromSchema(input: unknown): Result<{ type: ContentType; left: Problem[] }> {
  const depth = depthOf(input);
  if (depth > 60)
    return fail(problem('', `The schema is nested ${depth} levels deep; 60 are the most.`, 'Make it flatter.'));
  const parsed = Node.safeParse(input);
  if (!parsed.success || !parsed.data.properties)
    return fail(
      problem(
        '',
        'This is no JSON Schema of an object with properties.',
        'Give a schema whose "properties" are the fields.',
      ),
    );
  const node = parsed.data;
  const own = node['x-plum-thread'] as Partial<ContentType> | undefined;
  const left: Problem[] = [];
  const name = String(own?.name ?? node.title ?? 'Imported').slice(0, 80);
  const fields = fieldsFrom(node, left, '', 1).filter((field) => !(PARTS.has(field.key) && !own));
  const order = (own?.fields as unknown as string[] | undefined) ?? [];
  if (own) fields.sort((a, b) => order.indexOf(a.id) - order.indexOf(b.id));
  const type = parseContentType({
    id: own?.id ?? newId('t'),
    key: own?.key ?? keyOf(name, 'imported'),
    name,
    plural: own?.plural ?? `${name}s`,
    base: own?.base ?? (slugOf(`${name}s`) || 'imported'),
    taxonomyIds: own?.taxonomyIds ?? [],
    fields: own ? fields.filter((field) => order.includes(field.id)) : fields,
  });
  return type.ok ? ok({ type: type.value, left }) : type;
}

/** How deep a value is nested; counted without recursion, since the depth is not known beforehand. */
export function depthOf(value: unknown): number {
  let depth = 0;
  let level: unknown[] = [value];
  while (level.length && depth < 1000) {
    level = level.flatMap((v) => (v && typeof v === 'object' ? Object.values(v) : []));
    if (level.length) depth++;
  }
  return depth;
}

function fieldsFrom(node: SchemaNode, left: Problem[], at: string, depth: number): Field[] {
  const keys = new Set<string>();
  return Object.entries(node.properties ?? {}).flatMap(([name, child]) => {
    const place = at ? `${at}.${name}` : name;
    const own = child['x-plum-thread'] as Partial<Field> | undefined;
    const made = own?.kind
      ? { kind: own.kind, settings: own.settings ?? {} }
      : depth > DEEPEST
        ? undefined
        : kindFrom(child, left, place, depth);
    if (!made) {
      if (!(depth === 1 && PARTS.has(name)))
        left.push(problem(place, 'No kind of field holds this.', 'Add a field for it by hand.'));
      return [];
    }
    let key = own ? name.replace(/^field:/, '') : keyOf(name, `field_${keys.size + 1}`);
    while (keys.has(key)) key = `${key}_2`;
    keys.add(key);
    return [
      FieldSchema.parse({
        id: own?.id ?? newId('f'),
        key,
        label: (child.title?.trim() || words(name)).slice(0, 120),
        kind: made.kind,
        help: (own ? (own.help ?? '') : (child.description ?? '')).slice(0, 500),
        required: own?.required ?? node.required?.includes(name) ?? false,
        unique: own?.unique ?? false,
        tab: own?.tab ?? '',
        ...('default' in child && (child as { default?: unknown }).default !== null
          ? { initial: (child as { default?: unknown }).default }
          : {}),
        settings: made.settings,
      }),
    ];
  });
}

function kindFrom(
  node: SchemaNode,
  left: Problem[],
  at: string,
  depth: number,
): { kind: string; settings: Record<string, unknown> } | undefined {
  const inside: SchemaInside = {
    fields: (inner) => fieldsFrom(inner, left, at, depth + 1),
    value: (inner) => {
      const made = kindFrom(inner, left, at, depth + 1);
      return made && FieldSchema.parse({ id: newId('f'), key: 'value', label: 'Value', ...made });
    },
  };
  for (const kind of [...kinds].sort((a, b) => Number(a.last ?? false) - Number(b.last ?? false))) {
    const settings = kind.forFields ? kind.fromSchema?.(node, inside) : undefined;
    if (settings) return { kind: kind.name, settings };
  }
  return undefined;
}
