import { unspool } from '@unspool/vite';
import { defineConfig } from 'vite';

export default defineConfig({
  base: './',
  plugins: [unspool({ workbench: true })],
  // The library from its sources, so that a change in it shows at once and nothing has to be built first.
  resolve: { conditions: ['unspool-source', 'module', 'browser', 'development|production'] },
  build: { target: 'es2022', chunkSizeWarningLimit: 1200 },
});
