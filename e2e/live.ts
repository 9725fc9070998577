import { test as base, type BrowserContext, type Page } from '@playwright/test';

/** Waits until a screen of the studio answers to what is done on it; what is pressed before is lost. */
export const live = (page: Page) =>
  page
    .locator('html:not(:has(nav[aria-label="Studio"])), html[data-live]')
    .first()
    .waitFor({ state: 'attached', timeout: 60_000 });

/** A page whose screens can be used as soon as it has gone there. */
function lively(page: Page): Page {
  for (const way of ['goto', 'reload', 'goBack', 'goForward'] as const) {
    const go = page[way].bind(page) as (...args: unknown[]) => Promise<unknown>;
    (page as unknown as Record<string, unknown>)[way] = async (...args: unknown[]) => {
      const answer = await go(...args);
      await live(page);
      return answer;
    };
  }
  return page;
}

/** The same for every page that is opened in a context. */
export function livelyContext(context: BrowserContext): BrowserContext {
  const open = context.newPage.bind(context);
  context.newPage = async () => lively(await open());
  return context;
}

export const test = base.extend({
  context: async ({ context }, use) => use(livelyContext(context)),
});
