import { z } from 'zod';

/**
 * From a scope, step by step, to a value. `from` is `record`, `archive`, `site` or `loop:<element id>`; a step is a
 * field's id or a built-in value's name, which starts with `@`.
 */
export const PathSchema = z.object({
  from: z.string().regex(/^(record|archive|site|loop:[A-Za-z0-9_-]{1,60})$/, {
    error: 'A path starts at record, archive, site or a loop.',
  }),
  steps: z.array(z.string().min(1).max(80)).max(12, { error: 'A path has 12 steps at most.' }),
});

export type Path = z.infer<typeof PathSchema>;

export const samePath = (a: Path, b: Path): boolean => a.from === b.from && a.steps.join('/') === b.steps.join('/');
