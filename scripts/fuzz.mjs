import { parseArgs } from 'node:util';
import { runServerTest } from './lib/server-tests.mjs';

// Asks the API for whatever its document says and does not say: npm run fuzz -- --requests 100000 --seed 7
const { values } = parseArgs({
  options: {
    requests: { type: 'string', default: '10000' },
    seed: { type: 'string', default: String(Date.now() % 1e9) },
  },
});
console.log(`${values.requests} requests, seed ${values.seed}`);
await runServerTest('tests/server/fuzz.test.ts', {
  PLUM_FUZZ_REQUESTS: values.requests,
  PLUM_FUZZ_SEED: values.seed,
});
