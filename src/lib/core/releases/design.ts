import { formerOptionsIn, hasOptions, optionsIn } from '../model/settings';
import { z } from 'zod';
import { indexModel } from '../model/model';
import { withGone } from '../content/options';
import type { Field } from '../schema/field';
import { ContentTypeSchema, TaxonomySchema, type ContentType, type Model, type Term } from '../schema/model';
import type { ModelBeside, ModelIndex } from '../model/model-index';
import type { Option } from '../model/kinds/choice';
import { MenuSchema } from '../schema/menu';
import { NamedRuleSchema } from '../schema/named-rule';
import { TemplateSchema } from '../schema/template';
import { ThemeSchema } from '../schema/theme';

/**
 * Everything that designers change and visitors see only once it is released: the content types with their fields, names
 * and addresses too. Terms, authors and records are content, and hold at once.
 */
export const DesignSchema = z.strictObject({
  templates: z.array(TemplateSchema),
  rules: z.array(NamedRuleSchema),
  menus: z.array(MenuSchema),
  theme: ThemeSchema,
  /** In their order. */
  types: z.array(ContentTypeSchema),
  taxonomies: z.array(TaxonomySchema),
});
export type Design = z.infer<typeof DesignSchema>;

/** What of a model is design. */
export const modelDesign = ({ types, taxonomies }: Pick<Model, 'types' | 'taxonomies'>) => ({ types, taxonomies });

const optionsOf = ({ settings }: Field): Option[] | undefined =>
  hasOptions(settings) ? optionsIn(settings) : undefined;

/**
 * A field as visitors see it: as it was released. Only a change of its kind holds at once, since it converts the values;
 * and an option that the release does not know is called what it is called now, since records may have it already.
 */
function asReleased(field: Field, now: Field | undefined): Field {
  if (!now) return field;
  if (now.kind !== field.kind) return { ...field, kind: now.kind, settings: now.settings, initial: now.initial };
  const options = optionsOf(now);
  if (options) return withGone(field, [...formerOptionsIn(now.settings), ...options]);
  const { fields } = field.settings;
  return Array.isArray(fields)
    ? { ...field, settings: { ...field.settings, fields: allAsReleased(fields as Field[], now.settings.fields) } }
    : field;
}

const allAsReleased = (fields: readonly Field[], now: unknown): Field[] =>
  fields.map((field) =>
    asReleased(field, Array.isArray(now) ? (now as Field[]).find(({ id }) => id === field.id) : undefined),
  );

/** The content as it is now under a design. `terms` are those of every taxonomy, also of one that the draft has no more. */
export function underDesign(draft: Model, design: Design, terms: readonly Term[] = draft.terms): ModelIndex {
  const drafts = new Map(draft.types.map((type) => [type.id, type]));
  const known = new Set(design.taxonomies.map(({ id }) => id));
  return indexModel({
    ...draft,
    rules: design.rules,
    menus: design.menus,
    taxonomies: design.taxonomies,
    terms: terms.filter(({ taxonomyId }) => known.has(taxonomyId)),
    types: design.types.map((type) => ({ ...type, fields: allAsReleased(type.fields, drafts.get(type.id)?.fields) })),
  });
}

/**
 * The content types of what is kept: those that visitors see, with whatever the draft has beside them. A type or field
 * that is in both is as visitors see it, but for its place and what concerns only who writes.
 */
export function storedTypes(draft: readonly ContentType[], seen: readonly ContentType[]): ContentType[] {
  const drafts = new Map(draft.map((type) => [type.id, type]));
  const shown = new Map(seen.map((type) => [type.id, type]));
  const both = (now: ContentType): ContentType => {
    const other = shown.get(now.id);
    if (!other) return now;
    const fields = new Map(other.fields.map((field) => [field.id, field]));
    const own = new Set(now.fields.map(({ id }) => id));
    return {
      ...now,
      fields: [
        ...now.fields.map((field) => {
          const settings = fields.get(field.id)?.settings;
          return settings ? { ...field, settings } : field;
        }),
        ...other.fields.filter(({ id }) => !own.has(id)),
      ],
    };
  };
  return [...draft.map(both), ...seen.filter(({ id }) => !drafts.has(id))];
}

const keysOf = ({ settings }: Field): string =>
  JSON.stringify([...optionsIn(settings), ...formerOptionsIn(settings)].map(({ key }) => key));

/** What the kept types have beside those of a model. */
export function besideOf(types: readonly ContentType[], kept: readonly ContentType[]): ModelBeside {
  const own = new Map(types.map((type) => [type.id, new Map(type.fields.map((field) => [field.id, field]))]));
  const known = new Map(kept.map((type) => [type.id, new Map(type.fields.map((field) => [field.id, field]))]));
  const written = new Map<string, Record<string, unknown> | undefined>();
  for (const [id, fields] of own)
    for (const field of fields.values()) {
      const other = known.get(id)?.get(field.id);
      if (!other || keysOf(other) !== keysOf(field)) written.set(field.id, other?.settings);
    }
  return {
    types: [...known.keys()].filter((id) => !own.has(id)),
    fields: [...known].flatMap(([id, fields]) => [...fields.keys()].filter((field) => !own.get(id)?.has(field))),
    written,
  };
}
