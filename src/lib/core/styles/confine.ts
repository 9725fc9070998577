import type { CssNode, List } from 'css-tree';
import generate from 'css-tree/generator';
import parse from 'css-tree/parser';
import { ident } from 'css-tree/utils';
import walk from 'css-tree/walker';

export interface CssProblem {
  /** From 1. */
  line: number;
  column: number;
  what: string;
}

/** Rules that hold others; what stands in them is confined as well. */
const GROUPS = new Set(['media', 'supports', 'container', 'layer']);
/**
 * Whether every bracket of a text is closed again, and no block stands in it. What is not would take in whatever comes
 * after it in the sheet (CSS Syntax 3, 5.4.8: a simple block ends at its own bracket only).
 */
function isClosed(text: string): boolean {
  const open: string[] = [];
  const bare = text.replace(/\\(?:[\da-f]{1,6}\s?|[^])/gi, '').replace(/"[^"\n]*"|'[^'\n]*'|\/\*[^]*?\*\//g, '');
  if (/["'{}]|\/\*/.test(bare) || /(^|[^\\])\\$/.test(text)) return false;
  for (const [bracket] of bare.matchAll(/[()[\]]/g)) {
    if (bracket === '(') open.push(')');
    else if (bracket === '[') open.push(']');
    else if (open.pop() !== bracket) return false;
  }
  return !open.length;
}

/** Positions that stay within the element: those of CSS Positioned Layout 3 but `fixed`, and the words of every property. */
const POSITIONS =
  /^\s*(static|relative|absolute|sticky|-webkit-sticky|inherit|initial|unset|revert|revert-layer)\s*(!important)?\s*$/i;

/** Selectors of the page as a whole, which no element holds. */
const OUTSIDE = /^(html|body|:root)$/i;

const at = (node: CssNode, what: string): CssProblem => ({
  line: node.loc?.start.line ?? 1,
  column: node.loc?.start.column ?? 1,
  what,
});

/**
 * A designer's own CSS (CSS Syntax 3, Selectors 4), confined to the element with `className` and what it holds: every
 * selector begins at the class, `&` is the element itself, and nothing can reach beside or above it. Rules that load or
 * name things for the whole page, foreign addresses and fixed positions are refused, each with its line. What is refused
 * or cannot be read is left out; the rest works.
 */
export function confineCss(source: string, className: string): Confined {
  const key = `${className} ${source}`;
  let known = confined.get(key);
  if (!known) {
    known = readConfined(source, className);
    // The one that was asked for first goes first.
    const [first] = confined.keys();
    if (confined.size >= MOST_REMEMBERED && first !== undefined) confined.delete(first);
    confined.set(key, known);
  }
  return known;
}

interface Confined {
  readonly css: string;
  readonly problems: readonly CssProblem[];
}

/** The same element is compiled for the draft, for releases and for every edit beside it; what it came to is kept. */
const confined = new Map<string, Confined>();
const MOST_REMEMBERED = 1000;

function readConfined(source: string, className: string): Confined {
  const problems: CssProblem[] = [];
  const tree = parse(source, {
    positions: true,
    parseCustomProperty: true,
    onParseError: (error) =>
      problems.push({ line: error.line, column: error.column, what: `This cannot be read: ${error.message}.` }),
  });
  const names = new Set<string>();
  walk(tree, (node) => {
    if (node.type === 'Atrule' && /^(-webkit-)?keyframes$/i.test(node.name) && node.prelude)
      names.add(generate(node.prelude));
  });
  const own = (name: string) => `${className}-${name}`;

  const keep = (list: List<CssNode>, inKeyframes: boolean): void => {
    list.forEach((node, item) => {
      const wrong = check(node, inKeyframes);
      if (wrong) problems.push(wrong);
      if (wrong || (node.type === 'Rule' && node.block.children.isEmpty)) list.remove(item);
    });
  };

  const check = (node: CssNode, inKeyframes: boolean): CssProblem | undefined => {
    const head =
      node.type === 'Declaration'
        ? generate(node)
        : (node.type === 'Atrule' || node.type === 'Rule') && node.prelude
          ? generate(node.prelude)
          : '';
    if (!isClosed(head)) return at(node, 'A bracket or a quotation mark is not closed here.');
    if (node.type === 'Raw') return generate(node).trim() ? at(node, 'This is no rule.') : undefined;
    if (node.type === 'Atrule') {
      const name = node.name.toLowerCase();
      if (/^(-webkit-)?keyframes$/.test(name) && node.prelude && node.block) {
        node.prelude = { type: 'Raw', value: own(generate(node.prelude)) };
        keep(node.block.children, true);
        return undefined;
      }
      if (GROUPS.has(name) && node.block) {
        keep(node.block.children, inKeyframes);
        return undefined;
      }
      return at(node, `@${node.name} may not stand here: own CSS changes one element, not the page.`);
    }
    if (node.type === 'Declaration') return declaration(node);
    if (node.type !== 'Rule') return undefined;
    if (!inKeyframes) {
      const wrong = selectors(node.prelude, className);
      if (wrong) return at(node, wrong);
    }
    keep(node.block.children, inKeyframes);
    return undefined;
  };

  const declaration = (node: Extract<CssNode, { type: 'Declaration' }>): CssProblem | undefined => {
    const property = node.property.toLowerCase();
    const value = generate(node.value);
    // Written with escapes a name is the same to browsers and another one to whoever reads it (CSS Syntax 3, 4.3.7).
    if (/\\/.test(property) || /\\/.test(value.replace(/"(?:[^"\\\n]|\\[^])*"|'(?:[^'\\\n]|\\[^])*'/g, '')))
      return at(node, 'Escapes (\\) stand in quoted text only; write the name as it is.');
    if (property === 'position' && !POSITIONS.test(value))
      return at(
        node,
        /^\s*fixed\b/i.test(value)
          ? 'position: fixed would leave the element; use absolute or sticky.'
          : 'position is static, relative, absolute or sticky here; any other could leave the element.',
      );
    if (/^(behavior|-moz-binding)$/.test(property) || /expression\s*\(|javascript:/i.test(value))
      return at(node, `${node.property} may not stand here.`);
    if (/[^\w-](src|image-set|-webkit-image-set|element|paint)\s*\(/i.test(` ${value}`))
      return at(node, 'Pictures are named by url(…) only.');
    let foreign = false;
    walk(node.value, (inner) => {
      if (inner.type === 'Url' && !/^\/media\/[\w./-]+$/.test(inner.value)) foreign = true;
    });
    if (foreign || (node.value.type === 'Raw' && /url\s*\(/i.test(value)))
      return at(node, 'Only pictures of the library may be named, such as url(/media/3/960.webp).');
    if (/^(-webkit-)?animation(-name)?$/.test(property) && names.size)
      walk(node.value, (inner) => {
        if (inner.type === 'Identifier' && names.has(inner.name)) inner.name = own(inner.name);
      });
    return undefined;
  };

  if (tree.type === 'StyleSheet') keep(tree.children, false);
  return { css: generate(tree), problems };
}

/** Makes each selector of a rule begin at the class; says what is wrong where that cannot be. */
function selectors(prelude: CssNode, className: string): string | undefined {
  if (prelude.type !== 'SelectorList') return 'This selector cannot be read.';
  let wrong: string | undefined;
  prelude.children.forEach((selector) => {
    if (selector.type !== 'Selector') return;
    const scope: CssNode = { type: 'ClassSelector', name: className };
    let nested = false;
    let sibling = false;
    let outside = false;
    let compound = 0;
    selector.children.forEach((part) => {
      if (part.type === 'NestingSelector' || (part.type === 'PseudoClassSelector' && part.name === 'scope'))
        nested = true;
      if (part.type === 'Combinator') {
        compound++;
        // Beside the element itself nothing may be chosen; among what it holds, everything.
        if (compound === 1 && (part.name === '+' || part.name === '~')) sibling = true;
        if (part.name === '||') wrong = 'Columns of tables cannot be chosen here.';
      }
      if (
        (part.type === 'TypeSelector' && OUTSIDE.test(ident.decode(part.name))) ||
        (part.type === 'PseudoClassSelector' && /^(root|host|host-context)$/i.test(ident.decode(part.name)))
      )
        outside = true;
      if (part.type === 'PseudoElementSelector' && /^(view-transition|slotted|part)/i.test(ident.decode(part.name)))
        outside = true;
    });
    if (outside) wrong = 'The page as a whole is outside this element.';
    const first = selector.children.first;
    const begins =
      first?.type === 'NestingSelector' || (first?.type === 'PseudoClassSelector' && first.name === 'scope');
    if (nested && !begins) wrong = '& stands at the beginning of a selector.';
    if (begins && sibling) wrong = 'What stands beside the element is outside it.';
    if (begins) selector.children.shift();
    else if (first?.type !== 'Combinator') selector.children.prependData({ type: 'Combinator', name: ' ' });
    else if (first.name !== '>') wrong = 'What stands beside the element is outside it.';
    selector.children.prependData(scope);
    // A second & would be the class anywhere, and could lie above.
    let second = false;
    walk(selector, (part) => {
      if (part.type === 'NestingSelector') second = true;
    });
    if (second) wrong = '& stands once in a selector.';
  });
  return wrong;
}
