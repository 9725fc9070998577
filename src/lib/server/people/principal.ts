import type { Person } from '../../core/people/roles';
/** Who sent a request: a person by a session, or a program by a token. */
export interface Principal extends Person {
  session?: string;
  /** Whether it was proved lately who it is. */
  fresh?: boolean;
  token?: string;
  /** What a token may ask for: groups of operations, by their tags. */
  scopes?: { tags: string[]; readOnly: boolean };
}
