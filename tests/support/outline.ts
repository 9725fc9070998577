import { parse, type DefaultTreeAdapterMap } from 'parse5';

type Node = DefaultTreeAdapterMap['node'];
type Element = DefaultTreeAdapterMap['element'];
const isElement = (node: Node): node is Element => 'tagName' in node;
const childrenOf = (node: Node): Node[] => ('childNodes' in node ? node.childNodes : []);
const SECTIONS = new Set(['section', 'article', 'aside', 'nav']);

/**
 * What is wrong with how a page is parted, by the HTML Standard as parse5 reads the page: one `main` (4.4.14), with no
 * ancestors but html, body and div; banner and footer of the page in no section (HTML AAM: only then are `header` and
 * `footer` landmarks); each `section` and `article` with a heading of its own (what the W3C's checker warns of).
 */
export function outlineFaults(html: string): string[] {
  const faults: string[] = [];
  let mains = 0;
  const ownHeading = (node: Node): boolean =>
    childrenOf(node).some(
      (one) => isElement(one) && (/^h[1-6]$/.test(one.tagName) || (!SECTIONS.has(one.tagName) && ownHeading(one))),
    );
  const go = (node: Node, above: string[]): void => {
    if (isElement(node)) {
      const { tagName: tag } = node;
      if (tag === 'main') {
        mains++;
        const wrong = above.filter((one) => !['html', 'body', 'div'].includes(one));
        if (wrong.length) faults.push(`main within ${wrong.join(' > ')}`);
      }
      if ((tag === 'section' || tag === 'article') && !ownHeading(node))
        faults.push(`${tag} without a heading: ${node.attrs.map(({ value }) => value).join(' ')}`);
      if ((tag === 'header' || tag === 'footer') && !above.includes('main') && above.some((one) => SECTIONS.has(one)))
        faults.push(`${tag} of the page within ${above.join(' > ')}`);
    }
    for (const child of childrenOf(node)) go(child, isElement(node) ? [...above, node.tagName] : above);
  };
  go(parse(html), []);
  if (mains !== 1) faults.push(`${mains} main elements`);
  return faults;
}
