import { z } from 'zod';
import { elementNamed } from '../elements';
import type { ModelIndex } from '../model/model';
import { fail, ok, problem, problemsOf, type Problem, type Result } from '../result';
import { RuleSchema } from '../rules/rule';
import { StyleSchema } from '../styles/style';
import { SlotValueSchema } from './binding';

const Id = z.string().regex(/^[A-Za-z0-9_-]{1,60}$/, { error: 'An id has letters, digits, hyphens and underscores.' });

export const ElementSchema = z.strictObject({
  id: Id,
  kind: z.string().max(40),
  /** The designer's own name for it. */
  name: z.string().max(120).optional(),
  props: z.record(z.string(), z.unknown()).default({}),
  slots: z.record(z.string(), SlotValueSchema).default({}),
  rule: RuleSchema.optional(),
  /** How it looks, for each width of the screen. */
  style: StyleSchema.optional(),
  /** The designer's own CSS, confined to the element and what it holds. */
  css: z.string().max(20_000, { error: 'Own CSS takes 20,000 characters at most.' }).optional(),
  children: z.array(Id).default([]),
});
export type Element = z.infer<typeof ElementSchema>;

export const TreeSchema = z.strictObject({ root: Id, elements: z.record(z.string(), ElementSchema) });
/** Elements by id; `root` is the one at the top. */
export type Tree = z.infer<typeof TreeSchema>;

/** What a template answers, or leaves out: records, archives, or for a frame the pages of both. */
export const TargetSchema = z.discriminatedUnion('on', [
  /** Every record; for archives every one but the front page and the page that says that there is none. */
  z.strictObject({ on: z.literal('everything') }),
  /** The records of a type, or their archive. */
  z.strictObject({ on: z.literal('type'), typeId: z.string() }),
  /** Archives of the years and months in which records of a type were published. */
  z.strictObject({ on: z.literal('dates'), typeId: z.string() }),
  /** The archive of each term of a taxonomy; for records, those filed under any of them. */
  z.strictObject({ on: z.literal('taxonomy'), taxonomyId: z.string(), typeId: z.string().optional() }),
  /** Records filed under a term or one below it, of every type or of one; or the archives of these. */
  z.strictObject({ on: z.literal('term'), termId: z.string(), typeId: z.string().optional() }),
  /** The archive of each author. */
  z.strictObject({ on: z.literal('authors') }),
  /** Records by an author, or that author's archive. */
  z.strictObject({ on: z.literal('author'), authorId: z.number().int().positive(), typeId: z.string().optional() }),
  z.strictObject({ on: z.literal('search') }),
  /** The front page. */
  z.strictObject({ on: z.literal('front') }),
  /** The page at addresses where there is none. */
  z.strictObject({ on: z.literal('missing') }),
  /** Records of a type for which a rule holds. */
  z.strictObject({ on: z.literal('rule'), typeId: z.string(), rule: RuleSchema }),
  /** Chosen records of a type. */
  z.strictObject({
    on: z.literal('records'),
    typeId: z.string(),
    ids: z.array(z.number().int().positive()).max(5000, { error: 'Choose 5,000 records at most; a rule takes more.' }),
  }),
]);
export type Target = z.infer<typeof TargetSchema>;

/** A record page, an archive page, a reusable piece, or what surrounds every page. */
export const PURPOSES = ['record', 'archive', 'part', 'frame'] as const;
export type Purpose = (typeof PURPOSES)[number];

export const TemplateSchema = z.strictObject({
  id: Id,
  name: z.string().trim().min(1, { error: 'A template has a name.' }).max(120),
  purpose: z.enum(PURPOSES),
  /** What it answers, or for a part the kind of record it is about; the designer's order decides between equals. */
  serves: z.array(TargetSchema).max(50),
  /** What of this it does not answer all the same. */
  except: z.array(TargetSchema).max(50).optional(),
  order: z.number().int(),
  tree: TreeSchema,
  version: z.number().int(),
});
export type Template = z.infer<typeof TemplateSchema>;

export const MAX_ELEMENTS = 2000;

/** The content types whose records a template may meet. */
export function typesServed(template: Pick<Template, 'serves'>, model: ModelIndex): string[] {
  const all = () => model.types.map(({ id }) => id);
  const filedUnder = (taxonomyId: string | undefined) =>
    model.types.filter((type) => type.taxonomyIds.includes(taxonomyId ?? '')).map(({ id }) => id);
  return [
    ...new Set(
      template.serves.flatMap((target) => {
        if ('typeId' in target && target.typeId) return [target.typeId];
        if (target.on === 'taxonomy') return filedUnder(target.taxonomyId);
        if (target.on === 'term') return filedUnder(model.term(target.termId)?.taxonomyId);
        return target.on === 'everything' || target.on === 'author' ? all() : [];
      }),
    ),
  ];
}

/** The content type that a template is designed for: the first it serves. */
export const typeOf = (template: Pick<Template, 'serves'>, model: ModelIndex): string | undefined =>
  typesServed(template, model)[0];

/** Parses a template and settles its tree: every element once, all under the root, kinds known, props as their kind has them. */
export function parseTemplate(input: unknown): Result<Template> {
  const parsed = TemplateSchema.safeParse(input);
  if (!parsed.success) return fail(...problemsOf(parsed.error));
  const tree = parseTree(parsed.data.tree, parsed.data.purpose);
  return tree.ok ? ok({ ...parsed.data, tree: tree.value }) : tree;
}

/** Settles a tree by itself; with a purpose also that each element may stand in such a template. */
export function parseTree(input: Tree, purpose?: Purpose): Result<Tree> {
  const problems: Problem[] = [];
  const elements: Record<string, Element> = {};
  const own = (id: string) => (Object.hasOwn(input.elements, id) ? input.elements[id] : undefined);
  const visit = (id: string, from: string): void => {
    const element = own(id);
    const at = `tree.elements.${id}`;
    if (!element) return void problems.push(problem(at, `${from} holds an element that is not there.`));
    if (Object.hasOwn(elements, id)) return void problems.push(problem(at, 'An element stands in two places.'));
    const kind = elementNamed(element.kind);
    if (element.id !== id) problems.push(problem(at, 'An element is filed under another id than its own.'));
    if (!kind) return void problems.push(problem(`${at}.kind`, `There is no element named “${element.kind}”.`));
    const props = kind.props.safeParse(element.props);
    if (!props.success) problems.push(...problemsOf(props.error, `${at}.props`));
    if (purpose && kind.only && !kind.only.includes(purpose))
      problems.push(problem(at, `${kind.label} cannot stand in this template.`));
    if (!kind.holds && element.children.length)
      problems.push(problem(at, `A ${kind.label.toLowerCase()} holds no other elements.`));
    for (const name of Object.keys(element.slots))
      if (!Object.hasOwn(kind.slots, name))
        problems.push(problem(`${at}.slots.${name}`, `A ${kind.label.toLowerCase()} has no slot “${name}”.`));
    elements[id] = { ...element, props: props.success ? (props.data as Record<string, unknown>) : element.props };
    for (const child of element.children) visit(child, kind.label);
  };
  visit(input.root, 'The template');
  const count = Object.keys(input.elements).length;
  if (count > MAX_ELEMENTS)
    problems.push(problem('tree', `A template has ${MAX_ELEMENTS} elements at most; this one has ${count}.`));
  if (!problems.length && Object.keys(elements).length !== count)
    problems.push(problem('tree', 'Some elements stand nowhere in the tree.'));
  return problems.length ? fail(...problems) : ok({ root: input.root, elements });
}
