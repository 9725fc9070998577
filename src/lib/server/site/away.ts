import { LRUCache } from 'lru-cache';
import { escapeHtml } from '../../core/base/text';
import type { PageAnswer } from './visit';

type Drawn = Pick<PageAnswer, 'html' | 'css' | 'players'>;

/** Pages that were drawn last, for as long as the database is away. */
const MOST = 500;
const drawn = new LRUCache<string, Drawn>({ max: MOST });
/** The style sheet of the page that was drawn last, for pages that cannot be drawn. */
let sheet: string | undefined;

/** Keeps a page as visitors saw it last. */
export function keepDrawn(address: string, page: Drawn): void {
  drawn.set(address, page);
  sheet = /<link rel="stylesheet" href="([^"]+)"/.exec(page.html)?.[1] ?? sheet;
}

export const lastDrawn = (address: string): Drawn | undefined => drawn.get(address);

/** What visitors get while the database is away and their page is not known, in the looks of the site. */
export const awayPage = (): string =>
  `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>One moment</title>${
    sheet ? `<link rel="stylesheet" href="${escapeHtml(sheet)}">` : ''
  }</head><body><main id="main"><div class="stack gap-m"><h1>One moment</h1><p>This page cannot be shown just now. It will be back shortly; try again in a minute.</p></div></main></body></html>`;
