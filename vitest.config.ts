import { playwright } from '@vitest/browser-playwright';
import { defineConfig } from 'vitest/config';
import { chromium } from './scripts/chromium.mjs';

// Workspace packages are taken from their TypeScript sources, so that a test sees a change before it is built.
const resolve = { conditions: ['unspool-source', 'module', 'browser', 'development|production'] };
const ssr = { resolve: { conditions: ['unspool-source', 'module', 'node', 'development|production'] } };

export default defineConfig({
  test: {
    coverage: {
      provider: 'v8',
      include: ['packages/*/src/**/*.ts'],
      exclude: ['**/*.{test,bench}.ts'],
      reporter: ['text', 'lcov'],
    },
    projects: [
      {
        resolve,
        ssr,
        test: {
          name: 'unit',
          environment: 'node',
          include: ['packages/*/{src,test}/**/*.test.ts'],
          exclude: ['**/*.browser.test.ts', '**/node_modules/**', '**/dist/**'],
          // For tests that measure allocation: collecting by hand, and room to allocate without being collected.
          execArgv: ['--expose-gc', '--min-semi-space-size=128', '--max-semi-space-size=128'],
          testTimeout: 30_000,
          benchmark: { include: ['packages/*/src/**/*.bench.ts'] },
        },
      },
      {
        test: {
          name: 'page',
          environment: 'node',
          include: ['examples/*/test/**/*.test.ts'],
          fileParallelism: false,
          testTimeout: 120_000,
          hookTimeout: 120_000,
          benchmark: { include: [] },
        },
      },
      {
        resolve,
        optimizeDeps: { include: ['pixi.js'] },
        test: {
          name: 'browser',
          include: ['packages/*/{src,test}/**/*.browser.test.ts'],
          benchmark: { include: [] },
          browser: {
            enabled: true,
            headless: true,
            screenshotFailures: false,
            provider: playwright({ launchOptions: chromium }),
            instances: [{ browser: 'chromium' }],
          },
        },
      },
    ],
  },
});
