import { defineConfig } from 'vitest/config';

const shared = { environment: 'node', env: { TZ: 'UTC' } } as const;

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...shared,
          name: 'unit',
          include: ['src/{core,smpp,carrier,web}/**/*.test.{ts,tsx}', 'src/server/files/**/*.test.ts', 'scripts/**/*.test.ts'],
          // what hangs ends; how fast the machine is decides nothing
          testTimeout: 120_000,
        },
      },
      {
        test: {
          ...shared,
          name: 'database',
          include: ['src/server/**/*.test.ts', 'src/demo/**/*.test.ts'],
          exclude: ['src/server/files/**'],
          globalSetup: ['src/server/db/testing/global.ts'],
          pool: 'forks',
          maxWorkers: 1,
          isolate: false,
          fileParallelism: false,
          testTimeout: 300_000,
          hookTimeout: 300_000,
        },
      },
      {
        test: {
          ...shared,
          name: 'e2e',
          include: ['e2e/**/*.test.ts'],
          globalSetup: ['e2e/support/prepare.ts'],
          pool: 'forks',
          // each file has a demo of its own; mostly they wait for what it does
          maxWorkers: 2,
          testTimeout: 600_000,
          hookTimeout: 600_000,
        },
      },
    ],
  },
});
