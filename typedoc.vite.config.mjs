import library from './typedoc.config.mjs';

/** @type {Partial<import('typedoc').TypeDocOptions>} */
export default {
  ...library,
  entryPoints: ['packages/vite/src/index.ts'],
  tsconfig: 'packages/vite/tsconfig.json',
  name: '@unspool/vite',
  out: '.tsout/docs/vite',
  intentionallyNotDocumented: [],
  intentionallyNotExported: [],
};
