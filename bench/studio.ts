import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { BROWSER } from '../scripts/lib/browser.mjs';
import { answered, freePort } from '../scripts/lib/ports.mjs';
import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import type { Group } from '../src/lib/core/schema/rule';
import { SESSION_COOKIE } from '../src/lib/server/people/session-cookie';
import { createAccount } from '../src/lib/server/people/accounts';
import { beginSession } from '../src/lib/server/people/sessions';
import { release } from '../src/lib/server/services/releases';
import { saveRule } from '../src/lib/server/services/rules';
import { createTemplate } from '../src/lib/server/services/templates';
import { copyOfDatabase, fillOne, fillRows, median } from './support/fill';
import { pagesWithList } from './support/page';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/**
 * The screens of the studio over a site of 1,000 records, and over the same site with 100,000 (aim: at most 1.5 times as
 * long until there is something to work with).
 */
const [FEW, MANY] = [1_000, Number(process.env.PLUM_BENCH_MANY ?? 100_000)];
const ROUNDS = Number(process.env.PLUM_BENCH_ROUNDS ?? 15);
await fillOne('many', FEW);
const page = await pagesWithList(6);
// Half of the pages are answered by a rule, which is kept under a name too.
const isOpen: Group = {
  group: 'all',
  rules: [{ test: 'choice.is', path: { from: 'record', steps: ['many_state'] }, operand: 'open' }],
};
await saveRule({ name: 'Open', typeId: 'many', rule: isOpen });
await createTemplate({
  name: 'Open thing',
  purpose: 'record',
  typeId: 'many',
  serves: [{ on: 'rule', typeId: 'many', rule: isOpen }],
  tree: treeFrom({
    kind: 'heading',
    props: { level: 1 },
    slots: { text: boundTo('record', ['@title']) },
  }),
});
await release();
const { id: account } = await createAccount(
  { name: 'Bench', email: 'bench@huts.example', role: 'owner', mayPublish: true },
  { password: 'five long benches' },
);
const session = await beginSession(account, '127.0.0.1', 'The bench');

