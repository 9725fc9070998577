import { z } from 'zod';

/** What a token or a named look of the theme is known by. */
export const Key = z.string().regex(/^[a-z][a-z0-9-]{0,39}$/, {
  error: 'The key of a token has small letters, digits and hyphens, and starts with a letter.',
});
