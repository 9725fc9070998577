import { slugOf } from '$lib/core/text';

/** A key from words: small letters, digits and underscores. */
export const keyOf = (words: string, fallback: string): string =>
  slugOf(words)
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '')
    .slice(0, 60) || fallback;
