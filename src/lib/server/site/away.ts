import { LRUCache } from 'lru-cache';
import { escapeHtml } from '../../core/base/text';
import type { PageAnswer } from './visit';
import { perServer } from '../base/server';

type Drawn = Pick<PageAnswer, 'html' | 'css' | 'players'>;

/** Pages that were drawn last, for as long as the database is away. */
const MOST = 500;
interface LastDrawn {
  pages: LRUCache<string, Drawn>;
  /** The address of the style sheet of the page that was drawn last, for pages that cannot be drawn. */
  sheet: string | undefined;
}
const last = perServer((): LastDrawn => ({ pages: new LRUCache({ max: MOST }), sheet: undefined }));

/** Keeps a page as visitors saw it last. */
export function keepDrawn(address: string, page: Drawn): void {
  const own = last();
  own.pages.set(address, page);
  own.sheet = /<link rel="stylesheet" href="([^"]+)"/.exec(page.html)?.[1] ?? own.sheet;
}

export const lastDrawn = (address: string): Drawn | undefined => last().pages.get(address);

/** What visitors get while the database is away and their page is not known, in the looks of the site. */
export function awayPage(): string {
  const { sheet } = last();
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width, initial-scale=1"><title>One moment</title>${
    sheet ? `<link rel="stylesheet" href="${escapeHtml(sheet)}">` : ''
  }</head><body><main id="main"><div class="stack gap-m"><h1>One moment</h1><p>This page cannot be shown just now. It will be back shortly; try again in a minute.</p></div></main></body></html>`;
}
