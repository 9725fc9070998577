import { defineConfig } from 'vitest/config';

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'core', include: ['tests/core/**/*.test.ts'], testTimeout: 60_000 } },
      // One after the other: each file makes a database of its own on the same throw-away server.
      {
        test: {
          name: 'server',
          include: ['tests/server/**/*.test.ts'],
          fileParallelism: false,
          testTimeout: 60_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
