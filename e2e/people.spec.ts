import { readdirSync } from 'node:fs';
import { expect, request as requests, type APIRequestContext, type Page } from '@playwright/test';
import { live, test } from './live';
import { Secret, TOTP } from 'otpauth';
import { PASSWORD } from '../demo/people';
import { atLeast, ROLES, type Role } from '../src/lib/core/people/roles';
import { neededAt } from '../src/lib/core/people/screens';
import { personOf, sessionOf, windowOf } from './sign-in';
import { ANY, seriousFaults } from './support';

const NOBODY = { cookies: [], origins: [] };
const outbox = () => process.env.PLUM_TEST_OUTBOX ?? '';

/** The last letter to an address. */
async function letterTo(address: string): Promise<string> {
  let text = '';
  await expect
    .poll(
      async () => {
        const letters = (await (await fetch(`${outbox()}/letters`)).json()) as { to: string; text: string }[];
        text = letters.find(({ to }) => to.includes(address))?.text ?? '';
        return text;
      },
      { timeout: 10_000 },
    )
    .toContain('/studio/link/');
  return /https?:\/\/\S+\/studio\/link\/[\w-]{43}/.exec(text)![0];
}
async function signInBy(page: Page, email: string, password: string): Promise<void> {
  await page.goto('/studio/sign-in');
  await page.getByLabel('E-mail address').fill(email);
  await page.getByLabel('Password', { exact: true }).fill(password);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
}
/** Somebody new of a role, who has taken the invitation. */
async function somebody(page: Page, name: string, role: Role): Promise<string> {
  const email = `${name.toLowerCase().replace(/\W+/g, '-')}-${Date.now()}@larkfell.example`;
  const made = await page.request.post('/api/v1/people', { data: { name, email, role } });
  expect(made.status()).toBe(201);
  const link = await letterTo(email);
  const other = await requests.newContext({ storageState: NOBODY });
  const form = { password: PASSWORD };
  const taken = await other.post(`${link}?/password`, { form, headers: { accept: 'text/html' }, maxRedirects: 0 });
  expect(taken.status()).toBe(303);
  await other.dispose();
  return email;
}

const aTemplate = async (request: APIRequestContext): Promise<string> =>
  ((await (await request.get('/api/v1/templates')).json()) as { items: { id: string }[] }).items[0]!.id;

/** Addresses of every screen and every other place of the studio, made from the folders of routes. */
function places(template: string, folder = 'src/routes/studio', at = '/studio'): string[] {
  const samples: Record<string, string> = {
    '[type]': 'hut',
    '[record]': '10',
    '[template]': template,
    '[taxonomy]': 'region',
    '[which]': 'draft',
    '[...address]': 'huts',
  };
  return readdirSync(folder, { withFileTypes: true }).flatMap((entry) =>
    entry.isDirectory()
      ? places(template, `${folder}/${entry.name}`, `${at}/${samples[entry.name] ?? entry.name}`)
      : /^\+(page(@.*)?\.svelte|server\.ts)$/.test(entry.name)
        ? [at]
        : [],
  );
}

test('every place of the studio is for some roles; the others and nobody are sent away', async ({
  playwright,
  baseURL,
}) => {
  const owner = await playwright.request.newContext({ baseURL, storageState: sessionOf('owner') });
  const all = places(await aTemplate(owner)).filter((at) => !/^\/studio\/(sign-in|link|sign-out)/.test(at));
  expect(all.length).toBeGreaterThan(20);
  const wrong: unknown[] = [];
  const nobody = await playwright.request.newContext({ baseURL, storageState: NOBODY });
  for (const at of all) {
    const answer = await nobody.get(at, { maxRedirects: 0 });
    if (answer.status() !== 303 || !answer.headers().location?.startsWith('/studio/sign-in?to='))
      wrong.push(['nobody', at]);
  }
  for (const role of ROLES) {
    const one = await playwright.request.newContext({ baseURL, storageState: sessionOf(role) });
    for (const at of all) {
      const status = (await one.get(at)).status();
      const lets = atLeast(role, neededAt(at));
      if (lets ? status !== 200 : status !== 403) wrong.push([role, at, status]);
    }
    await one.dispose();
  }
  await nobody.dispose();
  expect(wrong).toEqual([]);
});

