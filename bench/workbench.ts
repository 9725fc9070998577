import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { chromium, type Page } from '@playwright/test';
import { FieldSchema } from '../src/lib/core/schema/field';
import { boundTo, treeFrom, type Nested } from '../src/lib/core/templates/build';
import { inTransaction } from '../src/lib/server/database/connect';
import { readModel } from '../src/lib/server/services/model';
import { insertRecords } from '../src/lib/server/services/records';
import { SlugBook } from '../src/lib/server/services/slugs';
import { prepareDatabase } from '../src/lib/server/services/start';
import { SESSION_COOKIE } from '../src/lib/server/people/session-cookie';
import { createAccount } from '../src/lib/server/people/accounts';
import { beginSession } from '../src/lib/server/people/sessions';
import { createTemplate } from '../src/lib/server/services/templates';
import { saveContentType } from '../src/lib/server/services/types';
import { answered, freePort } from '../scripts/lib/ports.mjs';
import { BROWSER } from '../scripts/lib/browser.mjs';
import { enterServer } from '../src/lib/server/application/create-server';

const server = enterServer();

/**
 * The workbench in a real browser: from an input to the changed canvas, on a template of 300 elements with a loop of 50
 * turns, with the share that the core has in it; and how the threads follow at 60 fields and 120 elements.
 */
const FIELDS = 60;
const TURNS = 50;
/** Things that there are, of which the loop has the first: it is filtered, ordered and cut as on a site. */
const THINGS = 2000;
const SAMPLES = 120;

await prepareDatabase();
const field = (n: number) =>
  FieldSchema.parse(
    n % 3 === 0
      ? { id: `f${n}`, key: `f${n}`, label: `Number ${n}`, kind: 'number', settings: { unit: 'm' } }
      : n % 3 === 1
        ? { id: `f${n}`, key: `f${n}`, label: `Line ${n}`, kind: 'text', settings: {} }
        : { id: `f${n}`, key: `f${n}`, label: `Day ${n}`, kind: 'date', settings: {} },
  );
await saveContentType({
  id: 'thing',
  key: 'thing',
  name: 'Thing',
  plural: 'Things',
  base: 'things',
  taxonomyIds: [],
  fields: Array.from({ length: FIELDS }, (_, n) => field(n)),
});
const model = await readModel();
await inTransaction((transaction) =>
  insertRecords(
    model,
    model.type('thing')!,
    Array.from({ length: THINGS }, (_, r) => ({
      title: `Thing ${r}`,
      status: 'published',
      values: Object.fromEntries(
        Array.from({ length: FIELDS }, (_, n) => [
          `f${n}`,
          n % 3 === 0
            ? r * 37 + n
            : n % 3 === 1
              ? `A line of words, number ${n} of thing ${r}`
              : `2026-0${1 + (n % 9)}-1${r % 10}`,
        ]),
      ),
    })),
    transaction,
    new SlugBook('thing'),
  ),
);
const rule = (from: string, n: number) => ({
  group: 'all' as const,
  rules: [{ test: 'filled', path: { from, steps: [`f${n}`] } }],
});
const text = (from: string, n: number, more: Partial<Nested> = {}): Nested => ({
  kind: 'text',
  slots: { text: boundTo(from, [`f${n}`], { before: '· ' }) },
  ...(n % 5 === 0 ? { rule: rule(from, n) } : {}),
  ...more,
});
/** A page of boxes with texts, and a loop over every record whose item has ten elements. */
function page(elements: number): Nested {
  const item: Nested = {
    kind: 'box',
    children: Array.from({ length: 9 }, (_, n) =>
      text('loop:things', n * 3 + 1, n ? {} : { name: 'First of the item' }),
    ),
  };
  const boxes = Math.ceil((elements - 13) / 10);
  return {
    kind: 'box',
    children: [
      {
        kind: 'heading',
        name: 'Title of the page',
        props: { level: 1 },
        slots: { text: boundTo('record', ['@title']) },
      },
      ...Array.from({ length: boxes }, (_, b): Nested => ({
        kind: 'box',
        name: `Box ${b}`,
        props: { flow: 'row' },
        children: Array.from({ length: 9 }, (_, n) => text('record', (b * 9 + n) % FIELDS)),
      })),
      {
        kind: 'loop',
        id: 'things',
        name: 'Thing',
        props: { source: { from: 'query', typeIds: ['thing'] }, limit: TURNS, columns: 3 },
        children: [item],
      },
    ],
  };
}
for (const [id, count] of [
  ['large', 300],
  ['medium', 120],
] as const)
  await createTemplate({ id, name: id, purpose: 'record', typeId: 'thing', tree: treeFrom(page(count)) });
