import react from '@vitejs/plugin-react';
import { defineConfig, type Plugin } from 'vite';

/** A package for glTF can read files too where there are some; the page has none, and gives it bytes. */
const noFiles: Plugin = {
  name: 'no-files',
  enforce: 'pre',
  resolveId: (id) => (id === 'node:fs' || id === 'node:path' ? '\0no-files' : undefined),
  load: (id) => (id === '\0no-files' ? 'export default {}; export const promises = {};' : undefined),
};

export default defineConfig(({ command }) => {
  // What is built is what is used, whoever asks for it: a test's environment would make it several times slower.
  if (command === 'build') process.env.NODE_ENV = 'production';
  return {
    base: './',
    plugins: [noFiles, react()],
    // The library from its sources, so that a change in it shows at once and nothing has to be built first.
    resolve: { conditions: ['unspool-source', 'module', 'browser', 'development|production'] },
    // The command line has the page in its package.
    build: {
      target: 'es2022',
      outDir: '../../packages/cli/page',
      emptyOutDir: true,
      chunkSizeWarningLimit: 2000,
      // The page has packages of others in it: their notices go with it.
      license: { fileName: 'licenses.md' },
    },
  };
});
