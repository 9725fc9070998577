import type { Role } from '../src/lib/core/people/roles';

/** One of each role; the demo lets anybody in as any of them. */
export const people: { name: string; email: string; role: Role; mayPublish?: boolean }[] = [
  { name: 'Orla Fennimore', email: 'orla@larkfell.example', role: 'owner' },
  { name: 'Tamsin Orrel', email: 'tamsin@larkfell.example', role: 'designer' },
  { name: 'Petrik Halde', email: 'petrik@larkfell.example', role: 'editor' },
  { name: 'Wenna Callow', email: 'wenna@larkfell.example', role: 'author' },
  { name: 'Jory Fenn', email: 'jory@larkfell.example', role: 'reader' },
];

/** With which each of them signs in, told on the sign-in page of a demo. */
export const PASSWORD = 'soup at seven';
/** Whom the printed link signs in. */
export const DESIGNER = 'tamsin@larkfell.example';
