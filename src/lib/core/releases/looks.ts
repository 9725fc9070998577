import type { CssNode, PseudoClassSelector, Rule } from 'css-tree';
import generate from 'css-tree/generator';
import parse from 'css-tree/parser';
import walk from 'css-tree/walker';

/** What has to be on a page for a rule to be seen there, as far as names tell: classes and elements. */
interface Needs {
  classes: string[];
  tags: string[];
}

interface Sheet {
  /** Declarations by the condition and the selector that they stand under. */
  rules: Map<string, { selector: CssNode; text: string }>;
  variables: Map<string, string>;
}

function read(css: string): Sheet {
  const sheet: Sheet = { rules: new Map(), variables: new Map() };
  walk(parse(css, { parseValue: false }), {
    visit: 'Rule',
    enter(rule: Rule) {
      if (this.atrule?.name === 'font-face' || rule.prelude.type !== 'SelectorList') return;
      const condition = this.atrule
        ? `@${this.atrule.name} ${this.atrule.prelude ? generate(this.atrule.prelude) : ''}`
        : '';
      const declared: string[] = [];
      rule.block.children.forEach((node) => {
        if (node.type !== 'Declaration') return;
        const text = generate(node);
        if (node.property.startsWith('--')) sheet.variables.set(`${condition} ${node.property}`, text);
        declared.push(text);
      });
      rule.prelude.children.forEach((selector) => {
        const key = `${condition} ${generate(selector)}`;
        const known = sheet.rules.get(key);
        sheet.rules.set(key, { selector, text: `${known?.text ?? ''}${declared.join(';')};` });
      });
    },
  });
  return sheet;
}

/** Whether a pseudo-class asks for one selector, and not for one of several. */
const isOne = ({ children }: PseudoClassSelector): boolean => {
  const list = children?.first;
  return list?.type === 'SelectorList' ? list.children.size === 1 : false;
};

function needsOf(selector: CssNode): Needs {
  const needs: Needs = { classes: [], tags: [] };
  walk(selector, {
    enter(node: CssNode) {
      // What stands in a negation, or in one of several ways, is not needed; what has to be within is.
      if (node.type === 'PseudoClassSelector') return node.name === 'has' && isOne(node) ? undefined : walk.skip;
      if (node.type === 'ClassSelector') needs.classes.push(node.name);
      if (node.type === 'TypeSelector' && node.name !== '*') needs.tags.push(node.name.toLowerCase());
    },
  });
  return needs;
}

/**
 * Whether a difference between two style sheets can be seen on a page, by the classes and elements it has: a rule that is
 * new, gone or says something else, or one that uses a variable which is another. Undefined where there is no difference.
 */
export function looksChanged(before: string, after: string): ((html: string) => boolean) | undefined {
  if (before === after) return undefined;
  const [was, now] = [read(before), read(after)];
  const variables = new Set(
    [...new Set([...was.variables.keys(), ...now.variables.keys()])]
      .filter((key) => was.variables.get(key) !== now.variables.get(key))
      .map((key) => key.slice(key.lastIndexOf('--'))),
  );
  const uses = (text: string) =>
    [...text.matchAll(/var\(\s*(--[\w-]+)/g)].some(([, name]) => variables.has(name as string));
  const needs = new Map<string, Needs>();
  for (const key of new Set([...was.rules.keys(), ...now.rules.keys()])) {
    const [a, b] = [was.rules.get(key), now.rules.get(key)];
    const rule = b ?? a;
    if (!rule || (a?.text === b?.text && !uses(rule.text))) continue;
    // Variables by themselves are seen where they are used.
    if ([a, b].every((one) => !one || one.text.split(';').every((part) => !part || part.startsWith('--')))) continue;
    needs.set(JSON.stringify(needsOf(rule.selector)), needsOf(rule.selector));
  }
  const all = [...needs.values()];
  return (html) => {
    const classes = new Set([...html.matchAll(/ class="([^"]*)"/g)].flatMap(([, list = '']) => list.split(/\s+/)));
    const tags = new Set([...html.matchAll(/<([a-z][a-z0-9-]*)/g)].map(([, tag]) => tag as string));
    return all.some((one) => one.classes.every((name) => classes.has(name)) && one.tags.every((tag) => tags.has(tag)));
  };
}
