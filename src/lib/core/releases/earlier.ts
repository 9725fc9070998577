import type { Model } from '../schema/model';
import { modelDesign, type Design } from './design';

/** A design from when only the addresses of content types, and what they are to programs, were released. */
interface EarlierDesign extends Omit<Design, 'types' | 'taxonomies'> {
  /** By the id of the content type. */
  types: Record<string, Pick<Model['types'][number], 'base' | 'address' | 'structured'>>;
}

/** A design from before with the model as it was seen then, which was as it stood; undefined for one that has it. */
export function withModel(
  design: EarlierDesign | Design,
  model: Pick<Model, 'types' | 'taxonomies'>,
): Design | undefined {
  if (Array.isArray(design.types)) return undefined;
  const own = design.types;
  const { types, taxonomies } = modelDesign(model);
  return {
    ...design,
    types: types.map((type) => {
      const was = own[type.id];
      if (!was) return type;
      const { address: _, structured: __, ...rest } = type;
      return { ...rest, ...was };
    }),
    taxonomies,
  };
}
