import { playwright } from '@vitest/browser-playwright';
import { defineConfig } from 'vitest/config';
import { chromium } from './scripts/chromium.mjs';

// Workspace packages are taken from their TypeScript sources, so that a test sees a change before it is built.
const resolve = { conditions: ['unspool-source', 'module', 'browser', 'development|production'] };
const ssr = { resolve: { conditions: ['unspool-source', 'module', 'node', 'development|production'] } };

/** A poll fails only where something hangs: a busy machine may take seconds for what takes one frame elsewhere. */
const patient = { poll: { timeout: 30_000 } };

/** Packages of `@unspool/open` that are prepared for the browser beforehand: found late, they would reload its page. */
const bundledByOpen = [
  '@gltf-transform/core',
  'css-tree/parser',
  'css-tree/generator',
  'css-tree/walker',
  'culori',
  'papaparse',
  'saxes',
  'svgpath',
  'webvtt-parser',
];

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
          expect: patient,
          environment: 'node',
          include: ['packages/*/{src,test}/**/*.test.ts', 'apps/*/src/**/*.test.ts'],
          exclude: ['**/*.browser.test.ts', 'packages/vite/test/**', '**/node_modules/**', '**/dist/**'],
          // For tests that measure allocation: collecting by hand, and room to allocate without being collected.
          execArgv: ['--expose-gc', '--min-semi-space-size=128', '--max-semi-space-size=128'],
          setupFiles: ['packages/unspool/test/setup.ts'],
          // Only a test that hangs should be stopped: machines are slow at times, and nights have many cases.
          testTimeout: process.env.UNSPOOL_CASES ? 3_600_000 : 300_000,
          hookTimeout: 300_000,
          benchmark: { include: ['packages/*/src/**/*.bench.ts'] },
        },
      },
      // Pages in Chromium: of the workbench, and of games.
      ...[
        { name: 'page', include: ['apps/*/test/**/*.test.ts'] },
        { name: 'game', include: ['examples/*/test/**/*.test.ts', 'packages/vite/test/**/*.test.ts'] },
      ].map((one) => ({
        test: {
          ...one,
          expect: patient,
          environment: 'node' as const,
          exclude: ['**/fluent.test.ts', '**/node_modules/**', '**/dist/**'],
          fileParallelism: false,
          testTimeout: 300_000,
          hookTimeout: 300_000,
          benchmark: { include: [] },
        },
      })),
      {
        // By itself: `npm test` runs it when the other tests are done.
        test: {
          name: 'fluent',
          expect: patient,
          environment: 'node',
          include: ['apps/*/test/fluent.test.ts'],
          testTimeout: 300_000,
          hookTimeout: 300_000,
          benchmark: { include: [] },
        },
      },
      {
        resolve,
        optimizeDeps: {
          include: ['pixi.js', ...bundledByOpen],
        },
        test: {
          name: 'browser',
          expect: patient,
          include: ['packages/*/{src,test}/**/*.browser.test.ts', 'apps/*/src/**/*.browser.test.ts'],
          testTimeout: 300_000,
          hookTimeout: 300_000,
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
