import { parseArgs } from 'node:util';
import { runServerTest } from './lib/server-tests.mjs';

// Holds what the studio tells of generated sites against their published pages: npm run oracle -- --sites 1000 --seed 7
const { values } = parseArgs({
  options: {
    sites: { type: 'string', default: '1000' },
    seed: { type: 'string', default: String(Date.now() % 1e9) },
  },
});
await runServerTest('tests/server/oracle.test.ts', { PLUM_TEST_SITES: values.sites, PLUM_TEST_SEED: values.seed });
