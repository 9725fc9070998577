import {
  request,
  type APIRequestContext,
  type Browser,
  type BrowserContext,
  type BrowserContextOptions,
} from '@playwright/test';
import { livelyContext } from './live';
import { PASSWORD, people } from '../demo/people';
import type { Role } from '../src/lib/core/people/roles';

/** Where the runner puts what it writes. */
export const RESULTS = process.env.PLUM_TEST_RESULTS ?? 'test-results';

/** Where the sessions of the tests are kept, one for each role. */
export const sessionOf = (role: Role): string => `${RESULTS}/${role}.json`;

export const personOf = (role: Role) => people.find((one) => one.role === role)!;

/** Signs in as somebody of the demo; the session is then the context's. */
export async function signIn(context: APIRequestContext, role: Role): Promise<void> {
  const form = { email: personOf(role).email, password: PASSWORD };
  const answer = await context.post('/studio/sign-in?/password', {
    form,
    headers: { accept: 'text/html' },
    maxRedirects: 0,
  });
  if (answer.status() !== 303) throw new Error(`Signing in as ${role} was answered ${answer.status()}.`);
}

/** A browser window of its own in which somebody of the demo is signed in. */
export async function windowOf(
  browser: Browser,
  role: Role | 'nobody',
  more: BrowserContextOptions = {},
): Promise<BrowserContext> {
  const storageState = role === 'nobody' ? { cookies: [], origins: [] } : sessionOf(role);
  const context = await browser.newContext({
    baseURL: process.env.PLUM_TEST_SITE,
    storageState,
    viewport: { width: 1280, height: 800 },
    ...more,
  });
  return livelyContext(context);
}

/** Before all tests: one session of each role. */
export default async function signInEverybody(): Promise<void> {
  for (const { role } of people) {
    const context = await request.newContext({ baseURL: process.env.PLUM_TEST_SITE });
    await signIn(context, role);
    await context.storageState({ path: sessionOf(role) });
    await context.dispose();
  }
}
