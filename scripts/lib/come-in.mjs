/**
 * Signs in at a running application, as its sign-in page does.
 *
 * @param {string} origin @param {string} email @param {string} password
 * @returns {Promise<{ name: string, value: string }>} the cookie of the session
 */
export async function comeIn(origin, email, password) {
  const answer = await fetch(`${origin}/studio/sign-in?/password`, {
    method: 'POST',
    body: new URLSearchParams({ email, password }),
    headers: { accept: 'text/html' },
    redirect: 'manual',
  });
  const [, name = '', value = ''] = /(plum_session)=([^;]+)/.exec(answer.headers.getSetCookie().join(' ')) ?? [];
  if (!value) throw new Error(`Signing in was answered ${answer.status}.`);
  return { name, value };
}