test('signing in: what does not fit is said, and then it leads to where one wanted to go', async ({ browser }) => {
  const context = await windowOf(browser, 'nobody');
  const page = await context.newPage();
  await page.goto('/studio/content/hut');
  await expect(page).toHaveURL(/\/studio\/sign-in\?to=/);
  expect(await seriousFaults(page)).toEqual([]);
  await page.getByLabel('E-mail address').fill(personOf('editor').email);
  await page.getByLabel('Password', { exact: true }).fill('not this one');
  await page.keyboard.press('Enter');
  await expect(page.getByRole('alert')).toHaveText('Address and password do not fit together.');
  await expect(page.getByLabel('E-mail address')).toHaveValue(personOf('editor').email);
  await page.getByLabel('Password', { exact: true }).fill(PASSWORD);
  await page.keyboard.press('Enter');
  await expect(page).toHaveURL(/\/studio\/content\/hut$/);
  await live(page);
  await page.getByRole('button', { name: /Your account: Petrik/ }).click();
  await page.getByRole('menuitem', { name: 'Sign out' }).click();
  await expect(page).toHaveURL(/\/studio\/sign-in/);
  await page.goBack();
  await page.reload();
  await expect(page).toHaveURL(/\/studio\/sign-in/);
  // One click, as only a demo has it.
  await page.getByRole('button', { name: /Wenna Callow/ }).click();
  await expect(page.getByRole('button', { name: /Your account: Wenna/ })).toBeVisible();
  await context.close();
});

test('an invitation comes by mail, and a forgotten password is set anew', async ({ page, browser }) => {
  await page.goto('/studio/people');
  expect(await seriousFaults(page)).toEqual([]);
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  const email = `ivo-${Date.now()}@larkfell.example`;
  await page.getByLabel('Name', { exact: true }).fill('Ivo Marsh');
  await page.getByLabel('E-mail address').fill(email);
  await page.getByRole('combobox', { name: 'Role', exact: true }).selectOption('editor');
  await page.getByRole('button', { name: 'Invite', exact: true }).click();
  await expect(page.getByRole('status')).toHaveText('Ivo Marsh is invited.');
  await expect(page.getByRole('row', { name: /Ivo Marsh/ }).filter({ hasText: email })).toContainText(
    'invited, not here yet',
  );

  const context = await windowOf(browser, 'nobody');
  const other = await context.newPage();
  await other.goto(await letterTo(email));
  await other.getByLabel('Choose a password').fill('password');
  await other.getByRole('button', { name: 'Keep it and sign in' }).click();
  await expect(other.getByText('It is one of those that are tried first.')).toBeVisible();
  await other.getByLabel('Choose a password').fill('a boat on dry land');
  await other.getByRole('button', { name: 'Keep it and sign in' }).click();
  await expect(other.getByRole('button', { name: /Your account: Ivo/ })).toBeVisible();
  // The link is used up.
  const used = await letterTo(email);
  expect((await other.request.get(used)).status()).toBe(410);

  await context.clearCookies();
  await other.goto('/studio/sign-in');
  await other.getByRole('button', { name: 'Forgotten it?' }).click();
  await other.getByLabel('E-mail address').fill(email);
  await other.getByRole('button', { name: 'Send a link' }).click();
  await expect(other.getByRole('status')).toContainText('a letter with a link is on its way');
  await expect.poll(() => letterTo(email)).not.toBe(used);
  await other.goto(await letterTo(email));
  await other.getByLabel('Choose a password').fill('another boat entirely');
  await other.getByRole('button', { name: 'Keep it and sign in' }).click();
  await expect(other.getByRole('button', { name: /Your account: Ivo/ })).toBeVisible();
  await context.clearCookies();
  await signInBy(other, email, 'a boat on dry land');
  await expect(other.getByRole('alert')).toBeVisible();
  await signInBy(other, email, 'another boat entirely');
  await expect(other.getByRole('button', { name: /Your account: Ivo/ })).toBeVisible();
  await context.close();
});

