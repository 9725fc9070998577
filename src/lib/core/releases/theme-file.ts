import { fieldsIn } from '../model/settings';
import { leadsOf } from '../model/field';
import { z } from 'zod';
import { kindNamed } from '../model/kinds';
import { everyEntry, MenuSchema } from '../schema/menu';
import { withEntry } from '../model/menu';
import { ContentTypeSchema, TaxonomySchema, TermSchema, type ContentType, type Model } from '../schema/model';
import type { Field } from '../model/model';
import type { ModelIndex } from '../model/model-index';
import { elementNamed } from '../elements';
import { fail, ok, problem, problemsOf, type Problem, type Result } from '../base/result';
import { circleOf } from '../rules/named';
import { NamedRuleSchema } from '../schema/named-rule';
import { parseTemplate } from '../templates/parse';
import { TemplateSchema, type Template } from '../schema/template';
import type { Target } from '../schema/target';
import type { Tree } from '../schema/element';
import { ThemeSchema } from '../schema/theme';
import { lookProblems } from '../styles/style';
import type { Design } from './design';

/** The newest version of the file that is understood. */
export const THEME_FILE_VERSION = 1;

/** A whole theme as one file: what it is made for, and everything that is designed; see docs/formats/theme.md. */
export const ThemeFileSchema = z.strictObject({
  format: z.literal('plum-thread-theme'),
  version: z.number().int().min(1),
  name: z.string().max(200),
  /** An instant, RFC 3339. */
  written: z.string(),
  model: z.strictObject({
    types: z.array(ContentTypeSchema),
    taxonomies: z.array(TaxonomySchema),
    terms: z.array(TermSchema.omit({ pictureId: true })),
  }),
  templates: z.array(TemplateSchema),
  rules: z.array(NamedRuleSchema),
  menus: z.array(MenuSchema),
  theme: ThemeSchema,
});
export type ThemeFile = z.infer<typeof ThemeFileSchema>;

/** Of a site's own records and authors a theme knows nothing: targets and entries that name them are left out. */
const ownToSite = (target: Target): boolean => target.on === 'records' || target.on === 'author';

/** The theme of a site as a file. */
export function themeFile(
  model: Model,
  design: Pick<Design, 'templates' | 'rules' | 'menus' | 'theme'>,
  written: string,
): ThemeFile {
  const { types, taxonomies, terms, site } = model;
  return {
    format: 'plum-thread-theme',
    version: THEME_FILE_VERSION,
    name: site.name,
    written,
    model: { types, taxonomies, terms: terms.map(({ pictureId: _, ...term }) => term) },
    templates: design.templates
      .map(({ except, ...template }) => ({
        ...template,
        serves: template.serves.filter((target) => !ownToSite(target)),
        ...(except && { except: except.filter((target) => !ownToSite(target)) }),
      }))
      .filter(({ purpose, serves }) => serves.length > 0 || purpose === 'part' || purpose === 'frame'),
    rules: design.rules,
    menus: design.menus.map((menu) => ({
      ...menu,
      entries: everyEntry(menu.entries)
        .filter(({ leads }) => leads.to === 'record' || leads.to === 'author')
        .reduce((entries, { id }) => withEntry(entries, id, () => undefined), menu.entries),
    })),
    theme: design.theme,
  };
}

/** Reads a file, and refuses one from a newer version, one that is damaged, and parts or rules that stand in themselves. */
export function parseThemeFile(input: unknown): Result<ThemeFile> {
  const head = z.looseObject({ format: z.unknown(), version: z.unknown() }).safeParse(input);
  if (!head.success || head.data.format !== 'plum-thread-theme')
    return fail(problem('', 'This is no theme of Plum Thread.', 'Choose a file that was exported as a theme.'));
  if (typeof head.data.version === 'number' && head.data.version > THEME_FILE_VERSION)
    return fail(
      problem(
        'version',
        `This theme has version ${head.data.version}; up to ${THEME_FILE_VERSION} is understood.`,
        'Use a newer Plum Thread.',
      ),
    );
  const parsed = ThemeFileSchema.safeParse(input);
  if (!parsed.success) return fail(...problemsOf(parsed.error).slice(0, 20));
  const file = parsed.data;
  const problems: Problem[] = lookProblems(file.theme.looks);
  for (const template of file.templates) {
    const whole = parseTemplate(template);
    if (!whole.ok) problems.push(...whole.problems.map((p) => ({ ...p, at: `“${template.name}”, ${p.at}` })));
    const circle = circleOfParts(template.id, file.templates);
    if (circle)
      problems.push(
        problem(
          `“${template.name}”`,
          `It stands in itself: ${circle.join(' → ')}.`,
          'Take the part out of itself in the file.',
        ),
      );
  }
  for (const rule of file.rules)
    if (circleOf(rule.id, file.rules))
      problems.push(problem(`“${rule.name}”`, 'The rule asks itself.', 'Take it out of itself.'));
  const parents = new Map(file.model.terms.map(({ id, parentId }) => [id, parentId]));
  for (const term of file.model.terms) {
    const seen = new Set<string>();
    for (let at: string | null | undefined = term.id; at; at = parents.get(at)) {
      if (seen.has(at)) {
        problems.push(problem(`“${term.name}”`, 'The term lies below itself.', 'Put it somewhere else.'));
        break;
      }
      seen.add(at);
    }
  }
  return problems.length ? fail(...problems.slice(0, 20)) : ok(file);
}

