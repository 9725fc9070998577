import type { Cookies, RequestEvent } from '@sveltejs/kit';
import Bowser from 'bowser';
import { keepSession, sessionSecret } from './session-cookie';
import { knowDevice } from './devices';
import { endSessionWith, sessionWith } from './sessions';
import type { From, In } from './sign-in';

type Event = Pick<RequestEvent, 'request' | 'url' | 'cookies' | 'getClientAddress'>;

/** Holds what stands between two steps of a sign-in. */
const STEP_COOKIE = 'plum_step';

/** What a browser is called for people, such as “Chromium 156 on Linux”. */
function browserName(agent: string): string {
  if (!agent) return 'A program';
  const { browser, os } = Bowser.parse(agent.slice(0, 500));
  const version = browser.version?.split('.')[0];
  const name = [browser.name ?? 'A program', version].filter(Boolean).join(' ');
  return os.name ? `${name} on ${os.name}` : name;
}

/** Holds what tells a device from which an account has come in before; it lets nobody in. */
const DEVICE_COOKIE = 'plum_device';

export function fromOf({
  request,
  getClientAddress,
  cookies,
}: Pick<Event, 'request' | 'getClientAddress'> & { cookies?: Pick<Cookies, 'get'> }): From {
  let address = 'unknown';
  try {
    address = getClientAddress();
  } catch {
    // A proxy was announced that did not say whom it asks for.
  }
  const device = cookies?.get(DEVICE_COOKIE);
  return { address, browser: browserName(request.headers.get('user-agent') ?? ''), ...(device && { device }) };
}

/** Lets the browser in by a new session; the one that it had before ends, and it is known from now on. */
export async function comeIn({ cookies, url }: Pick<Event, 'cookies' | 'url'>, secret: string): Promise<void> {
  await endSessionWith(sessionSecret(cookies, url));
  keepSession(cookies, url, secret);
  const who = await sessionWith(secret);
  const known = who && (await knowDevice(who.id, cookies.get(DEVICE_COOKIE)));
  const secure = url.protocol === 'https:';
  if (known)
    cookies.set(DEVICE_COOKIE, known, {
      path: '/studio',
      httpOnly: true,
      sameSite: 'lax',
      secure,
      maxAge: 180 * 86_400,
    });
}

/** Keeps the pass of a step in the browser that began it, so that it is of no use in another one. */
export function keepStep(cookies: Cookies, url: URL, pass: string): void {
  const secure = url.protocol === 'https:';
  cookies.set(STEP_COOKIE, pass, { path: '/studio', httpOnly: true, sameSite: 'lax', secure, maxAge: 900 });
}
export function takeStep(cookies: Cookies): string | undefined {
  const pass = cookies.get(STEP_COOKIE);
  cookies.delete(STEP_COOKIE, { path: '/studio' });
  return pass;
}
export const stepSecret = (cookies: Cookies): string | undefined => cookies.get(STEP_COOKIE);

/** Whether a sign-in is done; else its second step is kept. */
export async function afterFirst(event: Pick<Event, 'cookies' | 'url'>, result: In): Promise<boolean> {
  if ('session' in result) {
    await comeIn(event, result.session);
    return true;
  }
  keepStep(event.cookies, event.url, result.second);
  return false;
}
