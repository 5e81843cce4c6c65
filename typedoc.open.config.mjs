import library from './typedoc.config.mjs';

/** @type {Partial<import('typedoc').TypeDocOptions>} */
export default {
  ...library,
  entryPoints: ['packages/open/src/index.ts'],
  tsconfig: 'packages/open/tsconfig.json',
  name: '@unspool/open',
  out: '.tsout/docs/open',
  intentionallyNotDocumented: [],
  // The table that the names of formats come from.
  intentionallyNotExported: ['FORMATS'],
};
