import type { Site } from '../schema/model';
import { ICON_ADDRESS } from '../theme/icon';
import { directionOf } from '../base/direction';
import { escapeHtml } from '../base/text';

export interface PageParts {
  title: string;
  description?: string;
  /** Search engines are asked not to keep it. */
  unlisted?: boolean;
  /** Addresses of typefaces (WOFF2) that are needed at once. */
  preload?: string[];
  /** Addresses of style sheets. */
  styles: string[];
  /** Rules for this page alone. */
  css?: string;
  /** HTML of what stands in the page, safe as it is. */
  main: string;
  /** HTML of a line above everything, safe as it is. */
  banner?: string;
  /** What the site's own frame drew around it; without one there is a plain head and foot. */
  frame?: string;
  navigation: { label: string; url: string; current: boolean }[];
  canonical?: string;
  previous?: string;
  next?: string;
  /** Feeds of what the page lists. */
  feeds?: { href: string; type: string; title: string }[];
  /** What stands for the page where it is linked to; addresses whole. */
  /** The page's record as JSON-LD, safe as it is. */
  structured?: string;
  card?: { kind: 'website' | 'article'; picture?: { url: string; alt: string } };
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
    ...(page.feeds ?? []).map(
      ({ href, type, title }) =>
        `<link rel="alternate" type="${type}" title="${escapeHtml(title)}" href="${escapeHtml(href)}">`,
    ),
    ...cardOf(site, page),
    page.structured ? `<script type="application/ld+json">${page.structured}</script>` : '',
    ...(page.preload ?? []).map(
      (href) => `<link rel="preload" as="font" type="font/woff2" crossorigin href="${escapeHtml(href)}">`,
    ),
    `<link rel="icon" type="image/svg+xml" href="${ICON_ADDRESS}">`,
    ...page.styles.map((href) => `<link rel="stylesheet" href="${escapeHtml(href)}">`),
    page.css ? `<style>${page.css}</style>` : '',
  ].filter(Boolean);
  return `<!DOCTYPE html>
<html lang="${escapeHtml(site.locale)}"${directionOf(site.locale) === 'rtl' ? ' dir="rtl"' : ''}>
<head>
${head.join('\n')}
</head>
<body>
<a class="skip" href="#main">Skip to the page</a>
${page.banner ?? ''}${page.frame ?? plainFrame(site, page)}
</body>
</html>
`;
}

/** The Open Graph properties of a page (ogp.me): title, type and address, the picture where there is one, and what else is known. */
function cardOf(site: Site, { title, description, canonical, card }: PageParts): string[] {
  if (!card || !canonical) return [];
  const property = (name: string, content: string | undefined) =>
    content ? [`<meta property="og:${name}" content="${escapeHtml(content)}">`] : [];
  return [
    ...property('title', title),
    ...property('type', card.kind),
    ...property('url', canonical),
    ...property('image', card.picture?.url),
    ...property('image:alt', card.picture?.alt),
    ...property('description', description),
    ...property('site_name', site.name),
    ...property('locale', site.locale.replace('-', '_')),
  ];
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
