import { z } from 'zod';

/**
 * Ids that are given from outside. They become keys of objects in places, so that none may be what every object has of
 * its own, such as `__proto__` or `constructor`.
 */
export const Id = z
  .string()
  .regex(/^[\p{L}\p{N}_][\p{L}\p{N}_ .:-]{0,39}$/u, {
    error: 'An id has letters, digits, and _ - . : or blanks between them, 40 signs at most.',
  })
  .refine((id) => !(id in Object.prototype), { error: 'This id belongs to the language; choose another one.' });
