import type { z } from 'zod';
import type { Role } from '../../core/people/roles';
import type { Principal } from '../people/principal';
import type { JobKind } from '../jobs/jobs';
import type { Owned } from '../people/own';
import type { Guard } from '../base/refusal';
import type { ParametersOf } from './path-parameters';

export type Method = 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';

/** The schema of a body or a response; `file` is one of any kind, `undefined` is none. */
export type Content = z.ZodType | 'file' | undefined;
export type Query = z.ZodObject | undefined;

type Received<C extends Content> = C extends z.ZodType ? z.output<C> : undefined;
export type QueryOf<Q extends Query> = Q extends z.ZodObject ? z.output<Q> : Record<string, never>;
/** What a handler returns: what its response schema takes, nothing where it has none, an HTTP response where it sends a file. */
type Returned<R extends Content, L extends boolean> = R extends z.ZodType
  ? L extends true
    ? Page<z.input<R>>
    : z.input<R>
  : R extends 'file'
    ? Response
    : void;

/** What a handler is given. Parameters, query and body have passed their schemas. */
export interface OperationInput<P extends string, Q extends Query, B extends Content> {
  params: ParametersOf<P>;
  query: QueryOf<Q>;
  body: Received<B>;
  /** The request itself, for bodies that are files. */
  request: Request;
  origin: string;
  principal: Principal;
  /** Refuses a state that is not the one the principal means; to be called with what stands under the lock. */
  guard: Guard;
}

/** What a writing operation touches: what authors write, what designers make, the site, or its people. */
export type Touches = 'content' | 'design' | 'site' | 'people';

/** One page of a list. */
export interface Page<Item = unknown> {
  items: Item[];
  total: number;
  page: number;
  perPage: number;
}

/** What is said of an operation beside its schemas. */
interface Description {
  id: string;
  tag: string;
  summary: string;
  description?: string;
  requiredRole: Role;
  /** Whoever is less than an editor may only have it of their own. */
  over?: Owned;
  /** Only for people who are signed in: a token cannot make tokens, nor accounts. */
  person?: true;
  /** Only for those who proved lately who they are. */
  fresh?: true;
  touches?: Touches;
  /** It only reads, though its query is a body. */
  readsOnly?: true;
  /** What was done, for the activity: `{name}` stands for the name of what it was done to, `{n}` for how many, `{what}` for what was brought back. */
  activity?: string;
  /** It is done again and again, and is one entry of the activity for a while. */
  isContinuous?: true;
  /** Bytes that its body has at most, where that is not the usual number; see `mostBytes`. Files have bounds of their own. */
  most?: number;
  /** The title of the refusal (422) of a body that does not fit its schema. */
  refusal?: string;
  /** The long work that it begins. */
  job?: JobKind;
  status: 200 | 201 | 202 | 204;
  /** Statuses of refusals beside the usual ones. */
  refuses?: number[];
}

/**
 * One operation of the API: its address, who may have it, its schemas and its handler, whose types come from them. Routing,
 * checks, the OpenAPI document and the studio's client are all made from this value.
 */
export interface Operation<
  M extends Method = Method,
  P extends string = string,
  Q extends Query = Query,
  B extends Content = Content,
  R extends Content = Content,
  L extends boolean = boolean,
> extends Description {
  method: M;
  /** With `{name}` for parameters, each of which has its schema in `path-parameters.ts`. */
  path: P;
  query?: Q;
  body?: B;
  /** A body that is taken, for the document. */
  example?: B extends z.ZodType ? z.input<B> : never;
  response?: R;
  /** Answers a page of a list of these. */
  lists?: L;
  /** What stands at the address, by which a writer shows that it knows what it changes. */
  current?(params: ParametersOf<P>): Promise<unknown>;
  run(input: OperationInput<P, Q, B>): Promise<Returned<R, L>>;
}

/** An operation of any address and any schemas, as routing and the document see it. */
// eslint-disable-next-line @typescript-eslint/no-explicit-any
export type AnyOperation = Operation<Method, any, any, any, any, any>;

/** An operation at a method and a path, as `GET /types/{typeId}`; the types of its handler are those of its schemas. */
export function operation<
  const M extends Method,
  const P extends string,
  Q extends Query = undefined,
  B extends Content = undefined,
  R extends Content = undefined,
  const L extends boolean = false,
>(line: `${M} ${P}`, own: Omit<Operation<M, P, Q, B, R, L>, 'method' | 'path'>): Operation<M, P, Q, B, R, L> {
  const [method, path] = line.split(' ') as [M, P];
  return { method, path, ...own };
}

/** Bytes that the body of an operation has at most: what a long record or a large template takes, and far less for what is about people. */
export const mostBytes = ({ most, touches }: Pick<Description, 'most' | 'touches'>): number =>
  most ?? (touches === 'people' ? 64_000 : 4_000_000);

/** Every kind of long work that these operations begin. */
export const jobKindsOf = (operations: readonly AnyOperation[]): JobKind[] =>
  operations.flatMap(({ job }) => (job ? [job] : []));
