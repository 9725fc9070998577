import { directionOf } from '$lib/core/base/direction';
import { escapeHtml } from '$lib/core/base/text';
import site from '$lib/site/site.css?url';

/**
 * Puts a page with a `main` into a frame, and says when it stands there. The load of the empty page that every frame
 * begins with may come before or after, and is not taken for it.
 */
export function fillFrame(frame: HTMLIFrameElement, html: string, ready: () => void): void {
  const onLoad = () => {
    if (!frame.contentDocument?.querySelector('main')) return;
    frame.removeEventListener('load', onLoad);
    ready();
  };
  frame.addEventListener('load', onLoad);
  frame.srcdoc = html;
}

/** An empty page of a site in a language (BCP 47), with the sheet of all sites, room for a sheet of its own (`#own`), and `main`. */
export function emptyPage(locale: string, rules: string, { own = '', main = '' } = {}): string {
  return (
    `<!DOCTYPE html><html lang="${escapeHtml(locale)}" dir="${directionOf(locale)}"><head><meta charset="utf-8"><link rel="stylesheet" href="${site}">` +
    `<style id="own">${own}</style><style>${rules}</style></head><body><main id="main">${main}</main></body></html>`
  );
}