test('a passkey signs in, with nothing typed', async ({ page, browser }) => {
  const email = await somebody(page, 'Pia Key', 'designer');
  const context = await windowOf(browser, 'nobody');
  const own = await context.newPage();
  // A device that makes sure that it is its owner (WebAuthn level 3, 11: virtual authenticators).
  const devices = await context.newCDPSession(own);
  await devices.send('WebAuthn.enable');
  await devices.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
    },
  });
  await signInBy(own, email, PASSWORD);
  await own.goto('/studio/account');
  await own.getByLabel('Its name').fill('My loom');
  await own.getByRole('button', { name: 'Make a passkey' }).click();
  await expect(own.getByRole('status')).toContainText('The passkey is kept.');
  // The same device makes no second one.
  await own.getByRole('button', { name: 'Make a passkey' }).click();
  await expect(own.getByRole('alert')).toContainText('has a passkey of your account already');
  // A letter tells of it.
  await expect
    .poll(async () =>
      (await (await fetch(`${outbox()}/letters`)).text()).includes('The passkey “My loom” signs you in'),
    )
    .toBe(true);
  await context.clearCookies();
  await own.goto('/studio/sign-in?to=/studio/rules');
  await own.getByRole('button', { name: 'Use a passkey' }).click();
  await expect(own.getByRole('heading', { name: 'Rules', exact: true })).toBeVisible();
  await own.goto('/studio/account');
  await own.getByRole('button', { name: 'Take the passkey My loom away' }).click();
  await expect(own.getByRole('status')).toContainText('lets nobody in any more');
  await context.clearCookies();
  await own.goto('/studio/sign-in');
  await own.getByRole('button', { name: 'Use a passkey' }).click();
  await expect(own.getByRole('alert')).toContainText('does not let anybody in here');
  await context.close();
});

test('a code is asked for after the password, and a recovery code does once', async ({ page, browser }) => {
  const email = await somebody(page, 'Cody Step', 'author');
  const context = await windowOf(browser, 'nobody');
  const own = await context.newPage();
  await signInBy(own, email, PASSWORD);
  await own.goto('/studio/account');
  expect(await seriousFaults(own)).toEqual([]);
  await own.getByRole('button', { name: 'Set it up' }).click();
  const secret = (await own.locator('form .font-mono').first().innerText()).replace(/\s/g, '');
  const program = new TOTP({ secret: Secret.fromBase32(secret) });
  await own.getByLabel('The code that it shows').fill(program.generate());
  await own.getByRole('button', { name: 'Take into use' }).click();
  const list = own.getByRole('list', { name: 'Recovery codes' }).getByRole('listitem');
  await expect(list).toHaveCount(10);
  const codes = await list.allInnerTexts();

  await context.clearCookies();
  await signInBy(own, email, PASSWORD);
  await expect(own.getByRole('heading', { name: 'One more step' })).toBeVisible();
  expect(await seriousFaults(own)).toEqual([]);
  // The first step alone opens nothing.
  expect((await own.request.get('/api/v1/account')).status()).toBe(401);
  await own.getByLabel('The code that your program shows').fill('000000');
  await own.getByRole('button', { name: 'Sign in' }).click();
  await expect(own.getByRole('alert')).toContainText('does not fit');
  await own.getByLabel('The code that your program shows').fill(program.generate({ timestamp: Date.now() + 30_000 }));
  await own.getByRole('button', { name: 'Sign in' }).click();
  await expect(own.getByRole('button', { name: /Your account: Cody/ })).toBeVisible();

  await context.clearCookies();
  await signInBy(own, email, PASSWORD);
  await own.getByRole('button', { name: 'Use a recovery code' }).click();
  await own.getByLabel('A recovery code').fill(codes[3]!);
  await own.getByRole('button', { name: 'Sign in' }).click();
  await own.goto('/studio/account');
  await expect(own.getByText('9 recovery codes are left.')).toBeVisible();
  await context.close();
});

test('an identity provider lets in whom a rule gives a role, and nobody else', async ({ page, browser }) => {
  await page.request.put('/api/v1/people/provider', { data: { rules: [] } });
  const before = (await (await page.request.get('/api/v1/people')).json()) as { id: number; name: string }[];
  for (const { id, name } of before) if (name === 'Isla Thorne') await page.request.delete(`/api/v1/people/${id}`);
  const context = await windowOf(browser, 'nobody');
  const own = await context.newPage();
  const come = async (name: string) => {
    await context.clearCookies();
    await own.goto('/studio/sign-in?to=/studio/rules');
    await own.getByRole('link', { name: /Sign in by/ }).click();
    await own.getByRole('link', { name }).click();
  };
  await come('Isla Thorne');
  await expect(own.getByText('There is no account for you here')).toBeVisible();
  await page.goto('/studio/people');
  await page.getByRole('button', { name: 'Add a rule' }).click();
  await page.getByLabel('Which, rule 1').fill('hut-keepers');
  await page.getByLabel('Role, rule 1').selectOption('editor');
  await page.getByRole('button', { name: 'Keep the rules' }).click();
  await expect(page.getByRole('status')).toHaveText('The rules are kept.');
  await come('Isla Thorne');
  await expect(own).toHaveURL(/\/studio\/rules$/);
  await expect(own.getByRole('button', { name: /Your account: Isla/ })).toBeVisible();
  // Another role from the next sign-in on.
  await page.request.put('/api/v1/people/provider', {
    data: { rules: [{ by: 'group', is: 'hut-keepers', role: 'reader' }] },
  });
  await come('Isla Thorne');
  expect(
    ((await (await own.request.get('/api/v1/account')).json()) as { account: { role: string } }).account.role,
  ).toBe('reader');
  // An address that the provider did not look at takes nobody's account.
  await come('Odd Address');
  await expect(own.getByText('There is no account for you here')).toBeVisible();
  // What was begun in another browser does not end here.
  await context.clearCookies();
  expect(
    (
      await own.request.get('/studio/sign-in/provider/back?code=x&state=y', { headers: { accept: 'text/html' } })
    ).status(),
  ).toBe(409);
  await context.close();
});

