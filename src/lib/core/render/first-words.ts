import { htmlText } from '../base/text';

/** Shorter paragraphs are labels and facts. */
const LEAST = 40;
const MOST = 300;
/** So much of a page is looked through. */
const LOOKED_THROUGH = 50_000;

/**
 * What a page is about where nothing else says so, as plain text of 300 characters at most: its first paragraph of 40 or more,
 * or with `facts` what stands on it but for headings, navigation and forms, parted by dots.
 */
export function firstWords(html: string, { facts }: { facts: boolean }): string | undefined {
  const [paragraphs, all]: [string[], string[]] = [[], []];
  let [skipped, inParagraph] = [0, false];
  for (const piece of html.slice(0, LOOKED_THROUGH).split(/(<[^<>]*>)/)) {
    const [, end, name = ''] = /^<(\/?)([a-z][a-z\d]*)/.exec(piece) ?? [];
    if (!name) {
      if (skipped) continue;
      all.push(piece);
      if (inParagraph) paragraphs.push((paragraphs.pop() ?? '') + piece);
    } else if (/^(h\d|nav|form)$/.test(name)) skipped = Math.max(0, skipped + (end ? -1 : 1));
    else if (name === 'p') {
      inParagraph = !end;
      if (inParagraph) paragraphs.push('');
      all.push(' · ');
    } else if (/^(dt|th)$/.test(name) && end) all.push(': ');
    else if (/^(li|dd|td|div|br|figcaption|section)$/.test(name) && end) all.push(' · ');
  }
  const text = paragraphs.map(plain).find((one) => one.length >= LEAST);
  if (text !== undefined || !facts) return text && cut(text);
  const parts = plain(all.join('')).split(' · ');
  const found = parts
    .map((part) => part.replace(/^· | ·$/g, '').trim())
    .filter((part) => part && part !== '·')
    .join(' · ');
  return found.length >= LEAST ? cut(found) : undefined;
}

const plain = (html: string): string => htmlText(html).replace(/\s+/g, ' ').trim();

/** Cut at a word. */
const cut = (text: string): string =>
  text.length > MOST ? `${text.slice(0, MOST - 1).replace(/\s+\S*$/, '')}…` : text;