const { id: account } = await createAccount(
  { name: 'Bench', email: 'bench@huts.example', role: 'owner', mayPublish: true },
  { password: 'five long benches' },
);
const session = await beginSession(account, '127.0.0.1', 'The bench');
await server.close();

const port = await freePort();
const base = `http://127.0.0.1:${port}`;
const app = spawn(process.execPath, [join(import.meta.dirname, '..', 'build', 'index.js')], {
  env: { ...process.env, PLUM_HTTP_HOST: '127.0.0.1', PLUM_HTTP_PORT: String(port), PLUM_HTTP_ORIGIN: base },
  stdio: ['ignore', 'ignore', 'inherit'],
});

interface Sample {
  /** From the input event to the canvas' document having changed, in milliseconds. */
  changed: number;
  /** To the frame after it having been painted. */
  painted: number;
  /** Of these spent in the core: compiling and drawing. */
  core: number;
  canvas: number;
}
const at = (list: number[], share: number) =>
  [...list].sort((a, b) => a - b)[Math.min(list.length - 1, Math.floor(list.length * share))] ?? 0;
const ms = (n: number) => `${n.toFixed(1)} ms`.padStart(9);

/** Watches the canvas, does one thing to the page after the other, and measures each from its event to the change. */
const measure = (p: Page, what: 'type' | 'style' | 'flip', samples: number): Promise<Sample[]> =>
  p.evaluate(
    async ({ what, samples }) => {
      const frame = document.querySelector<HTMLIFrameElement>('iframe[title^="The page"]')!.contentDocument!;
      const out: Sample[] = [];
      const after = [...document.querySelectorAll('label')].find((l) => l.textContent?.trim() === 'After');
      const input = after?.querySelector('input');
      const style = document.querySelector<HTMLInputElement>('input[type=range][aria-label="Space above"]');
      for (let n = 0; n < samples; n++) {
        await new Promise((done) => setTimeout(done, 30));
        await new Promise(requestAnimationFrame);
        const times: { what: string; ms: number }[] = [];
        globalThis.plumThreadTimes = times;
        let changed = 0;
        const watcher = new MutationObserver(() => (changed ||= performance.now()));
        watcher.observe(frame, { subtree: true, childList: true, characterData: true, attributes: true });
        const from = performance.now();
        if (what === 'type') {
          input!.value = ' '.repeat(n % 2) + 'x'.repeat(n % 7);
          input!.dispatchEvent(new InputEvent('input', { bubbles: true }));
        } else if (what === 'style') {
          style!.value = ['2', '3', '4'][n % 3]!;
          style!.dispatchEvent(new Event('input', { bubbles: true }));
        } else document.body.dispatchEvent(new KeyboardEvent('keydown', { key: '.', bubbles: true }));
        if (watcher.takeRecords().length) changed = performance.now();
        await new Promise<void>((done) => requestAnimationFrame(() => setTimeout(done, 0)));
        const painted = performance.now();
        for (let waits = 0; !changed && waits < 40; waits++) await new Promise((done) => setTimeout(done, 5));
        watcher.disconnect();
        const sum = (names: string[]) => times.filter((t) => names.includes(t.what)).reduce((a, t) => a + t.ms, 0);
        out.push({
          changed: changed - from,
          painted: Math.max(painted, changed) - from,
          core: sum(['compile', 'draw']),
          canvas: sum(['canvas']),
        });
      }
      return out;
    },
    { what, samples },
  );

