import { z } from 'zod';
import {
  createDocument,
  type ZodOpenApiContentObject,
  type ZodOpenApiOperationObject,
  type ZodOpenApiPathItemObject,
  type ZodOpenApiResponseObject,
  type ZodOpenApiResponsesObject,
} from 'zod-openapi';
import type { ContentType } from '../../core/schema/model';
import { fieldSchema } from '../../core/model/field';
import { SESSION_COOKIE } from '../people/session-cookie';
import type { AnyOperation, Method } from './operation';
import { namesIn, pathParameters } from './path-parameters';
import { schemas } from './schemas';

type Json = Record<string, unknown>;

const problem = (description: string): ZodOpenApiResponseObject => ({
  description,
  content: { 'application/problem+json': { schema: schemas.Problem } },
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

const ETAG = { ETag: { description: 'Names this state.', schema: { type: 'string' as const } } };
const LINK = { Link: { description: 'Pages before and after (RFC 8288).', schema: { type: 'string' as const } } };
const BYTES: ZodOpenApiContentObject = { 'application/octet-stream': {} };

/** What `values` of a record has, by content type: the schema of each field by its id, of what is stored and answered. */
const valueSchemas = (types: readonly ContentType[]) =>
  Object.fromEntries(
    types.map((type) => [
      `ValuesOf_${type.key}`,
      {
        title: `Values of ${type.name}`,
        type: 'object',
        properties: Object.fromEntries(type.fields.map((field) => [field.id, fieldSchema(field)])),
        additionalProperties: false,
      },
    ]),
  );

type Document = ReturnType<typeof createDocument>;
/** The document of some operations takes a tenth of a second, and is the same until the application is another one. */
const documents = new WeakMap<readonly AnyOperation[], Document>();

/** The document that describes the API, in OpenAPI 3.1, made from its operations, their schemas, and the content types there are. */
export function openApi(operations: readonly AnyOperation[], origin: string, types: readonly ContentType[] = []): Json {
  let document = documents.get(operations);
  if (!document) documents.set(operations, (document = withNames(() => documentOf(operations))));
  const { components = {}, ...rest } = document;
  return {
    ...rest,
    servers: [{ url: `${origin}/api/v1` }],
    components: { ...components, schemas: { ...components.schemas, ...valueSchemas(types) } },
  };
}

/** Has each schema be described once, under its name, while `body` makes a document: the library looks for names where all of the process may. */
function withNames<T>(body: () => T): T {
  for (const [id, schema] of Object.entries(schemas)) z.globalRegistry.add(schema, { id });
  try {
    return body();
  } finally {
    for (const schema of Object.values(schemas)) z.globalRegistry.remove(schema);
  }
}

function documentOf(operations: readonly AnyOperation[]): Document {
  const paths: Record<string, ZodOpenApiPathItemObject> = {};
  for (const one of operations) (paths[one.path as string] ??= {})[methodOf(one)] = described(one);
  return createDocument(
    {
      openapi: '3.1.1',
      info: {
        title: 'Plum Thread',
        version: '1',
        description:
          'Content types, records, terms, pictures and files, templates, releases and drawn pages. What is designed is a draft until it is released.',
      },
      tags: [...new Set(operations.map(({ tag }) => tag))].map((name) => ({ name })),
      paths,
      components: {
        schemas: { Problem: schemas.Problem },
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
    },
    { allowEmptySchema: { custom: true } },
  );
}

const methodOf = ({ method }: AnyOperation) => method.toLowerCase() as Lowercase<Method>;

function described(one: AnyOperation): ZodOpenApiOperationObject {
  const names = namesIn(one.path as string);
  return {
    operationId: one.id,
    tags: [one.tag],
    summary: one.summary,
    ...(one.description && { description: one.description }),
    'x-plum-thread': {
      who: one.requiredRole,
      ...(one.over && { over: one.over }),
      ...(one.fresh && { fresh: true }),
      ...(one.touches && { touches: one.touches }),
    },
    ...(one.person && { security: [{ session: [] }] }),
    requestParams: {
      ...(names.length && { path: z.object(Object.fromEntries(names.map((name) => [name, pathParameters[name]]))) }),
      ...(one.query && { query: one.query as z.ZodObject }),
      ...(headersOf(one) && { header: headersOf(one) }),
    },
    ...(one.body && { requestBody: { required: true, content: bodyOf(one) } }),
    responses: responsesOf(one, names.length > 0),
  };
}

/** Request headers that an operation reads. */
function headersOf(one: AnyOperation): z.ZodObject | undefined {
  if (one.method === 'POST' && !one.readsOnly) return Writing;
  if (one.current) return Changing;
  return one.method === 'GET' ? Reading : undefined;
}
const Writing = z.object({
  'Idempotency-Key': z.string().max(255).optional().meta({
    description:
      'Names this request, such as by a UUID: sent again within a day with the same key it is not done again, and answered alike.',
  }),
});
const Changing = z.object({
  'If-Match': z.string().optional().meta({
    description:
      'The ETag of the state that is meant, as it was answered; `*` for whatever stands. A version in the body does as well.',
  }),
});
const Reading = z.object({ 'If-None-Match': z.string().optional() });

const bodyOf = (one: AnyOperation): ZodOpenApiContentObject =>
  one.body === 'file'
    ? BYTES
    : {
        'application/json': {
          schema: one.body as z.ZodType,
          ...(one.example !== undefined && { example: one.example as unknown }),
        },
      };

function contentOf(one: AnyOperation): ZodOpenApiContentObject | undefined {
  if (one.response === 'file') return BYTES;
  if (!one.response) return undefined;
  const response = one.response as z.ZodType;
  const schema = one.lists
    ? z.object({
        items: z.array(response),
        total: z.int().min(0),
        page: z.int().min(1),
        pages: z.int().min(1),
      })
    : response;
  return { 'application/json': { schema } };
}

const DONE = { 200: 'As asked.', 201: 'Made.', 202: 'Begun; the job tells how far it is.', 204: 'Done.' };

function responsesOf(one: AnyOperation, hasParameters: boolean): ZodOpenApiResponsesObject {
  const content = contentOf(one);
  const refusals = [
    ...(hasParameters ? [404] : []),
    ...(one.current ? [412, 428] : []),
    ...(one.body ? [415] : []),
    ...((one.body && one.body !== 'file') || one.method === 'POST' ? [400, 409] : []),
    422,
    401,
    403,
    ...(one.refuses ?? []),
  ];
  return {
    [`${one.status}`]: {
      description: DONE[one.status],
      ...(content && { content }),
      ...(one.status === 204 ? {} : { headers: { ...ETAG, ...(one.lists ? LINK : {}) } }),
    },
    ...(one.method === 'GET' && { '304': { description: 'It is as it was.' } }),
    ...Object.fromEntries(
      [...new Set(refusals)].sort().map((status) => [`${status}`, problem(REFUSALS[status] ?? '')]),
    ),
  };
}
