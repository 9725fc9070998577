import { z } from 'zod';
import { indexModel } from '../model/model';
import type { Model } from '../schema/model';
import type { ModelIndex } from '../model/model-index';
import { MenuSchema } from '../schema/menu';
import { StructuredSchema } from '../schema/structured';
import { NamedRuleSchema } from '../schema/named-rule';
import { TemplateSchema } from '../schema/template';
import { ThemeSchema } from '../schema/theme';

/** What of a content type is design: how its addresses are made, and what its records are to programs. */
export const TypeDesignSchema = z.strictObject({
  base: z.string().min(1).max(60),
  address: z.string().max(200).optional(),
  structured: StructuredSchema.optional(),
});

/**
 * Everything that designers change and visitors see only once it is released. Content types with their fields, terms and
 * records are content, and hold at once.
 */
export const DesignSchema = z.strictObject({
  templates: z.array(TemplateSchema),
  rules: z.array(NamedRuleSchema),
  menus: z.array(MenuSchema),
  theme: ThemeSchema,
  /** By the id of the content type. */
  types: z.record(z.string(), TypeDesignSchema),
});
export type Design = z.infer<typeof DesignSchema>;

/** What of the content types of a model is design. */
export const typeDesigns = (model: Pick<Model, 'types'>): Design['types'] =>
  Object.fromEntries(
    model.types.map(({ id, base, address, structured }) => [
      id,
      { base, ...(address && { address }), ...(structured && { structured }) },
    ]),
  );

/** The content as it is now under a design; types that the design does not know yet are as they are. */
export function underDesign(model: Model, design: Design): ModelIndex {
  return indexModel({
    ...model,
    rules: design.rules,
    menus: design.menus,
    types: model.types.map((type) => {
      const own = design.types[type.id];
      if (!own) return type;
      const { address: _, structured: __, ...rest } = type;
      return { ...rest, ...own };
    }),
  });
}