/** A site with an application of its own, which looks at screens as who has signed in. */
interface Site {
  base: string;
  database: string;
  app?: ChildProcess;
}
const siteOver = async (database: string): Promise<Site> => ({
  base: `http://127.0.0.1:${await freePort()}`,
  database,
});
async function start(site: Site): Promise<void> {
  if (site.app) {
    site.app.kill('SIGTERM');
    await once(site.app, 'exit');
  }
  const { hostname, port, origin } = new URL(site.base);
  const own = {
    PLUM_DATABASE: site.database,
    PLUM_HTTP_HOST: hostname,
    PLUM_HTTP_PORT: port,
    PLUM_HTTP_ORIGIN: origin,
  };
  site.app = spawn(process.execPath, [join(import.meta.dirname, '..', 'scripts', 'lib', 'serve.mjs')], {
    env: { ...process.env, ...own },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  await answered(`${site.base}/healthz`, site.app);
}
// The same site twice: as it is now, and with many records.
const few = await siteOver(await copyOfDatabase('plum_few'));
const many = await siteOver(process.env.PLUM_DATABASE as string);
await fillRows('many', FEW, MANY);

const SCREENS: [string, string][] = [
  ['the desk', '/studio'],
  ['what serves what', '/studio/serves'],
  ['why this template', '/studio/serves?address=/many-things/'],
  ['the table of records', '/studio/content/many'],
  ['the table, by height', '/studio/content/many?sort=-many_height'],
  ['a record', '/studio/content/many/7'],
  ['the fields of a type', '/studio/content/many/fields'],
  // What screens ask for once they stand: the counts they show.
  ['how many have a value', '/api/v1/types/many/fill'],
  ['records by a word', '/api/v1/records?type=many&search=thing'],
  ['terms', '/studio/terms/many_area'],
  ['authors', '/studio/authors'],
  ['the workbench', `/studio/workbench/${page.id}`],
  ['kept rules', '/studio/rules'],
  ['the theme', '/studio/theme'],
  ['the release', '/studio/release'],
  ['removed', '/studio/removed'],
  ['activity', '/studio/activity'],
];

interface Opened {
  ms: number;
  bytes: number;
  /** When the screen itself had come; what is told to it later comes after that. */
  shown: number;
}
async function open({ base }: Site, path: string): Promise<Opened> {
  const from = performance.now();
  const response = await fetch(base + path, { headers: { cookie: `${SESSION_COOKIE}=${session}` } });
  if (response.status !== 200) throw new Error(`${path} was answered ${response.status}.`);
  let [bytes, shown, end] = [0, 0, ''];
  for await (const piece of response.body as unknown as AsyncIterable<Uint8Array>) {
    bytes += piece.length;
    end = (end + Buffer.from(piece).toString('latin1')).slice(-10_000 - piece.length);
    if (!shown && end.includes('</html>')) shown = performance.now() - from;
  }
  return { ms: performance.now() - from, bytes, shown };
}

/** Each screen as who is the first to open it sees it, so many seconds after a start. */
async function openFirst(site: Site, seconds: number): Promise<Map<string, Opened>> {
  await start(site);
  await new Promise((done) => setTimeout(done, seconds * 1000));
  const out = new Map<string, Opened>();
  for (const [, path] of SCREENS) out.set(path, await open(site, path));
  return out;
}

/** Two figures of each screen, of the site with few records and of that with many. */
type ByScreen<T> = Map<string, [T, T]>;
/** By turns, since a machine does the same in twice the time a moment later. */
async function byTurns<T>(
  screens: readonly [string, string][],
  rounds: number,
  measure: (site: Site, path: string) => Promise<T>,
): Promise<ByScreen<T[]>> {
  const out: ByScreen<T[]> = new Map();
  for (const [, path] of screens) {
    const measured: [T[], T[]] = [[], []];
    for (let round = 0; round <= rounds; round++)
      for (const [i, site] of [few, many].entries()) {
        const one = await measure(site, path);
        // The first one warms up.
        if (round) measured[i]?.push(one);
      }
    out.set(path, measured);
  }
  return out;
}

const BROWSER_ROUNDS = Number(process.env.PLUM_BENCH_BROWSER_ROUNDS ?? 5);
const browser = await chromium.launch(BROWSER);
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
await context.addCookies([few, many].map(({ base }) => ({ name: SESSION_COOKIE, value: session, url: base })));
// As text: what runs in the browser is not to be made ready for Node.js.
await context.addInitScript({
  content: `const watcher = new MutationObserver(() => {
    if (!('live' in document.documentElement.dataset)) return;
    watcher.disconnect();
    requestAnimationFrame(() => setTimeout(() => (globalThis.plumThreadLive = performance.now())));
  });
  watcher.observe(document, { subtree: true, attributes: true, childList: true });`,
});
const screen = await context.newPage();
/** From the address being asked for to the frame after the screen answers to what is done on it. */
async function see({ base }: Site, path: string): Promise<number> {
  await screen.goto(base + path);
  const live = await screen.waitForFunction(() => (globalThis as { plumThreadLive?: number }).plumThreadLive);
  return (await live.jsonValue()) as number;
}

const times = (a: number, b: number) =>
  `${a.toFixed(0).padStart(6)} ms at 1,000  ${b.toFixed(0).padStart(6)} ms at 100,000  ratio ${(b / a).toFixed(2).padStart(6)}`;
try {
  const first = [];
  for (const seconds of [0, 10]) first.push([await openFirst(few, seconds), await openFirst(many, seconds)] as const);
  // Once before, so that both are of processes that have warmed up.
  await byTurns(SCREENS, ROUNDS, open);
  const answers = await byTurns(SCREENS, ROUNDS, open);
  // What screens ask for is no screen.
  const inBrowser = SCREENS.filter(([, path]) => path.startsWith('/studio'));
  const seen = await byTurns(inBrowser, BROWSER_ROUNDS, see);
  console.log(`Screens of the studio, median of ${ROUNDS} by turns, from the question to the last byte of the answer:`);
  for (const [name, path] of SCREENS) {
    const [a, b] = answers.get(path) as [Opened[], Opened[]];
    const ms = (of: Opened[]) => median(of.map((one) => one.ms));
    const bytes = (of: Opened[]) => of.at(-1)?.bytes as number;
    console.log(
      `  ${name.padEnd(24)} ${times(ms(a), ms(b))}  bytes ${(bytes(b) / bytes(a)).toFixed(2)} of ${(bytes(a) / 1e3).toFixed(0)} kB`,
    );
  }
  console.log(`The same in a browser, median of ${BROWSER_ROUNDS}, until they answer to what is done on them:`);
  for (const [name, path] of inBrowser) {
    const [a, b] = seen.get(path) as [number[], number[]];
    console.log(`  ${name.padEnd(24)} ${times(median(a), median(b))}`);
  }
  for (const [i, when] of ['Right after a start', 'Ten seconds after a start'].entries()) {
    console.log(`${when}, the first time, until the screen itself has come:`);
    for (const [name, path] of SCREENS) {
      const [a, b] = first[i]?.map((of) => of.get(path)) as [Opened, Opened];
      console.log(`  ${name.padEnd(24)} ${times(a.shown, b.shown)}  with all that is told later ${b.ms.toFixed(0)} ms`);
    }
  }
  console.log('  aim: at most 1.5 each');
} finally {
  await browser.close();
  for (const { app } of [few, many]) app?.kill('SIGTERM');
  await server.close();
}