function print(name: string, samples: Sample[]): void {
  const changed = samples.map((s) => s.changed);
  const core = samples.map((s) => s.core);
  const share = core.reduce((a, b) => a + b, 0) / changed.reduce((a, b) => a + b, 0);
  console.log(
    `${name.padEnd(44)} median ${ms(at(changed, 0.5))}  95th ${ms(at(changed, 0.95))}  painted ${ms(
      at(
        samples.map((s) => s.painted),
        0.5,
      ),
    )}  core ${ms(at(core, 0.5))} (${Math.round(share * 100)} %)  canvas ${ms(
      at(
        samples.map((s) => s.canvas),
        0.5,
      ),
    )}`,
  );
}

try {
  await answered(base, app);
  const browser = await chromium.launch(BROWSER);
  const context = await browser.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' });
  await context.addCookies([{ name: SESSION_COOKIE, value: session, url: base }]);
  const p = await context.newPage();
  // What runs in the page was compiled for Node.js, with a helper that pages do not have.
  await p.addInitScript('globalThis.__name = (it) => it');
  const open = async (id: string) => {
    await p.goto(`${base}/studio/workbench/${id}`, { waitUntil: 'networkidle' });
    await p.frameLocator('iframe[title^="The page"]').locator('h1').waitFor();
  };
  const row = (words: string) => p.getByRole('treeitem').filter({ hasText: words }).first();

  await open('large');
  const elements = await p.getByRole('treeitem').count();
  console.log(`From an input to the changed canvas: ${elements} elements, a loop of ${TURNS} turns with 10 of them`);
  await row('First of the item').click();
  await p.getByRole('tab', { name: 'Values' }).click();
  print('A letter typed, in each turn of the loop', (await measure(p, 'type', SAMPLES)).slice(10));
  await p.getByRole('tab', { name: 'Looks' }).click();
  print('Space above it chosen', (await measure(p, 'style', SAMPLES)).slice(10));
  await row('Title of the page').click();
  await p.getByRole('tab', { name: 'Values' }).click();
  print('A letter typed in the heading', (await measure(p, 'type', SAMPLES)).slice(10));
  print('The next record', (await measure(p, 'flip', SAMPLES)).slice(10));
  const whole = await p.evaluate(() => {
    const main = document
      .querySelector<HTMLIFrameElement>('iframe[title^="The page"]')!
      .contentDocument!.getElementById('main')!;
    const html = main.innerHTML;
    const times: number[] = [];
    for (let n = 0; n < 40; n++) {
      const from = performance.now();
      main.innerHTML = html;
      void main.offsetHeight;
      times.push(performance.now() - from);
    }
    return times;
  });
  console.log(`${'Beside it: the same page set as a whole, by hand'.padEnd(44)} median ${ms(at(whole, 0.5))}`);

  await open('medium');
  const count = await p.locator('svg[data-threads]').getAttribute('data-threads');
  const threads = await p.evaluate(async () => {
    const scroll = document.querySelector<HTMLElement>('[data-shelf-scroll]')!;
    const outline = document.querySelector<HTMLElement>('[data-outline-scroll]')!;
    const own: number[] = [];
    const frames: number[] = [];
    let before = performance.now();
    for (let n = 0; n < 200; n++) {
      globalThis.plumThreadTimes = [];
      scroll.scrollTop = (n * 23) % 900;
      outline.scrollTop = (n * 31) % 900;
      await new Promise(requestAnimationFrame);
      const now = performance.now();
      frames.push(now - before);
      before = now;
      own.push(globalThis.plumThreadTimes.reduce((a, t) => a + (t.what === 'threads' ? t.ms : 0), 0));
    }
    return { own, frames };
  });
  console.log(
    `\nThreads while shelf and outline scroll (${FIELDS} fields, ${await p.getByRole('treeitem').count()} elements, ${count} threads): ` +
      `measuring ${ms(at(threads.own, 0.5))} at the median, a frame each ${ms(at(threads.frames, 0.5))}, 95th ${ms(at(threads.frames, 0.95))}`,
  );
  await browser.close();
} finally {
  app.kill('SIGTERM');
}
