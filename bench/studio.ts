import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';
import { chromium } from '@playwright/test';
import { BROWSER } from '../scripts/lib/browser.mjs';
import { answered, freePort } from '../scripts/lib/ports.mjs';
import { boundTo, treeFrom } from '../src/lib/core/templates/build';
import { SESSION_COOKIE } from '../src/lib/server/access';
import { closeDatabase } from '../src/lib/server/database/connect';
import { createAccount } from '../src/lib/server/people/accounts';
import { beginSession } from '../src/lib/server/people/sessions';
import { release } from '../src/lib/server/services/releases';
import { createTemplate } from '../src/lib/server/services/templates';
import { fillOne, fillRows, median } from './support/fill';
import { pagesWithList } from './support/page';

/**
 * The screens of the studio over a site of 1,000 records, and over the same site with 100,000 (aim: at most 1.5 times as
 * long until there is something to work with).
 */
const [FEW, MANY] = [1_000, Number(process.env.PLUM_BENCH_MANY ?? 100_000)];
const ROUNDS = Number(process.env.PLUM_BENCH_ROUNDS ?? 7);
await fillOne('many', FEW);
const page = await pagesWithList(6);
// Half of the pages are answered by a rule.
await createTemplate({
  ...{ name: 'Open thing', purpose: 'record', typeId: 'many' },
  serves: [
    {
      on: 'rule',
      typeId: 'many',
      rule: {
        group: 'all',
        rules: [{ test: 'choice.is', path: { from: 'record', steps: ['many_state'] }, operand: 'open' }],
      },
    },
  ],
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

const port = await freePort();
const base = `http://127.0.0.1:${port}`;
let app: ChildProcess | undefined;
async function start(): Promise<void> {
  if (app) {
    app.kill('SIGTERM');
    await once(app, 'exit');
  }
  app = spawn(process.execPath, [join(import.meta.dirname, '..', 'scripts', 'lib', 'serve.mjs')], {
    env: { ...process.env, PLUM_HTTP_HOST: '127.0.0.1', PLUM_HTTP_PORT: String(port), PLUM_HTTP_ORIGIN: base },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  await answered(`${base}/healthz`, app);
}
await start();

const SCREENS: [string, string][] = [
  ['the desk', '/studio'],
  ['what serves what', '/studio/serves'],
  ['why this template', '/studio/serves?address=/many-things/'],
  ['the table of records', '/studio/content/many'],
  ['the table, by height', '/studio/content/many?sort=-many_height'],
  ['a record', '/studio/content/many/7'],
  ['the fields of a type', '/studio/content/many/fields'],
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
async function open(path: string): Promise<Opened> {
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
async function openFirst(seconds: number): Promise<Map<string, Opened>> {
  await start();
  await new Promise((done) => setTimeout(done, seconds * 1000));
  const out = new Map<string, Opened>();
  for (const [, path] of SCREENS) out.set(path, await open(path));
  return out;
}

/** The median time in which each screen is answered. */
async function openAll(): Promise<Map<string, Opened>> {
  const out = new Map<string, Opened>();
  for (const [, path] of SCREENS) {
    const times: number[] = [];
    let bytes = 0;
    await open(path);
    for (let round = 0; round < ROUNDS; round++) {
      const opened = await open(path);
      times.push(opened.ms);
      bytes = opened.bytes;
    }
    out.set(path, { ms: median(times), bytes, shown: 0 });
  }
  return out;
}

/** Of each screen in a browser: from the address being asked for to the frame after it answers to what is done on it. */
const BROWSER_ROUNDS = Number(process.env.PLUM_BENCH_BROWSER_ROUNDS ?? 5);
const browser = await chromium.launch(BROWSER);
const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
await context.addCookies([{ name: SESSION_COOKIE, value: session, url: base }]);
// As text: what runs in the browser is not to be made ready for Node.js.
await context.addInitScript({
  content: `const watcher = new MutationObserver(() => {
    if (!('live' in document.documentElement.dataset)) return;
    watcher.disconnect();
    requestAnimationFrame(() => setTimeout(() => (globalThis.plumThreadLive = performance.now())));
  });
  watcher.observe(document, { subtree: true, attributes: true, childList: true });`,
});
async function seeAll(): Promise<Map<string, number>> {
  const out = new Map<string, number>();
  const screen = await context.newPage();
  for (const [, path] of SCREENS) {
    const times: number[] = [];
    for (let round = 0; round <= BROWSER_ROUNDS; round++) {
      await screen.goto(base + path);
      const live = await screen.waitForFunction(() => (globalThis as { plumThreadLive?: number }).plumThreadLive);
      // The first one fetches what all others have.
      if (round) times.push((await live.jsonValue()) as number);
    }
    out.set(path, median(times));
  }
  await screen.close();
  return out;
}

try {
  const firstOfFew = [await openFirst(0), await openFirst(10)];
  // Once before, so that both are of a process that has warmed up.
  await openAll();
  const few = await openAll();
  const fewSeen = await seeAll();
  await fillRows('many', FEW, MANY);
  const firstOfMany = [await openFirst(0), await openFirst(10)];
  const many = await openAll();
  const manySeen = await seeAll();
  console.log(`Screens of the studio, median of ${ROUNDS}, from the question to the last byte of the answer:`);
  for (const [name, path] of SCREENS) {
    const [a, b] = [few.get(path) as Opened, many.get(path) as Opened];
    console.log(
      `  ${name.padEnd(24)} ${a.ms.toFixed(0).padStart(6)} ms at 1,000  ${b.ms.toFixed(0).padStart(6)} ms at 100,000  ratio ${(b.ms / a.ms).toFixed(2).padStart(6)}  bytes ${(b.bytes / a.bytes).toFixed(2)} of ${(a.bytes / 1e3).toFixed(0)} kB`,
    );
  }
  console.log(`The same in a browser, median of ${BROWSER_ROUNDS}, until they answer to what is done on them:`);
  for (const [name, path] of SCREENS) {
    const [a, b] = [fewSeen.get(path) as number, manySeen.get(path) as number];
    console.log(
      `  ${name.padEnd(24)} ${a.toFixed(0).padStart(6)} ms at 1,000  ${b.toFixed(0).padStart(6)} ms at 100,000  ratio ${(b / a).toFixed(2).padStart(6)}`,
    );
  }
  for (const [i, when] of ['Right after a start', 'Ten seconds after a start'].entries()) {
    console.log(`${when}, the first time, until the screen itself has come:`);
    for (const [name, path] of SCREENS) {
      const [a, b] = [firstOfFew[i]?.get(path) as Opened, firstOfMany[i]?.get(path) as Opened];
      console.log(
        `  ${name.padEnd(24)} ${a.shown.toFixed(0).padStart(6)} ms at 1,000  ${b.shown.toFixed(0).padStart(6)} ms at 100,000  ratio ${(b.shown / a.shown).toFixed(2).padStart(6)}  with all that is told later ${b.ms.toFixed(0)} ms`,
      );
    }
  }
  console.log('  aim: at most 1.5 each');
} finally {
  await browser.close();
  app?.kill('SIGTERM');
  await closeDatabase();
}
