import { defineConfig } from 'vitest/config';
import { playwright } from '@vitest/browser-playwright';
const args = [
  '--no-sandbox',
  '--disable-gpu',
  '--use-gl=angle',
  '--use-angle=swiftshader',
  '--enable-unsafe-swiftshader',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];
// resolve workspace packages to their TypeScript source, so tests need no build
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
          benchmark: { include: ['packages/*/src/**/*.bench.ts'] },
        },
      },
      {
        test: {
          name: 'page',
          environment: 'node',
          include: ['examples/*/test/**/*.test.ts'],
          fileParallelism: false,
          benchmark: { include: [] },
        },
      },
      {
        resolve,
        test: {
          name: 'browser',
          include: ['packages/*/{src,test}/**/*.browser.test.ts'],
          benchmark: { include: [] },
          browser: {
            enabled: true,
            headless: true,
            screenshotFailures: false,
            provider: playwright({
              launchOptions: { executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium', args },
            }),
            instances: [{ browser: 'chromium' }],
          },
        },
      },
    ],
  },
});
