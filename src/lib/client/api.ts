import type { z } from 'zod';
import type { Content, Operation, Query } from '$lib/server/api/operation';
import type { ParametersOf } from '$lib/server/api/path-parameters';
import type { OwnOperation } from '$lib/server/api/operations';

/**
 * The client of the API. What an operation takes and answers is known from the value that the server routes by; of the server
 * nothing but these types is imported.
 */

/** Every operation by its line, such as `GET /types/{typeId}`. */
type ByLine = { [O in OwnOperation as `${O['method']} ${O['path']}`]: O };

type SchemasOf<L extends keyof ByLine> =
  ByLine[L] extends Operation<infer _M, infer P, infer Q, infer B, infer R, infer Lists>
    ? { path: P; query: Q; body: B; response: R; lists: Lists }
    : never;

/** An operation that takes and answers JSON. */
export type Line = {
  [L in keyof ByLine]: 'file' extends SchemasOf<L>['body'] | SchemasOf<L>['response'] ? never : L;
}[keyof ByLine];
/** One that takes a file. */
export type FileLine = { [L in keyof ByLine]: 'file' extends SchemasOf<L>['body'] ? L : never }[keyof ByLine];

type WithQuery<Q extends Query> = Q extends z.ZodObject
  ? Record<string, never> extends z.input<Q>
    ? { query?: z.input<Q> }
    : { query: z.input<Q> }
  : unknown;
type WithBody<B extends Content> = B extends z.ZodType ? { body: z.input<B> } : unknown;

/** The parameters of the path by their names, with `query` and `body` where the operation has one. */
export type InputOf<L extends keyof ByLine> = ParametersOf<SchemasOf<L>['path']> &
  WithQuery<SchemasOf<L>['query']> &
  WithBody<SchemasOf<L>['body']>;
/** Left out where nothing is needed. */
type InputArguments<Input> = Record<never, never> extends Input ? [input?: Input] : [input: Input];

/** What an operation answers; a page of a list where it lists. */
export type ResponseOf<L extends keyof ByLine> = SchemasOf<L>['response'] extends infer R
  ? R extends z.ZodType
    ? SchemasOf<L>['lists'] extends true
      ? { items: z.output<R>[]; total: number; page: number; pages: number }
      : z.output<R>
    : void
  : never;

/** Sends JSON to an address, and gives what is answered; rejects where that is a refusal. */
export type Transport = (method: Operation['method'], address: string, body?: unknown) => Promise<unknown>;

export type Api = <L extends Line>(line: L, ...input: InputArguments<InputOf<L>>) => Promise<ResponseOf<L>>;

type PlainInput = Record<string, unknown> & { query?: Record<string, unknown>; body?: unknown };

/** The method and address of an operation with these parameters and this query. */
export function addressOf(line: string, input: PlainInput = {}): [method: Operation['method'], address: string] {
  const [method, path = ''] = line.split(' ');
  const filled = path.replace(/\{(\w+)\}/g, (_, name: string) => encodeURIComponent(String(input[name])));
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries(input.query ?? {}))
    if (value !== undefined) query.set(name, String(value));
  return [method as Operation['method'], `/api/v1${filled}${query.size ? `?${query.toString()}` : ''}`];
}

/** A client that sends by `transport`. */
export const createApi = (transport: Transport): Api =>
  ((line: string, input?: PlainInput) => transport(...addressOf(line, input), input?.body)) as unknown as Api;
