import { fileURLToPath } from 'node:url';
import { svelte, vitePreprocess } from '@sveltejs/vite-plugin-svelte';
import { defineConfig } from 'vitest/config';
import { BaseSequencer, type TestSpecification } from 'vitest/node';

/** Those that take longest begin first, so that nothing is left to wait for at the end. */
const LONGEST = /(growth|oracle|upgrade|nothing-lost|start)\.test\.ts$/;
class LongestFirst extends BaseSequencer {
  override async sort(files: TestSpecification[]): Promise<TestSpecification[]> {
    const sorted = await super.sort(files);
    const isLongest = ({ moduleId }: TestSpecification) => LONGEST.test(moduleId);
    return [...sorted.filter(isLongest), ...sorted.filter((one) => !isLongest(one))];
  }
}

/** No test fails by the clock: these end what hangs, and are far from what any test takes on a machine that does three other things. */
const NO_CLOCK = { testTimeout: 900_000, hookTimeout: 900_000 };

export default defineConfig({
  test: {
    sequence: { sequencer: LongestFirst },
    projects: [
      // Without isolation: the core keeps nothing between calls, so that its modules are loaded once for all files.
      { test: { name: 'core', include: ['tests/core/**/*.test.ts'], isolate: false, ...NO_CLOCK } },
      // The studio's state, in Node.js: components are compiled, and nothing is mounted.
      {
        plugins: [svelte({ preprocess: vitePreprocess(), configFile: false })],
        resolve: {
          conditions: ['browser'],
          alias: { $lib: fileURLToPath(new URL('src/lib', import.meta.url)) },
        },
        test: { name: 'studio', include: ['tests/studio/**/*.test.ts'], ...NO_CLOCK },
      },
      // One after the other: each file makes a database of its own on the same throw-away server.
      {
        resolve: { alias: { $lib: fileURLToPath(new URL('src/lib', import.meta.url)) } },
        test: {
          name: 'server',
          include: ['tests/server/**/*.test.ts'],
          setupFiles: ['tests/support/run-for-server.ts'],
          // Without isolation, as the core: a module of the server keeps nothing, all of it is in the server that a file uses.
          isolate: false,
          maxWorkers: 2,
          ...NO_CLOCK,
        },
      },
    ],
  },
});