test('another address counts once its link was opened, and the provider joins an account by a link alone', async ({
  page,
  browser,
}) => {
  const before = (await (await page.request.get('/api/v1/people')).json()) as { id: number; email: string }[];
  for (const { id, email } of before)
    if (/^corin@|^vale-/.test(email)) await page.request.delete(`/api/v1/people/${id}`);
  const email = await somebody(page, 'Corin Vale', 'reader');
  const context = await windowOf(browser, 'nobody');
  const own = await context.newPage();
  await signInBy(own, email, PASSWORD);
  await own.goto('/studio/account');
  await own.getByLabel('E-mail address').fill('corin@larkfell.example');
  await own.getByRole('button', { name: 'Keep', exact: true }).click();
  await expect(own.getByRole('status')).toContainText(`Until you open it, you sign in with ${email}`);
  await own.reload();
  await expect(own.getByLabel('E-mail address')).toHaveValue(email);
  await expect.poll(() => letterTo('corin@larkfell.example')).toContain('/studio/link/');
  await own.goto(await letterTo('corin@larkfell.example'));
  expect(await seriousFaults(own)).toEqual([]);
  await own.getByRole('button', { name: 'Use this address' }).click();
  await expect(own).toHaveURL(/\/studio\/sign-in/);

  // Whoever comes by the provider with that address is not let in by it: a letter goes to the address.
  const first = await letterTo('corin@larkfell.example');
  await own.getByRole('link', { name: /Sign in by/ }).click();
  await own.getByRole('link', { name: 'Corin Vale' }).click();
  await expect(own.getByRole('status')).toContainText('There is an account with corin@larkfell.example already.');
  expect((await own.request.get('/api/v1/account')).status()).toBe(401);
  await expect.poll(() => letterTo('corin@larkfell.example')).not.toBe(first);
  await own.goto(await letterTo('corin@larkfell.example'));
  await own.getByRole('button', { name: 'Join my account' }).click();
  await expect(own.getByRole('status')).toContainText('Your account is joined');
  // The provider remembers for a minute who came.
  await context.clearCookies({ domain: '127.0.0.1' });
  await own.getByRole('link', { name: /Sign in by/ }).click();
  await own.getByRole('link', { name: 'Corin Vale' }).click();
  await expect(own.getByRole('button', { name: /Your account: Corin/ })).toBeVisible();
  await own.goto('/studio/account');
  await expect(own.getByText('signs you in to this account')).toBeVisible();
  await context.close();
});

