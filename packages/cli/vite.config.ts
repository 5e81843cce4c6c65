import { defineConfig } from 'vite';

/** The program in a few files, so that it starts in half the time. What each command needs is loaded when it runs. */
const conditions = ['unspool-source', 'module', 'node', 'development|production'];
export default defineConfig({
  ssr: { noExternal: true, external: ['@resvg/resvg-js'], resolve: { conditions } },
  build: {
    ssr: true,
    target: 'node20',
    outDir: 'program',
    emptyOutDir: true,
    rolldownOptions: {
      input: { main: 'src/main.ts', protocol: 'src/serve/protocol.ts' },
      output: { entryFileNames: '[name].js', chunkFileNames: '[name]-[hash].js' },
    },
    // It has packages of others in it: their notices go with it.
    license: { fileName: 'licenses.md' },
  },
});
