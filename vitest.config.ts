import { defineConfig } from 'vitest/config';

const alias = {
  '#core': new URL('./core', import.meta.url).pathname,
  '#server': new URL('./server', import.meta.url).pathname,
  '~': new URL('./app', import.meta.url).pathname,
};

export default defineConfig({
  test: {
    projects: [
      {
        resolve: { alias },
        test: {
          name: 'unit',
          include: ['{core,cli,server,app,demo}/**/*.test.ts', 'tests/fuzz/*.test.ts'],
          testTimeout: 60_000,
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'browser',
          include: ['tests/browser/*.test.ts'],
          fileParallelism: false,
          testTimeout: 120_000,
          hookTimeout: 180_000,
        },
      },
    ],
  },
});