/** The way from a part back to itself through the parts that stand in it, by name. */
function circleOfParts(id: string, templates: readonly Template[]): string[] | undefined {
  const byId = new Map(templates.map((template) => [template.id, template]));
  const partsIn = (tree: Tree) =>
    Object.values(tree.elements).flatMap(({ kind, props }) =>
      kind === 'part' && typeof props.part === 'string' ? [props.part] : [],
    );
  const go = (at: string, way: string[], seen: Set<string>): string[] | undefined => {
    for (const next of partsIn(byId.get(at)?.tree ?? { root: '', elements: {} })) {
      if (next === id) return [...way, byId.get(next)?.name ?? next];
      if (seen.has(next)) continue;
      seen.add(next);
      const found = go(next, [...way, byId.get(next)?.name ?? next], seen);
      if (found) return found;
    }
    return undefined;
  };
  return go(id, [byId.get(id)?.name ?? id], new Set());
}

/** What is done with one thing of the file: made new, put in the place of one that is there, or left out. */
export const ChoiceSchema = z.union([z.strictObject({ as: z.string().max(60) }), z.enum(['new', 'leave'])]);
export type Choice = z.infer<typeof ChoiceSchema>;

const Choices = z.record(z.string(), ChoiceSchema);
/** What is done with everything of a file, by its ids. */
export const MappingSchema = z.strictObject({
  types: Choices,
  /** By the field’s id; those of a type that is left out are not asked. */
  fields: Choices,
  taxonomies: Choices,
  /** In the place of one with the same id (`as` itself), beside it, or not at all. */
  templates: Choices,
  rules: Choices,
  menus: Choices,
  theme: z.boolean(),
});
export type Mapping = z.infer<typeof MappingSchema>;

/** Whether what reads one field can read the other. */
export const sameUse = (a: Field, b: Field): boolean => kindNamed(a.kind)?.family === kindNamed(b.kind)?.family;

/**
 * What would be done if nobody said otherwise: types, fields and taxonomies of the same id, else the same key, are taken
 * for those of the site; everything else is new. Nothing that stands is put aside: templates of the same id come beside.
 */
export function suggestMapping(file: ThemeFile, model: ModelIndex): Mapping {
  const fields: Mapping['fields'] = {};
  const types = Object.fromEntries(
    file.model.types.map((type): [string, Choice] => {
      const own = model.type(type.id) ?? model.types.find(({ key }) => key === type.key);
      for (const field of type.fields) {
        const match = own?.fields.find(({ id }) => id === field.id) ?? own?.fields.find(({ key }) => key === field.key);
        fields[field.id] = match && sameUse(match, field) ? { as: match.id } : 'new';
      }
      return [type.id, own ? { as: own.id } : 'new'];
    }),
  );
  const taxonomies = Object.fromEntries(
    file.model.taxonomies.map((taxonomy): [string, Choice] => {
      const own = model.taxonomy(taxonomy.id) ?? model.taxonomies.find(({ key }) => key === taxonomy.key);
      return [taxonomy.id, own ? { as: own.id } : 'new'];
    }),
  );
  const beside = (list: readonly { id: string }[]) =>
    Object.fromEntries(list.map(({ id }): [string, Choice] => [id, 'new']));
  return {
    types,
    fields,
    taxonomies,
    templates: beside(file.templates),
    rules: beside(file.rules),
    menus: beside(file.menus),
    theme: false,
  };
}

/** Ids of a file and what they are on the site. */
export interface Ids {
  types: Map<string, string>;
  fields: Map<string, string>;
  taxonomies: Map<string, string>;
  terms: Map<string, string>;
  templates: Map<string, string>;
  rules: Map<string, string>;
  menus: Map<string, string>;
}

