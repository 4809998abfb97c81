import { defineConfig } from 'vitest/config';
import { alias } from './vite.config.ts';

export default defineConfig({
  test: {
    // asked for by `npm test`, of what can be tested without a browser
    coverage: {
      provider: 'v8',
      include: ['core/**/*.ts', 'server/**/*.ts', 'app/state/**/*.ts'],
      exclude: ['**/*.test.ts', '**/*.d.ts', 'core/testing.ts'],
      reporter: ['text-summary'],
      thresholds: { lines: 85, branches: 75 },
    },
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          // what is logged on purpose is no part of a test's report
          env: { PAPILLON_LOG: 'silent' },
          isolate: false,
          unstubGlobals: true,
          include: ['{cli,server,app,demo}/**/*.test.ts', 'tests/{fuzz,soak}/*.test.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
          maxWorkers: 2,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'core',
          include: ['core/**/*.test.ts'],
          testTimeout: 60_000,
          hookTimeout: 60_000,
          maxWorkers: 2,
          // pure functions leave nothing behind: the colour engine is loaded once a worker
          isolate: false,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'server',
          include: ['tests/server/*.test.ts'],
          fileParallelism: false,
          testTimeout: 120_000,
          hookTimeout: 180_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'browser',
          include: ['tests/browser/*.test.ts'],
          // two browsers on two cores keep each other waiting for longer than some tests do
          fileParallelism: false,
          // the engines are loaded once for all files
          isolate: false,
          testTimeout: 120_000,
          // a slow machine takes its time; what never comes still fails
          expect: { poll: { timeout: 20_000 } },
          hookTimeout: 180_000,
        },
      },
    ],
  },
});
