/** Seen only on what holds others, and only where there are words. */
const OF_CHILDREN = new Set(['gap', 'items', 'spread']);
const OF_WORDS = new Set(['text', 'font', 'size', 'weight', 'leading', 'colour']);

/** Whether something about looks can be seen on an element of a kind. */
export const fits = (name: string, { holds, wordless }: { holds: boolean; wordless?: true }): boolean =>
  OF_CHILDREN.has(name) ? holds : OF_WORDS.has(name) ? !wordless : true;
