import { z } from 'zod';

/**
 * Ids that are given from outside. They become keys of objects in places, so that none may be what every object has of
 * its own, such as `__proto__` or `constructor`.
 */
export const Id = z
  .string()
  .regex(/^[A-Za-z0-9_][A-Za-z0-9_-]{0,39}$/, {
    error: 'An id has letters, digits, hyphens and underscores, 40 at most.',
  })
  .refine((id) => !(id in Object.prototype), { error: 'This id belongs to the language; choose another one.' });
