/** What an account may do, from those who may least; whoever stands further may all that those before may. */
export const ROLES = ['reader', 'author', 'editor', 'designer', 'owner'] as const;
export type Role = (typeof ROLES)[number];

/** Whether somebody of one role may do what another is needed for. */
export const atLeast = (role: Role, needed: Role): boolean => ROLES.indexOf(role) >= ROLES.indexOf(needed);

/** What each role is for, in words for whoever gives it. */
export const ROLE_WORDS: Record<Role, { name: string; may: string }> = {
  reader: { name: 'Reader', may: 'Looks at drafts and at the studio; changes nothing' },
  author: { name: 'Author', may: 'Writes own records with own media, and proposes them for publishing' },
  editor: {
    name: 'Editor',
    may: 'Writes, publishes, imports and exports records, terms, authors and media of anybody',
  },
  designer: {
    name: 'Designer',
    may: 'Makes types, templates, rules, theme and menus, and releases; all that editors may',
  },
  owner: { name: 'Owner', may: 'Everything, also people, sign-in, and the whole archive in and out' },
};

/** Somebody who is signed in, or a program that asks as somebody. */
export interface Person {
  id: number;
  name: string;
  role: Role;
  /** Of an author: whether what they write is published without being looked at. */
  mayPublish: boolean;
}