test('what lets people in is changed only after the password was given once more', async ({ page, browser }) => {
  const email = await somebody(page, 'Tove Token', 'editor');
  const context = await windowOf(browser, 'nobody');
  const own = await context.newPage();
  await signInBy(own, email, PASSWORD);
  await own.goto('/studio/account');
  // As it is a quarter of an hour after signing in.
  let once = true;
  await own.route('**/api/v1/account/tokens', async (route) => {
    if (route.request().method() !== 'POST' || !once) return route.fallback();
    once = false;
    await route.fulfill({
      status: 403,
      contentType: 'application/problem+json',
      body: '{"title":"Show once more that it is you.","status":403,"confirm":true}',
    });
  });
  await own.getByRole('button', { name: 'Make a token' }).click();
  await own.getByLabel('Which program is it for?').fill('A script');
  await own.getByLabel('Records', { exact: true }).check();
  await own.getByRole('button', { name: 'Make it' }).click();
  await expect(own.getByRole('dialog', { name: 'Is it you?' })).toBeVisible();
  await own.getByLabel('Your password').fill('not this one');
  await own.getByRole('button', { name: 'Go on' }).click();
  await expect(own.getByRole('dialog').getByRole('alert')).toContainText('not your password');
  await own.getByLabel('Your password').fill(PASSWORD);
  await own.getByRole('button', { name: 'Go on' }).click();
  const token = await own.locator('[data-token]').innerText();

  const program = await requests.newContext({
    baseURL: process.env.PLUM_TEST_SITE,
    storageState: NOBODY,
    extraHTTPHeaders: { authorization: `Bearer ${token}` },
  });
  expect((await program.get('/api/v1/records?type=hut')).status()).toBe(200);
  expect((await program.get('/api/v1/types')).status()).toBe(403);
  expect((await program.post('/api/v1/records', { data: { typeId: 'hut', title: 'X' } })).status()).toBe(403);
  expect((await program.get('/api/v1/account/tokens')).status()).toBe(403);
  // A token opens the API and no screen.
  expect((await program.get('/studio', { maxRedirects: 0 })).status()).toBe(303);
  await own.reload();
  await own.getByRole('button', { name: 'End the token A script' }).click();
  await expect(own.getByRole('status')).toContainText('has ended');
  expect((await program.get('/api/v1/records?type=hut')).status()).toBe(401);
  await program.dispose();
  await context.close();
});

test('an author proposes, an editor publishes; the picture is for visitors only then', async ({ page, browser }) => {
  const [author, editor, visitor] = await Promise.all([
    windowOf(browser, 'author'),
    windowOf(browser, 'editor'),
    windowOf(browser, 'nobody'),
  ]);
  const own = await author.newPage();
  const svg = `<svg xmlns="http://www.w3.org/2000/svg" width="40" height="30"><rect width="40" height="${10 + (Date.now() % 20)}"/></svg>`;
  const headers = { 'content-type': 'application/octet-stream' };
  const media = (await (
    await author.request.post(`/api/v1/media?name=draft-${Date.now()}.svg`, { data: Buffer.from(svg), headers })
  ).json()) as { id: number };
  const title = `A proposal ${Date.now()}`;
  const data = { typeId: 'entry', title, values: { entry_picture: media.id } };
  const { id } = (await (await author.request.post('/api/v1/records', { data })).json()) as { id: number };
  const picture = `/media/${media.id}/original`;
  const lets = async () => [
    (await visitor.request.get(picture)).status(),
    (await author.request.get(picture)).status(),
  ];
  expect(await lets()).toEqual([404, 200]);

  await own.goto(`/studio/content/entry/${id}`);
  // Ready once the editor of rich text stands there: a click before is lost.
  await own.waitForLoadState('networkidle');
  await expect(own.getByLabel('Status').getByRole('option')).toHaveText(['Draft']);
  await own.getByRole('button', { name: 'Propose for publishing' }).click();
  await expect(own.getByText('proposes this for publishing')).toBeVisible();
  expect(await lets()).toEqual([404, 200]);

  const other = await editor.newPage();
  await other.goto('/studio');
  await other.getByRole('region', { name: 'Waiting to be published' }).getByRole('link', { name: title }).click();
  await other.waitForURL(/\/\d+$/);
  await other.waitForLoadState('networkidle');
  await other.getByLabel('Status').selectOption('published');
  await other.getByRole('button', { name: 'Save' }).click();
  await expect(other.getByText('Saved', { exact: true })).toBeVisible();
  expect(await lets()).toEqual([200, 200]);
  await other.getByText('Who did what').click();
  await expect(other.getByRole('complementary')).toContainText('Wenna Callow');
  // The author looks at it now.
  await own.reload();
  await expect(own.getByText('You look at this; your account does not change it.')).toBeVisible();
  await expect(own.getByRole('button', { name: 'Save' })).toHaveCount(0);
  await page.request.delete(`/api/v1/records/${id}`, { headers: { 'if-match': '*' } });
  expect(await lets()).toEqual([404, 200]);
  for (const one of [author, editor, visitor]) await one.close();
});

