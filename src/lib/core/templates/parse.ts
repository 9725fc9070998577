import { type Purpose, TemplateSchema, type Template, MAX_ELEMENTS } from '../schema/template';
import type { Element, Tree } from '../schema/element';
import { elementNamed } from '../elements';
import { styleProblems } from '../styles/style';
import { fail, ok, problem, problemsOf, type Problem, type Result } from '../base/result';

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
    if (element.style) problems.push(...styleProblems(element.style, `${at}.style`));
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
