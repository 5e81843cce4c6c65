/**
 * The arrows of the architecture: a folder of the library may import what stands below it, and nothing else.
 * CONTRIBUTING.md says what each folder is for.
 */
const layers = {
  errors: [],
  time: ['errors'],
  easing: ['errors', 'time'],
  value: ['errors', 'time', 'easing'],
  reel: ['errors', 'time', 'easing', 'value'],
  clip: ['errors', 'time', 'easing', 'value', 'reel'],
  shape: ['errors', 'easing', 'value'],
  cast: ['errors', 'time', 'easing', 'value', 'reel', 'clip', 'shape'],
  play: ['errors', 'time', 'easing', 'value', 'reel', 'clip', 'cast'],
  crowd: ['errors', 'time', 'value', 'reel', 'clip', 'play'],
  edit: ['errors', 'time', 'easing', 'value', 'reel', 'clip'],
  script: ['errors', 'time', 'easing', 'value', 'clip', 'play'],
  live: ['errors', 'time', 'value', 'clip', 'cast', 'play', 'crowd', 'edit'],
  hit: ['errors', 'time', 'easing', 'value', 'reel', 'clip', 'shape', 'cast', 'play'],
};
/** The rooms of its two largest folders. */
const reel = {
  diagnostics: [],
  document: ['diagnostics'],
  resolve: ['diagnostics', 'document'],
  check: ['diagnostics', 'document', 'resolve'],
};
const play = {
  time: [],
  pose: [],
  state: ['time', 'pose'],
  drive: ['time', 'pose', 'state'],
  rules: ['time', 'state', 'drive'],
};
/** The same inside the workbench and the command line. Files beside the folders tie them together. */
const page = {
  link: [],
  model: ['link'],
  numbers: ['link', 'model'],
  stage: ['link', 'model', 'numbers'],
  time: ['link', 'model', 'numbers'],
  commands: ['link', 'model', 'numbers', 'time'],
  panels: ['link', 'model', 'numbers', 'stage', 'time', 'commands'],
};
const program = { print: [], draw: ['print'], serve: [], commands: ['print', 'draw', 'serve'] };
const tests = '\\.(test|bench)\\.ts$';
const src = '^packages/unspool/src';

/**
 * A folder may import those that are listed for it, and no other folder beside it.
 *
 * @param beside whether it may import files beside the folders
 */
const arrows = (root, folders, beside) =>
  Object.entries(folders).map(([folder, below]) => {
    const others = Object.keys(folders).filter((other) => other !== folder && !below.includes(other));
    return {
      name: `${root}/${folder}-looks-down-only`,
      comment: `${root}/${folder}/ may import ${below.join(', ') || 'no other folder'}`,
      severity: 'error',
      from: { path: `^${root}/${folder}/`, pathNot: tests },
      to: {
        path: `^${root}/(${[...others.map((other) => `${other}/`), ...(beside ? [] : ['[^/]+$'])].join('|') || '$'})`,
      },
    };
  });

/** @type {import('dependency-cruiser').IConfiguration} */
module.exports = {
  forbidden: [
    { name: 'no-circles', severity: 'error', from: {}, to: { circular: true } },
    ...arrows('packages/unspool/src', layers, false),
    ...arrows('packages/unspool/src/reel', reel, false),
    ...arrows('packages/unspool/src/play', play, false),
    ...arrows('apps/workbench/src', page, true),
    ...arrows('packages/cli/src', program, true),
    {
      name: 'valibot-where-documents-are-read',
      comment: 'reels in reel/, operations on them in edit/: nothing that plays loads it',
      severity: 'error',
      from: { path: src, pathNot: [`${src}/(reel|edit)/`, tests] },
      to: { path: 'node_modules/(valibot|@valibot)' },
    },
    {
      name: 'hot-path-sees-no-document',
      comment: 'sampling reads arrays; compiling conforms to it',
      severity: 'error',
      from: { path: `${src}/clip/curves\\.ts$` },
      to: { path: `${src}/reel/` },
    },
    {
      name: 'library-knows-no-platform',
      severity: 'error',
      from: { path: src, pathNot: tests },
      to: { dependencyTypes: ['core'] },
    },
    {
      name: 'library-knows-no-program',
      severity: 'error',
      from: { path: '^packages/unspool' },
      to: { path: '^(packages/(?!unspool/)|apps|examples)/', pathNot: '\\.reel\\.json$' },
    },
    {
      name: 'open-stands-on-public-entries',
      comment: 'as any program that uses the library',
      severity: 'error',
      from: { path: '^packages/(open|vite)/src', pathNot: tests },
      to: {
        path: '^(packages|apps|examples)/',
        pathNot: ['^packages/$1/', '^packages/unspool/src/(index|edit/index)\\.ts$'],
      },
    },
    {
      name: 'workbench-knows-the-library-and-the-protocol',
      comment: 'of the command line only what both sides say to each other',
      severity: 'error',
      from: { path: '^apps/', pathNot: tests },
      to: { path: '^packages/cli/', pathNot: '^packages/cli/src/serve/protocol\\.ts$' },
    },
    {
      name: 'cli-knows-no-page',
      severity: 'error',
      from: { path: '^packages/cli/src', pathNot: tests },
      to: { path: '^(apps|examples)/' },
    },
  ],
  options: {
    tsPreCompilationDeps: 'specify',
    doNotFollow: { path: 'node_modules' },
    exclude: { path: '(^|/)dist/|^packages/cli/(page|program)/' },
    tsConfig: { fileName: 'tsconfig.base.json' },
    enhancedResolveOptions: {
      exportsFields: ['exports'],
      conditionNames: ['unspool-source', 'types', 'import', 'node', 'default'],
      extensions: ['.ts', '.tsx', '.js'],
    },
  },
};