const step = (text: string, ids: Ids): string =>
  text.startsWith('@terms:')
    ? `@terms:${ids.taxonomies.get(text.slice(7)) ?? text.slice(7)}`
    : (ids.fields.get(text) ?? text);

/**
 * Anything of a design with the ids of a file made those of the site. Ids are known by the names they stand under, so that
 * words that happen to be spelled like one are left alone.
 */
export function withIds<T>(value: T, ids: Ids): T {
  const one = (map: Map<string, string>, v: unknown): unknown =>
    Array.isArray(v) ? v.map((part) => one(map, part)) : typeof v === 'string' ? (map.get(v) ?? v) : v;
  const steps = (v: unknown): unknown => (Array.isArray(v) ? v.map(steps) : typeof v === 'string' ? step(v, ids) : v);
  const BY_NAME: Record<string, (v: unknown) => unknown> = {
    typeId: (v) => one(ids.types, v),
    typeIds: (v) => one(ids.types, v),
    taxonomyId: (v) => one(ids.taxonomies, v),
    taxonomyIds: (v) => one(ids.taxonomies, v),
    termId: (v) => one(ids.terms, v),
    named: (v) => one(ids.rules, v),
    steps,
    step: steps,
  };
  const walk = (at: unknown): unknown => {
    if (Array.isArray(at)) return at.map(walk);
    if (typeof at !== 'object' || at === null) return at;
    const own = at as Record<string, unknown>;
    // Keys come from a file, and may be called like what every object has.
    const out: Record<string, unknown> = Object.fromEntries(
      Object.entries(own).map(([key, v]) => {
        const known =
          Object.hasOwn(BY_NAME, key) && (typeof v !== 'object' || Array.isArray(v)) ? BY_NAME[key] : undefined;
        return [key, known ? known(v) : walk(v)];
      }),
    );
    if (typeof own.test === 'string' && Object.hasOwn(own, 'operand')) out.operand = operandOf(own, out);
    if (typeof own.kind === 'string' && typeof own.props === 'object' && own.props !== null)
      out.props = propsOf(own.kind, out.props as Record<string, unknown>);
    return out;
  };
  /** Terms and types that a test compares with. */
  const operandOf = (test: Record<string, unknown>, out: Record<string, unknown>): unknown => {
    const last = (test.path as { steps?: string[] } | undefined)?.steps?.at(-1) ?? '';
    if (last === '@type') return one(ids.types, test.operand);
    return String(test.test).startsWith('terms.') || last.startsWith('@terms:')
      ? one(ids.terms, test.operand)
      : out.operand;
  };
  /** Settings of elements that name parts, menus and sub-fields. */
  const propsOf = (kind: string, props: Record<string, unknown>): Record<string, unknown> => {
    const out = { ...props };
    for (const control of elementNamed(kind)?.controls ?? []) {
      const v = props[control.name];
      if (v === undefined) continue;
      if (control.as === 'part') out[control.name] = one(ids.templates, v);
      if (control.as === 'menu') out[control.name] = one(ids.menus, v);
      if (control.as === 'subfields' || control.as === 'subfield') out[control.name] = steps(v);
    }
    const visitors = props.visitors as { search?: unknown } | undefined;
    if (visitors?.search) out.visitors = { ...visitors, search: steps(visitors.search) };
    return out;
  };
  return walk(value) as T;
}

/** Elements that would read what is left out or gone, by template. */
export function strayReads(template: Template, known: ReadonlySet<string>): number {
  let count = 0;
  const visit = (at: unknown): void => {
    if (Array.isArray(at)) return void at.forEach(visit);
    if (typeof at !== 'object' || at === null) return;
    for (const [key, v] of Object.entries(at)) {
      if (key === 'steps' && Array.isArray(v)) {
        if (v.some((one) => typeof one === 'string' && !one.startsWith('@') && !known.has(one))) count++;
      } else visit(v);
    }
  };
  for (const { slots, rule, props } of Object.values(template.tree.elements)) visit([slots, rule, props]);
  return count;
}

/** The ids of a type's fields with those of its rows at every depth. */
export function fieldIds(type: Pick<ContentType, 'fields'>): string[] {
  const visit = (fields: readonly Field[]): string[] =>
    fields.flatMap((field) => [field.id, ...(leadsOf(field) === 'entry' ? visit(fieldsIn(field.settings)) : [])]);
  return visit(type.fields);
}
