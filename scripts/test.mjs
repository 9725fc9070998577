import { spawn } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { startDatabase, takeFolder } from './lib/mariadb.mjs';
import { answered, freePort } from './lib/ports.mjs';
import { ensureBuild, ensureDebian, ensurePackages, root } from './lib/setup.mjs';

/** Runs everything, or the parts named: npm test -- check core studio server browser */
const wanted = process.argv.slice(2);
/** @param {string} part */
const runs = (part) => !wanted.length || wanted.includes(part);

ensureDebian('database', 'browser');
ensurePackages();

/** @type {{ part: string, passed: number, failed: number, seconds: number }[]} */
const totals = [];
/** What failed, by its name, and which files took longest; said at the end, where it is looked for. @type {string[]} */
const failures = [];
/** Why, in a few hundred characters. @param {string} [message] */
const briefly = (message = 'nothing was said of why') =>
  stripVTControlCharacters(message).replace(/\s+/g, ' ').trim().slice(0, 400);
/** @type {{ name: string, seconds: number }[]} */
const times = [];
/** @type {{ name: string, seconds: number }[]} */
const files = [];
const folder = mkdtempSync(join(tmpdir(), 'plum-thread-test-'));

/** @param {string} command @param {string[]} args @param {Record<string, string>} [env] @returns {Promise<number>} */
const run = (command, args, env = {}) =>
  new Promise((done) => {
    const child = spawn(command, args, {
      cwd: root,
      env: { ...process.env, ...env },
      stdio: ['ignore', 'inherit', 'inherit'],
    });
    child.once('close', (code) => done(code ?? 1));
  });

/** What a runner wrote of its own totals; a run that wrote nothing counts as one failure. @param {string} part @param {number} began @param {string} file @param {number} code @param {(report: any) => { passed: number, failed: number }} read */
function tally(part, began, file, code, read) {
  let counts = { passed: 0, failed: 1 };
  if (existsSync(file)) counts = read(JSON.parse(readFileSync(file, 'utf8')));
  if (code !== 0 && counts.failed === 0) counts.failed = 1;
  totals.push({ part, ...counts, seconds: (Date.now() - began) / 1000 });
}

/**
 * The browser's tests stand in two halves that take about as long, each with an application and a database of its own:
 * within one they take turns. What is not named is in the first.
 */
const SECOND = /^(looks|looks-matrix|people|proof|removed|rules|serving|studio|suppose|workbench)\./;
const HALVES = [1, 2].map((half) => ({
  half,
  files: readdirSync(join(root, 'e2e'))
    .filter((name) => name.endsWith('.spec.ts') && SECOND.test(name) === (half === 2))
    .map((name) => `/e2e/${name}`),
}));

