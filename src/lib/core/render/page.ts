import type { Site } from '../model/model';
import { escapeHtml } from '../text';

export interface PageParts {
  title: string;
  description?: string;
  /** Search engines are asked not to keep it. */
  unlisted?: boolean;
  /** Addresses of style sheets. */
  styles: string[];
  /** Rules for this page alone. */
  css?: string;
  /** HTML of what stands in the page, safe as it is. */
  main: string;
  /** What the site's own frame drew around it; without one there is a plain head and foot. */
  frame?: string;
  navigation: { label: string; url: string; current: boolean }[];
  canonical?: string;
  previous?: string;
  next?: string;
}

/** A whole page around what a template drew, as an HTML document. */
export function drawPage(site: Site, page: PageParts): string {
  const full = page.title === site.name ? site.name : `${page.title} · ${site.name}`;
  const head = [
    '<meta charset="utf-8">',
    '<meta name="viewport" content="width=device-width, initial-scale=1">',
    `<title>${escapeHtml(full)}</title>`,
    page.description ? `<meta name="description" content="${escapeHtml(page.description)}">` : '',
    page.unlisted ? '<meta name="robots" content="noindex">' : '',
    page.canonical ? `<link rel="canonical" href="${escapeHtml(page.canonical)}">` : '',
    page.previous ? `<link rel="prev" href="${escapeHtml(page.previous)}">` : '',
    page.next ? `<link rel="next" href="${escapeHtml(page.next)}">` : '',
    '<link rel="icon" href="/favicon.svg">',
    ...page.styles.map((href) => `<link rel="stylesheet" href="${escapeHtml(href)}">`),
    page.css ? `<style>${page.css}</style>` : '',
  ].filter(Boolean);
  return `<!DOCTYPE html>
<html lang="${escapeHtml(site.locale)}">
<head>
${head.join('\n')}
</head>
<body>
<a class="skip" href="#main">Skip to the page</a>
${page.frame ?? plainFrame(site, page)}
</body>
</html>
`;
}

function plainFrame(site: Site, page: PageParts): string {
  const links = page.navigation.map(
    ({ label, url, current }) =>
      `<li><a href="${escapeHtml(url)}"${current ? ' aria-current="true"' : ''}>${escapeHtml(label)}</a></li>`,
  );
  return `<header class="site-header">
<a class="site-name" href="/">${escapeHtml(site.name)}</a>
<nav aria-label="Site"><ul>${links.join('')}</ul></nav>
</header>
<main id="main">
${page.main}
</main>
<footer class="site-footer"><p>${escapeHtml([site.name, site.tagline].filter(Boolean).join(' · '))}</p></footer>`;
}
