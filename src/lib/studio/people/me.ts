import { page } from '$app/state';

/** Whether whoever is signed in may ask for an operation of the API; screens offer nothing else. Read where it is shown. */
export const may = (operation: string): boolean => ((page.data as { may?: string[] }).may ?? []).includes(operation);

/** Who is signed in. */
export const me = (): { id: number; name: string; role: string; mayPublish: boolean } | undefined =>
  (page.data as { me?: { id: number; name: string; role: string; mayPublish: boolean } }).me;
