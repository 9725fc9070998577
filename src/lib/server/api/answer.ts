import { createHash } from 'node:crypto';
import { z } from 'zod';
import { unsoundIn } from '../../core/base/sound';
import { bareFile, readBody } from './http';
import { once } from './idempotency';
import { problemAnswer, refusalAnswer } from './problem';
import { readModel } from '../services/model';
import { letVisitorsSee } from '../queries/shared-caches';
import { Refusal, type Guard } from '../base/refusal';
import { openApi } from './openapi';
import { mostBytes, type AnyOperation, type Page } from './operation';
import { type Principal } from '../people/principal';
import { namesIn, readParameters } from './path-parameters';
import { readAs } from './read-as';
import { noteActivityOf, permit } from './permission';

/** An ETag of anything that can be JSON (RFC 9110, 8.8.3). */
const etagOf = (value: unknown): string =>
  `"${createHash('sha256').update(JSON.stringify(value)).digest('base64url').slice(0, 22)}"`;

const tagsIn = (header: string | null): string[] =>
  (header ?? '')
    .split(',')
    .map((one) => one.trim().replace(/^W\//, ''))
    .filter(Boolean);

const json = (value: unknown, status: number, headers: Record<string, string>): Response =>
  new Response(JSON.stringify(value), { status, headers: { 'content-type': 'application/json', ...headers } });

/** The operation that a path stands for, with the parts of its address; methods that the path has where none fits. */
function found(
  operations: readonly AnyOperation[],
  method: string,
  path: string,
): { one?: AnyOperation; params: Record<string, string>; methods: string[] } {
  const methods: string[] = [];
  for (const one of operations) {
    const names = namesIn(one.path as string);
    const parts = new RegExp(`^${(one.path as string).replace(/\{\w+\}/g, '([^/]+)')}$`).exec(path);
    if (!parts) continue;
    methods.push(one.method);
    if (one.method === method)
      return { one, params: Object.fromEntries(names.map((name, i) => [name, parts[i + 1] ?? ''])), methods };
  }
  return { params: {}, methods };
}

/** Answers a request to the API. `path` is what follows its root. Errors are problem details (RFC 9457). */
export async function answerApi(
  request: Request,
  url: URL,
  path: string,
  operations: readonly AnyOperation[],
  principal: Principal | undefined,
): Promise<Response> {
  const instance = url.pathname;
  // Told before anything else, so that nobody learns what there is.
  if (!principal) return refusalAnswer(new Refusal(401, 'Sign in, or ask with a token.'), instance);
  if (path === '/openapi.json' && request.method === 'GET') {
    const document = openApi(operations, url.origin, (await readModel()).types);
    const etag = etagOf(document);
    return tagsIn(request.headers.get('if-none-match')).includes(etag)
      ? new Response(null, { status: 304, headers: { etag } })
      : json(document, 200, { etag });
  }
  const method = request.method === 'HEAD' ? 'GET' : request.method;
  const { one, params, methods } = found(operations, method, path);
  if (!one)
    return methods.length
      ? problemAnswer(405, `This address does not take ${method}.`, { instance }, { allow: methods.join(', ') })
      : problemAnswer(404, 'There is nothing at this address of the API.', {
          instance,
          detail: 'The document at /api/v1/openapi.json lists every address.',
        });
  try {
    await permit(one, params, principal);
    return await carryOut(one, params, request, url, principal);
  } catch (error) {
    return refusalAnswer(error, instance);
  }
}

async function carryOut(
  one: AnyOperation,
  rawParams: Record<string, string>,
  request: Request,
  url: URL,
  principal: Principal,
): Promise<Response> {
  const params = readParameters(one.path as string, rawParams);
  let query: unknown = {};
  refuseUnknown(
    [...url.searchParams.keys()],
    Object.keys(one.query?.shape ?? {}),
    'The question cannot be understood.',
  );
  if (one.query) {
    const unsound = unsoundIn(Object.fromEntries(url.searchParams));
    if (unsound) throw new Refusal(422, 'The question cannot be understood.', [unsound]);
    query = readAs(one.query, Object.fromEntries(url.searchParams), 'The question cannot be understood.');
  }
  if (one.body === 'file') bareFile(request);
  const requestBody = one.body && one.body !== 'file' ? await readBody(request, mostBytes(one)) : undefined;
  if (requestBody !== undefined && (requestBody === null || typeof requestBody !== 'object'))
    throw new Refusal(422, 'Something is wrong with what was sent.', [
      { at: '', what: 'This is neither an object nor a list.', fix: 'See what is taken in /api/v1/openapi.json.' },
    ]);
  const bodyShape = bodyShapeOf(one);
  if (bodyShape && requestBody !== null && !Array.isArray(requestBody))
    refuseUnknown(Object.keys(requestBody as object), bodyShape, 'Something is wrong with what was sent.');
  const key = one.method === 'POST' && !one.readsOnly ? request.headers.get('idempotency-key') : null;
  const identity = {
    account: principal.id,
    method: one.method,
    path: url.pathname + url.search,
    // A file is known by its size alone: it is read once.
    body: one.body === 'file' ? request.headers.get('content-length') : requestBody,
    answersSecret: one.touches === 'people',
  };
  // A request that comes again is answered as before, whatever has changed since.
  return once(key, identity, async () => {
    const guard = one.current ? guardOf(request, requestBody) : () => undefined;
    const before = one.current && (await one.current(params));
    if (one.current) guard(before);
    const schema = bodySchema(one);
    const body = schema ? readAs(schema, requestBody, one.refusal) : requestBody;
    return perform(one, { rawParams, params, query, body, before }, { request, url, principal, guard });
  });
}

interface Checked {
  /** As they stand in the address. */
  rawParams: Record<string, string>;
  params: Record<string, unknown>;
  query: unknown;
  body: unknown;
  before: unknown;
}

/** Does what was asked, once everything about it is checked, and answers. */
async function perform(
  one: AnyOperation,
  { rawParams, params, query, body, before }: Checked,
  { request, url, principal, guard }: { request: Request; url: URL; principal: Principal; guard: Guard },
): Promise<Response> {
  const input = { params, query, body, request, origin: url.origin, guard, principal };
  const result: unknown = await one.run(input as never);
  await noteActivityOf(one, principal, { params: rawParams, body, before, result });
  if (one.method !== 'GET' && !one.readsOnly) await letVisitorsSee();
  if (result instanceof Response) return result;
  if (one.status === 204) return new Response(null, { status: 204 });
  checkResponse(one, result);
  if (one.lists) return listAnswer(result as Page, request, url);
  const etag = etagOf(result);
  if (request.method === 'GET' && tagsIn(request.headers.get('if-none-match')).includes(etag))
    return new Response(null, { status: 304, headers: { etag } });
  return json(result, one.status, { etag });
}

/** Throws where a handler answers something else than its operation says: an error of ours, which is logged. */
function checkResponse({ id, response, lists }: AnyOperation, result: unknown): void {
  if (!response) return;
  const schema = response as z.ZodType;
  const { error } = (lists ? z.array(schema) : schema).safeParse(lists ? (result as Page).items : result);
  const [issue] = error?.issues ?? [];
  if (issue)
    throw new Error(
      `Operation ${id}: its response does not fit its schema at ${issue.path.join('.') || 'its top'}: ${issue.message}`,
    );
}

/** The schema of an operation's body. */
const bodySchema = ({ body }: AnyOperation): z.ZodType | undefined =>
  body && body !== 'file' ? (body as z.ZodType) : undefined;

/** Names that a body may have at its top, where its schema is an object that names all of them. */
function bodyShapeOf(one: AnyOperation): string[] | undefined {
  const schema = bodySchema(one);
  if (!(schema instanceof z.ZodObject) || schema.def.catchall) return undefined;
  return Object.keys(schema.shape);
}

/** Refuses what nobody knows by its name, rather than to answer as if it had not been asked. */
function refuseUnknown(names: readonly string[], known: readonly string[], title: string): void {
  const strange = [...new Set(names)].filter((name) => !known.includes(name));
  if (!strange.length) return;
  throw new Refusal(
    422,
    title,
    strange.slice(0, 20).map((name) => ({
      at: name.slice(0, 100),
      what: 'Nothing here has this name.',
      fix: known.length ? `Use ${known.join(', ')}.` : 'Leave it out: nothing is taken here.',
    })),
  );
}

const Versioned = z.looseObject({ version: z.number() });

/**
 * Whoever writes says which state they mean: with If-Match (RFC 9110, 13.1.1; RFC 6585, 3), or with the version in the body where it has one.
 * What this gives refuses any other state; whoever writes asks it once more of what stands under the lock.
 */
function guardOf(request: Request, body: unknown): Guard {
  const given = request.headers.get('if-match');
  if (given === null && Versioned.safeParse(body).success) return () => undefined;
  if (given === null)
    throw new Refusal(428, 'Say with If-Match which state is meant.', [
      { at: 'If-Match', what: 'It is missing.', fix: 'Read what stands, and send its ETag with the change.' },
    ]);
  const tags = tagsIn(given);
  return (current) => {
    const etag = etagOf(current);
    if (!tags.includes('*') && !tags.includes(etag))
      throw new Refusal(412, 'It has been changed since it was read. Nothing was overwritten.', [], { etag });
  };
}

function listAnswer({ items, total, page, perPage }: Page, request: Request, url: URL): Response {
  const pages = Math.max(1, Math.ceil(total / perPage));
  const value = { items, total, page, pages };
  const etag = etagOf(value);
  if (tagsIn(request.headers.get('if-none-match')).includes(etag))
    return new Response(null, { status: 304, headers: { etag } });
  const at = (n: number) => {
    const other = new URL(url);
    other.searchParams.set('page', String(n));
    return other.pathname + other.search;
  };
  const links = [
    ...(page > 1 ? [`<${at(page - 1)}>; rel="prev"`] : []),
    ...(page < pages ? [`<${at(page + 1)}>; rel="next"`] : []),
    `<${at(1)}>; rel="first"`,
    `<${at(pages)}>; rel="last"`,
  ];
  return json(value, 200, { etag, link: links.join(', ') });
}
