/** What a whole page lacks: it has nothing in it, or no heading of the first level. */
export type Lack = 'bare' | 'untitled';

const CONTENT = /<(img|svg|iframe|input)\b/;

/** What the HTML of a page lacks; `main` is what stands in its main part. */
export function lackOf(main: string, page = main): Lack | undefined {
  if (!CONTENT.test(main) && !main.replace(/<[^>]*>/g, '').trim()) return 'bare';
  return /<h1\b/.test(page) ? undefined : 'untitled';
}

/** What is said of some pages that lack the same, by their titles. */
export function lackWords(lack: Lack, titles: readonly string[], more = 0): string {
  const all = titles.length + more;
  const what = lack === 'bare' ? 'nothing in it' : 'no heading of the first level';
  return `${all === 1 ? '1 page has' : `${all} pages have`} ${what}: ${titles.join(', ')}${more ? ' and others' : ''}.`;
}