/** Runs a half of the browser's tests against an application with demo data. @param {string} database @param {typeof HALVES[number]} of */
async function browse(database, { half, files }) {
  const port = String(await freePort());
  const { startStandIns } = await import('./lib/standins.mjs');
  const others = await startStandIns(`http://localhost:${port}`);
  const own = new URL(database);
  own.pathname += `_half_${half}`;
  const { createConnection } = await import('mariadb');
  const admin = await createConnection(database);
  await admin.query(`CREATE DATABASE ${own.pathname.slice(1)} CHARACTER SET utf8mb4`);
  await admin.end();
  const env = {
    PLUM_DATABASE: own.href,
    PLUM_MEDIA: join(folder, `media-${half}`),
    PLUM_HTTP_HOST: '127.0.0.1',
    PLUM_HTTP_PORT: port,
    PLUM_HTTP_ORIGIN: `http://localhost:${port}`,
    PLUM_DEMO: '1',
    PLUM_HTTP_BODY_SIZE_LIMIT: '220M',
    // Else a connection that rests between two questions is closed just as the second is put.
    PLUM_HTTP_KEEP_ALIVE_TIMEOUT: '75',
    ...others.env,
  };
  const seeded = await run(process.execPath, ['--import', 'tsx', join(root, 'demo/seed.ts'), '--demo'], env);
  if (seeded) throw new Error(`The demo data could not be put in (${seeded}).`);
  const app = spawn(process.execPath, [join(root, 'scripts', 'lib', 'serve.mjs')], {
    cwd: root,
    env: { ...process.env, ...env },
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  // The tests sign in before anything else.
  await answered(`${env.PLUM_HTTP_ORIGIN}/healthz`, app);
  const file = join(folder, `browser-${half}.json`);
  const began = Date.now();
  const code = await run('npx', ['playwright', 'test', ...files], {
    PLUM_TEST_SITE: env.PLUM_HTTP_ORIGIN,
    PLUM_TEST_OUTBOX: others.outbox,
    PLUM_TEST_RESULTS: join('test-results', String(half)),
    PLAYWRIGHT_JSON_OUTPUT_NAME: file,
  });
  tally(`browser ${half} of ${HALVES.length}`, began, file, code, (report) => {
    const suites = [...report.suites];
    for (const suite of suites) {
      suites.push(...(suite.suites ?? []));
      for (const spec of suite.specs ?? []) {
        if (!spec.ok) {
          const { message } = spec.tests[0]?.results.at(-1)?.error ?? {};
          failures.push(`${spec.file} › ${spec.title}: ${briefly(message)}`);
        }
        /** @type {number[]} */
        const spent = spec.tests.flatMap((/** @type {any} */ one) =>
          one.results.map((/** @type {any} */ r) => r.duration),
        );
        times.push({ name: `${spec.file} › ${spec.title}`, seconds: spent.reduce((a, b) => a + b, 0) / 1000 });
      }
    }
    return { passed: report.stats.expected + report.stats.flaky, failed: report.stats.unexpected };
  });
  app.kill('SIGTERM');
  await others.stop();
}

/** @type {Awaited<ReturnType<typeof startDatabase>> | undefined} */
let db;
try {
  if (['core', 'studio', 'server', 'browser'].some(runs)) {
    await ensureBuild();
    await takeFolder(folder);
    db = await startDatabase(folder, { quick: true });
  }
  // Checks keep one processor busy, for minutes; what knows no clock runs beside them. Browsers wait for them.
  const start = Date.now();
  const checking = runs('check')
    ? run(process.execPath, [join(root, 'scripts', 'check.mjs')]).then((code) => {
        const [passed, failed] = code === 0 ? [1, 0] : [0, 1];
        totals.unshift({ part: 'check', passed, failed, seconds: (Date.now() - start) / 1000 });
      })
    : undefined;
  const readVitest = (/** @type {any} */ report) => {
    for (const { name, startTime, endTime, assertionResults, status, message } of report.testResults) {
      const file = relative(root, name);
      for (const { fullName, duration = 0 } of assertionResults)
        times.push({ name: `${file} › ${fullName}`, seconds: duration / 1000 });
      files.push({ name: file, seconds: (endTime - startTime) / 1000 });
      const failed = assertionResults.filter((/** @type {any} */ one) => one.status === 'failed');
      if (status === 'failed' && !failed.length) failures.push(`${file}: ${briefly(message)}`);
      failures.push(
        ...failed.map((/** @type {any} */ one) => `${file} › ${one.fullName}: ${briefly(one.failureMessages[0])}`),
      );
    }
    return {
      passed: report.numPassedTests,
      failed: report.numFailedTests + report.numFailedTestSuites * (report.numFailedTests ? 0 : 1),
    };
  };
  for (const part of ['core', 'studio', 'server']) {
    if (!runs(part)) continue;
    const file = join(folder, `${part}.json`);
    const began = Date.now();
    const code = await run(
      'npx',
      ['vitest', 'run', '--project', part, '--reporter=dot', '--reporter=json', `--outputFile.json=${file}`],
      { PLUM_TEST_DATABASE: db?.url ?? '' },
    );
    tally(part, began, file, code, readVitest);
  }
  await checking;
  const { url } = db ?? {};
  if (runs('browser') && url) await Promise.all(HALVES.map((half) => browse(url, half)));
} finally {
  await db?.stop();
  if (existsSync(join(folder, 'mariadb.log')) && process.env.PLUM_KEEP_LOG)
    cpSync(join(folder, 'mariadb.log'), join(root, 'tmp', 'mariadb.log'));
  rmSync(folder, { recursive: true, force: true });
}

/** @param {string} what @param {typeof times} all @param {number} many */
function tellSlowest(what, all, many) {
  for (const { name, seconds } of all.sort((a, b) => b.seconds - a.seconds).slice(0, many))
    console.log(`${what} ${seconds.toFixed(0)} s: ${name}`);
}
tellSlowest('file', files, 10);
tellSlowest('test', times, 10);
for (const name of failures) console.log(`failed: ${name}`);
for (const { part, passed, failed, seconds } of totals)
  console.log(`${part}: ${passed} passed, ${failed} failed, ${(seconds / 60).toFixed(1)} min`);
const sum = (/** @type {'passed' | 'failed'} */ key) => totals.reduce((n, total) => n + total[key], 0);
console.log(`${sum('passed')} passed, ${sum('failed')} failed`);
process.exitCode = sum('failed') ? 1 : 0;