test('the activity tells of what was done, and is filtered', async ({ page }) => {
  await page.request.put('/api/v1/removals/days', { data: { days: 30 } });
  await page.goto('/studio/activity');
  expect(await seriousFaults(page)).toEqual([]);
  const first = page.getByRole('row').nth(1);
  await expect(first).toContainText('Orla Fennimore');
  await expect(first).toContainText('Set for how many days what is removed is kept');
  const all = Number((await page.locator('[data-total]').innerText()).replace(/\D/g, ''));
  await page.getByLabel('What', { exact: true }).fill('for how many days');
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect
    .poll(async () => Number((await page.locator('[data-total]').innerText()).replace(/\D/g, '')))
    .toBeLessThan(all);
  await page.getByRole('link', { name: 'Show all' }).click();
  await expect(page.getByRole('link', { name: 'Show all' })).toHaveCount(0);
  await page.getByLabel('Since').fill('2999-01-01');
  await page.getByRole('button', { name: 'Show', exact: true }).click();
  await expect(page.getByText('Nothing was done that fits.')).toBeVisible();
});

test('whoever only reads is offered nothing that changes anything', async ({ browser }) => {
  // Something waits to be released, of which a release would tell.
  const owner = await windowOf(browser, 'owner');
  await owner.request.post('/api/v1/menus', { data: { name: 'Not released yet', entries: [] } });
  await owner.close();
  const context = await windowOf(browser, 'reader');
  const page = await context.newPage();
  const asked: string[] = [];
  page.on('request', (request) => {
    if (request.method() !== 'GET') asked.push(`${request.method()} ${request.url()}`);
  });
  const CHANGES =
    /^(new|add|save|delete|remove|make|keep|change|release|share|export|take|put|move|place|invite|undo|redo|duplicate|set|choose a|propose|go back to)\b/i;
  for (const at of places(await aTemplate(context.request)).filter(
    (one) => neededAt(one) === 'reader' && !/sign-|link|preview|account|\/records\//.test(one),
  )) {
    await page.goto(at, { waitUntil: 'networkidle' });
    const offered = await page
      .locator('button:visible:enabled, a:visible, select:visible:enabled, input[type=submit]:visible')
      .evaluateAll((all) =>
        all
          .filter((one) => !one.closest('nav[aria-label=Studio]'))
          .map((one) => (one.getAttribute('aria-label') ?? one.textContent ?? '').replace(/\s+/g, ' ').trim()),
      );
    // The site and the account are offered everywhere.
    expect(offered.length).toBeGreaterThan(1);
    expect([at, offered.filter((words) => CHANGES.test(words))]).toEqual([at, []]);
  }
  expect(asked).toEqual([]);
  await context.close();
});

test('all who work on a site read the same moments, wherever their computers stand', async ({ browser, request }) => {
  const share = (await (await request.post('/api/v1/shares', { data: { days: 3 } })).json()) as { id: number };
  const far = await windowOf(browser, 'owner', { timezoneId: 'Pacific/Kiritimati', locale: 'ja-JP' });
  const here = await windowOf(browser, 'owner', { timezoneId: 'America/Anchorage', locale: 'en-US' });
  const [there, own] = [await far.newPage(), await here.newPage()];
  const opened = async (page: Page, path: string) => {
    await page.goto(path);
    await page.waitForLoadState('networkidle');
    // What is being counted, for as long as there is a way to stop it.
    await expect(page.getByRole('button', { name: 'Stop', exact: true })).toHaveCount(0, { timeout: 60_000 });
    for (const one of await page.getByText('Who did what', { exact: true }).all()) {
      await one.click();
      await expect(page.locator('details').filter({ has: one }).locator('li').first()).toBeVisible();
    }
    if (path.includes('workbench')) {
      await page.getByRole('button', { name: 'What was done' }).click();
      await page.getByRole('button', { name: 'Earlier versions' }).click();
      // The sheet is loaded when it is opened, and reads then.
      const sheet = page.getByRole('dialog');
      await expect(sheet).toContainText('As it stands now');
      await expect(sheet.getByText('Reading …')).toHaveCount(0);
      return sheet.innerText();
    }
    return page.locator('main').innerText();
  };
  let dates = 0;
  for (const path of [
    '',
    '/release',
    '/removed',
    '/activity',
    '/people',
    '/account',
    '/content/hut',
    '/content/hut/10',
    '/content/hut/fields',
    '/workbench/hut-page',
    '/library',
    '/authors',
    '/serves',
  ]) {
    const [words, others] = await Promise.all([opened(own, `/studio${path}`), opened(there, `/studio${path}`)]);
    // Between two looks something may have happened (a session was seen again): then it is so for both.
    if (others !== words) expect(await opened(own, `/studio${path}`), path).toBe(others);
    dates += words.match(/20\d\d/g)?.length ?? 0;
  }
  expect(dates).toBeGreaterThan(50);
  await far.close();
  await here.close();
  await request.delete(`/api/v1/shares/${share.id}`, { headers: ANY });
});
