import { z } from 'zod';
import type { Operation } from './operation';
import { schemaNamed, schemas } from './schemas';
import { SESSION_COOKIE } from '../access';

type Json = Record<string, unknown>;

/** A schema as JSON Schema (2020-12), with what it defines for itself put among the others under names of its own. */
function jsonSchemaOf(name: string, schema: z.ZodType, io: 'input' | 'output', into: Json): Json {
  const {
    $schema: _,
    $defs,
    ...own
  } = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Json & { $defs?: Json };
  const renamed = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.map(renamed);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, one]) => {
        if (key !== '$ref' || typeof one !== 'string') return [key, renamed(one)];
        const def = /^#\/\$defs\/(.+)$/.exec(one)?.[1];
        return [key, `#/components/schemas/${def ? `${name}_${def}` : name}`];
      }),
    );
  };
  for (const [def, value] of Object.entries($defs ?? {})) into[`${name}_${def}`] = renamed(value);
  return renamed(own) as Json;
}

const ref = (name: string): Json => ({ $ref: `#/components/schemas/${name}` });
const problem = (description: string): Json => ({
  description,
  content: { 'application/problem+json': { schema: ref('Problem') } },
});
const REFUSALS: Record<number, string> = {
  400: 'The content is not JSON, or a header cannot be read.',
  401: 'Whoever asks is not signed in, and has no token that holds.',
  403: 'Whoever asks may not, whether or not it exists.',
  404: 'There is nothing with this id.',
  409: 'It cannot be done as things stand; the title says why.',
  412: 'Somebody else has changed it since; what stands has another ETag.',
  413: 'The content is too large.',
  415: 'The content is of another kind than is taken here.',
  422: 'Something is wrong with what was sent; the problems say what and where.',
  429: 'There were too many tries; Retry-After tells how many seconds to wait.',
  428: 'Say with If-Match which state is meant.',
};

/** Bodies are read as they come, answers as they are given. */
const IS_BODY = /^New|Change$|Asked$/;

/** The document that describes the API, in OpenAPI 3.1, made from its operations and their schemas. */
export function openApi(operations: readonly Operation[], origin: string): Json {
  const components: Json = {};
  for (const [name, schema] of Object.entries(schemas)) {
    components[name] = jsonSchemaOf(name, schema, IS_BODY.test(name) ? 'input' : 'output', components);
    // What is read and what is written of the same name differ in what may be left out.
    if (!IS_BODY.test(name) && operations.some(({ body }) => body === name))
      components[`${name}Input`] = jsonSchemaOf(`${name}Input`, schema, 'input', components);
  }
  const paths: Record<string, Json> = {};
  for (const one of operations) (paths[one.path] ??= {})[one.method.toLowerCase()] = described(one);
  return {
    openapi: '3.1.1',
    info: {
      title: 'Plum Thread',
      version: '1',
      description:
        'Content types, records, terms, pictures and files, templates, releases and drawn pages. What is designed is a draft until it is released.',
    },
    servers: [{ url: `${origin}/api/v1` }],
    tags: [...new Set(operations.map(({ tag }) => tag))].map((name) => ({ name })),
    paths,
    components: {
      schemas: components,
      securitySchemes: {
        token: {
          type: 'http',
          scheme: 'bearer',
          description:
            'A token that somebody made for a program in their account; it is for some groups of operations, until a day.',
        },
        session: {
          type: 'apiKey',
          in: 'cookie',
          name: SESSION_COOKIE,
          description: 'The session of a browser; it is served from pages of this site only.',
        },
      },
    },
    security: [{ token: [] }, { session: [] }],
  };
}

function described(one: Operation): Json {
  const names = [...one.path.matchAll(/\{(\w+)\}/g)].map(([, name = '']) => name);
  const asked = one.query
    ? (z.toJSONSchema(one.query, { io: 'input' }) as { properties?: Record<string, Json>; required?: string[] })
    : {};
  const parameters: Json[] = [
    ...names.map((name) => ({ name, in: 'path', required: true, schema: { type: 'string' } })),
    ...Object.entries(asked.properties ?? {}).map(([name, schema]) => ({
      name,
      in: 'query',
      required: asked.required?.includes(name) ?? false,
      schema,
    })),
    ...(one.method === 'POST' && !one.asks
      ? [
          {
            name: 'Idempotency-Key',
            in: 'header',
            required: false,
            description:
              'Names this request, such as by a UUID: sent again within a day with the same key it is not done again, and answered alike.',
            schema: { type: 'string', maxLength: 255 },
          },
        ]
      : []),
    ...(one.current
      ? [
          {
            name: 'If-Match',
            in: 'header',
            required: false,
            description:
              'The ETag of the state that is meant, as it was answered; `*` for whatever stands. A version in the body does as well.',
            schema: { type: 'string' },
          },
        ]
      : one.method === 'GET'
        ? [{ name: 'If-None-Match', in: 'header', required: false, schema: { type: 'string' } }]
        : []),
  ];
  const items = one.answers && one.answers !== 'file' ? ref(one.answers) : undefined;
  const content =
    one.answers === 'file'
      ? { 'application/octet-stream': {} }
      : items && {
          'application/json': {
            schema: one.lists
              ? {
                  type: 'object',
                  required: ['items', 'total', 'page', 'pages'],
                  properties: {
                    items: { type: 'array', items },
                    total: { type: 'integer' },
                    page: { type: 'integer' },
                    pages: { type: 'integer' },
                  },
                }
              : items,
          },
        };
  const etag = { ETag: { description: 'Names this state.', schema: { type: 'string' } } };
  const link = { Link: { description: 'Pages before and after (RFC 8288).', schema: { type: 'string' } } };
  const refusals = [
    ...(names.length ? [404] : []),
    ...(one.current ? [412, 428] : []),
    ...(one.body ? [415] : []),
    ...((one.body && one.body !== 'file') || one.method === 'POST' ? [400, 409] : []),
    422,
    401,
    403,
    ...(one.refuses ?? []),
  ];
  const bodyName = one.body && one.body !== 'file' && !IS_BODY.test(one.body) ? `${one.body}Input` : one.body;
  return {
    operationId: one.id,
    tags: [one.tag],
    summary: one.summary,
    ...(one.description && { description: one.description }),
    'x-plum-thread': {
      who: one.who,
      ...(one.over && { over: one.over }),
      ...(one.fresh && { fresh: true }),
      ...(one.touches && { touches: one.touches }),
    },
    ...(one.person && { security: [{ session: [] }] }),
    ...(parameters.length && { parameters }),
    ...(one.body && {
      requestBody: {
        required: true,
        content:
          one.body === 'file'
            ? { 'application/octet-stream': {} }
            : { 'application/json': { schema: ref(bodyName ?? '') } },
      },
    }),
    responses: {
      [one.status]: {
        description:
          one.status === 204
            ? 'Done.'
            : one.status === 201
              ? 'Made.'
              : one.status === 202
                ? 'Begun; the job tells how far it is.'
                : 'As asked.',
        ...(content && { content }),
        ...(one.status === 204 ? {} : { headers: { ...etag, ...(one.lists ? link : {}) } }),
      },
      ...(one.method === 'GET' && { 304: { description: 'It is as it was.' } }),
      ...Object.fromEntries([...new Set(refusals)].sort().map((status) => [status, problem(REFUSALS[status] ?? '')])),
    },
  };
}

/** The schema of an operation's body. */
export const bodySchema = (one: Operation): z.ZodType | undefined =>
  one.body && one.body !== 'file' ? schemaNamed(one.body) : undefined;
