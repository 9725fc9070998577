import { afterAll, beforeAll, expect, it } from 'vitest';
import { createAccount } from '../../src/lib/server/people/accounts';
import { beginSession } from '../../src/lib/server/people/sessions';
import { startApp, type App } from '../support/app';
import { freshDatabase } from '../support/database';
import { saveModel } from '../support/fill';
import { fuzz } from '../support/fuzz';

/** `npm run fuzz -- --requests N --seed S` asks for more of it. */
const REQUESTS = Number(process.env.PLUM_FUZZ_REQUESTS) || 2000;
const SEED = Number(process.env.PLUM_FUZZ_SEED) || 20_261_127;
let drop: () => Promise<void>;
let app: App;

beforeAll(async () => {
  drop = await freshDatabase();
  await saveModel();
  app = await startApp();
});
afterAll(async () => {
  app?.child.kill('SIGKILL');
  await drop();
});

it(
  `answers ${REQUESTS} requests of every kind, and none of them with a failure of its own`,
  async () => {
    const { id } = await createAccount(
      { name: 'F', email: 'f@huts.example', role: 'owner', mayPublish: true },
      { password: 'some long fuzz' },
    );
    const headers = { cookie: `plum_session=${await beginSession(id, '127.0.0.1', 'A program')}` };
    const { failures, statuses, asked } = await fuzz({
      origin: app.origin,
      headers,
      requests: REQUESTS,
      seed: SEED,
      tell: (done, counts) => {
        if (process.env.PLUM_FUZZ_REQUESTS && done % 5000 === 0) console.log(done, JSON.stringify([...counts].sort()));
      },
    });
    if (process.env.PLUM_FUZZ_REQUESTS) console.log(`${asked.size} operations`, JSON.stringify([...statuses].sort()));
    expect(failures.slice(0, 20)).toEqual([]);
    // It gets somewhere: some of it is taken, and most of what is refused is told why.
    expect(statuses.get(200) ?? 0).toBeGreaterThan(REQUESTS / 50);
    expect(asked.size).toBeGreaterThan(80);
  },
  24 * 3_600_000,
);
