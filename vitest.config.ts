import { defineConfig } from 'vitest/config';

const shared = { environment: 'node', env: { TZ: 'UTC' } } as const;

const web = { environment: 'jsdom', setupFiles: 'src/web/testing-setup.ts', testTimeout: 120_000 } as const;
/** Files that put something else in the place of a module: what they load is theirs alone. */
const REPLACES = [
  'src/web/broadcasts/list/Short.test.tsx',
  'src/web/broadcasts/when/Rehearse.test.tsx',
  'src/web/outcomes/OverTime.test.tsx',
  'src/web/replies/Replies.test.tsx',
];

export default defineConfig({
  test: {
    projects: [
      {
        test: {
          ...shared,
          name: 'unit',
          include: ['src/{core,smpp,carrier}/**/*.test.ts', 'src/server/files/**/*.test.ts', 'scripts/**/*.test.ts'],
          // what is pure leaves nothing behind for the next file
          isolate: false,
          // what hangs ends; how fast the machine is decides nothing
          testTimeout: 120_000,
        },
      },
      {
        test: {
          ...shared,
          ...web,
          name: 'web',
          include: ['src/web/**/*.test.{ts,tsx}'],
          exclude: REPLACES,
          // the theme, the pieces and the page they stand on are loaded once; the set-up takes away what a test leaves on it
          isolate: false,
        },
      },
      { test: { ...shared, ...web, name: 'web, apart', include: REPLACES } },
      {
        test: {
          ...shared,
          name: 'database',
          include: ['src/server/**/*.test.ts', 'src/demo/**/*.test.ts'],
          exclude: ['src/server/files/**'],
          globalSetup: ['src/server/db/testing/global.ts'],
          pool: 'forks',
          // each with a database of its own on either engine, kept over its files
          maxWorkers: 2,
          isolate: false,
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
