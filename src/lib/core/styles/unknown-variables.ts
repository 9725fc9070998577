import parse from 'css-tree/parser';
import walk from 'css-tree/walker';
import type { CssProblem } from './confine';
import type { KnownName } from './known';

/** Variables that a designer's own CSS reads and nothing sets: it has none of them, and says nothing else instead. */
export function unknownVariables(css: string, known: readonly KnownName[]): CssProblem[] {
  const names = new Set(known.map(({ name }) => name));
  const problems: CssProblem[] = [];
  const tree = parse(css, { positions: true, parseCustomProperty: true, onParseError: () => undefined });
  walk(tree, (node) => {
    if (node.type === 'Declaration' && node.property.startsWith('--')) names.add(node.property);
  });
  walk(tree, (node) => {
    if (node.type !== 'Function' || node.name.toLowerCase() !== 'var') return;
    const { first } = node.children;
    // With something after a comma it says what holds instead.
    if (first?.type !== 'Identifier' || names.has(first.name) || node.children.size > 1) return;
    problems.push({
      line: first.loc?.start.line ?? 1,
      column: first.loc?.start.column ?? 1,
      what: `There is no variable ${first.name}: neither the theme nor these rules set it.`,
    });
  });
  return problems;
}
