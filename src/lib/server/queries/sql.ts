/** A list for `IN (?)`, which may not be empty. */
export const listed = (ids: readonly string[]): readonly string[] => (ids.length ? ids : ['']);

/** `%`, `_` and the escape sign `!` itself stand for themselves. */
export const likePart = (text: string): string => text.replace(/[!%_]/g, '!$&');
