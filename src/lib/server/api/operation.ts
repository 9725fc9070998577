import type { z } from 'zod';
import type { Person, Role } from '../../core/people/roles';
import type { Owned } from '../people/own';
import type { Guard } from '../refusal';

/** Who asks: a person by a session, or a program by a token. */
export interface Asker extends Person {
  session?: string;
  /** Whether it was proved lately who it is. */
  fresh?: boolean;
  token?: string;
  /** What a token may ask for: groups of operations, by their tags. */
  scopes?: { tags: string[]; readOnly: boolean };
}

/** What an operation is given: the parts of its address, its question and its body, each checked by its schema. */
export interface Asked<Q = Record<string, unknown>, B = unknown> {
  params: Record<string, string>;
  query: Q;
  body: B;
  /** The request itself, for bodies that are files. */
  request: Request;
  origin: string;
  who: Asker;
  /** Refuses a state that is not the one that the asker means; to be asked of what stands under the lock. */
  guard: Guard;
}

/** What a writing operation touches: what authors write, what designers make, the site, or its people. */
export type Touches = 'content' | 'design' | 'site' | 'people';

/** One page of a list. */
export interface Listed {
  items: unknown[];
  total: number;
  page: number;
  perPage: number;
}

/**
 * One operation of the API. The document that describes the API is made from these, and so is what is checked when one
 * is asked for; a new operation is one entry in a list.
 */
export interface Operation {
  method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE';
  /** With `{name}` for parts. */
  path: string;
  id: string;
  tag: string;
  summary: string;
  description?: string;
  /** The role that is needed. */
  who: Role;
  /** Whoever is less than an editor may only have it of their own. */
  over?: Owned;
  /** Only for people who are signed in: a token cannot make tokens, nor accounts. */
  person?: true;
  /** Only for those who proved lately who they are. */
  fresh?: true;
  touches?: Touches;
  /** It only reads, though its question is a body. */
  asks?: true;
  /** What was done, for the activity: `{name}` stands for the name of what it was done to, `{n}` for how many, `{what}` for what was brought back. */
  did?: string;
  /** It is done again and again, and is one entry of the activity for a while. */
  goesOn?: true;
  query?: z.ZodObject;
  /** The name of its body among the schemas; `file` for one of any kind. */
  body?: SchemaName | 'file';
  /** Bytes that its body has at most, where that is not the usual number; see `mostBytes`. Files have bounds of their own. */
  most?: number;
  /** The service checks the body, by the same schema; else it is checked before. Never both. */
  checkedBy?: 'service';
  /** The name of what it answers, `file` for one to be taken home; none for an answer without content. */
  answers?: SchemaName | 'file';
  /** Answers a page of a list of these. */
  lists?: boolean;
  status: 200 | 201 | 202 | 204;
  /** What stands at the address, by which a writer shows that it knows what it changes. */
  current?: (params: Record<string, string>) => Promise<unknown>;
  /** Refusals beside the usual ones. */
  refuses?: number[];
  run(asked: Asked<never, never>): Promise<unknown>;
}

/** Bytes that the body of an operation has at most: what a long record or a large template takes, and far less for what is about people. */
export const mostBytes = ({ most, touches }: Pick<Operation, 'most' | 'touches'>): number =>
  most ?? (touches === 'people' ? 64_000 : 4_000_000);

export type SchemaName = string;

/** Keeps question and body checked where an operation is written, and plain where operations are listed. */
export const operation = <Q, B>(
  own: Omit<Operation, 'run'> & { run: (asked: Asked<Q, B>) => Promise<unknown> },
): Operation => own as unknown as Operation;

/** Method and path of an operation, as `GET /types`. */
export function at(line: string): Pick<Operation, 'method' | 'path'> {
  const [method, path] = line.split(' ') as [Operation['method'], string];
  return { method, path };
}
