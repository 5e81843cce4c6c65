/**
 * `npm run docs`: the API reference, as pages in `.tsout/docs` and as tables in docs/reference/api.md. Fails on a
 * public name without a summary, and on a type that is used in public and not exported. With `--check` it fails when
 * the tables are not current, and writes nothing.
 */
import { readFileSync, writeFileSync } from 'node:fs';
import prettier from 'prettier';
import { Application, ReflectionKind } from 'typedoc';
import { root } from './steps.mjs';

const file = `${root}docs/reference/api.md`;
/** Reads the public names of a package; ends the program on a name that lacks something. */
async function read(options) {
  const app = await Application.bootstrapWithPlugins({ options: `${root}${options}`, logLevel: 'Warn' });
  const project = await app.convert();
  if (!project) process.exit(1);
  app.validate(project);
  if (app.logger.hasErrors() || app.logger.hasWarnings()) process.exit(1);
  return { app, project };
}
const library = await read('typedoc.config.mjs');
const open = await read('typedoc.open.config.mjs');
const vite = await read('typedoc.vite.config.mjs');

/** The first sentence of a summary; links and code as in Markdown. */
function summaryOf(reflection) {
  const comment = reflection.comment ?? reflection.signatures?.[0]?.comment ?? reflection.getSignature?.comment;
  const text = (comment?.summary ?? [])
    .map((part) => part.text)
    .join('')
    .replace(/\s+/g, ' ')
    .trim();
  return (/^.*?[.:](?= [A-Z[`]|$)/.exec(text)?.[0] ?? text).replace(/:$/, '.').replaceAll('|', '\\|');
}

const GROUPS = [
  ['Functions', ReflectionKind.Function],
  ['Classes', ReflectionKind.Class],
  ['Values', ReflectionKind.Variable],
  ['Types', ReflectionKind.Interface | ReflectionKind.TypeAlias],
];
/** A class that is exported as a type only looks like an interface, with methods. */
const groupOf = (child) => {
  const hasMethods = child.children?.some(({ kind }) => kind & (ReflectionKind.Method | ReflectionKind.Accessor));
  // Of a canvas, a page or a renderer it is the part that is used.
  const isPart =
    /^(Overlay|CanvasContext|CanvasPicture|TintCanvas|Dom|Pixi|Vector3|Quaternion4|Object3d|MatrixScene|CanvasScene)/.test(
      child.name,
    );
  if (hasMethods && child.kind & ReflectionKind.Interface && !isPart) return ReflectionKind.Class;
  return GROUPS.find(([, kind]) => child.kind & kind)[1];
};
const ENTRIES = {
  index: [
    'unspool',
    'Reading, checking and writing reels, easings and times. It also has everything of `unspool/play`.',
  ],
  play: ['unspool/play', 'Sampling, playing and crowds, for reels that were compiled ahead of time. No dependencies.'],
  hit: ['unspool/hit', 'Hit shapes: hits of a game, sweeps, distances, overlays.'],
  edit: ['unspool/edit', 'Editing reels: operations, history, merging, capturing, advice.'],
  script: ['unspool/test', 'Interactions without a screen, for unit tests.'],
  live: ['unspool/live', 'For the time in which a game is made: running games go on with a changed reel.'],
  'cast/pixi': ['unspool/cast/pixi', 'Writing poses into PixiJS 8 objects.'],
  'cast/dom': ['unspool/cast/dom', 'Writing poses into web elements.'],
  'cast/canvas': ['unspool/cast/canvas', 'Drawing roles on a canvas.'],
  'cast/matrix': ['unspool/cast/matrix', 'World matrices of roles, for any renderer and for instancing.'],
  'cast/objects3d': ['unspool/cast/objects3d', 'Writing poses into objects in space.'],
};
/** What every error of JavaScript has. */
const FROM_ERROR = ['cause', 'stack', 'message', 'prepareStackTrace', 'captureStackTrace', 'stackTraceLimit'];
const table = (rows) =>
  `| name | |\n| --- | --- |\n${rows.map(([name, text]) => `| ${name} | ${text} |`).join('\n')}\n`;
const resolved = (reflection) => (reflection.isReference?.() ? reflection.getTargetReflectionDeep() : reflection);

const missing = [];
const parts = [
  '# API\n\nEvery public name, by entry point, with the first sentence of its description; your editor shows the rest. Written by `npm run docs`.\n',
];
const own = new Set(library.project.getChildByName('play').children.map(({ name }) => name));
const entries = Object.entries(ENTRIES).map(([module, [name, text]]) => {
  const { children } = library.project.getChildByName(module.startsWith('cast/') ? [module] : module);
  return [name, text, module === 'index' ? children.filter((child) => !own.has(child.name)) : children];
});
entries.push(['@unspool/vite', 'Reels as modules of a Vite game. A package of its own.', vite.project.children]);
entries.push(['@unspool/open', 'Reading and writing open formats. A package of its own.', open.project.children]);
for (const [name, text, listed] of entries) {
  const children = listed.map(resolved);
  parts.push(`## ${name}\n\n${text}\n`);
  for (const [title, kind] of GROUPS) {
    const found = children.filter((child) => groupOf(child) === kind).sort((a, b) => (a.name < b.name ? -1 : 1));
    if (found.length === 0) continue;
    parts.push(`### ${title} of ${name}\n`);
    if (kind !== ReflectionKind.Class) parts.push(table(found.map((one) => [`\`${one.name}\``, summaryOf(one)])));
    else
      for (const one of found) {
        parts.push(`**\`${one.name}\`**: ${summaryOf(one)}\n`);
        const members = one.children.filter(
          ({ kind, name, inheritedFrom }) =>
            kind & (ReflectionKind.Method | ReflectionKind.Accessor | ReflectionKind.Property) &&
            name !== 'types' &&
            !(one.name.endsWith('Error') && name === 'name') &&
            !(inheritedFrom && FROM_ERROR.includes(name)),
        );
        missing.push(
          ...members.filter((member) => summaryOf(member) === '').map((member) => `${one.name}.${member.name}`),
        );
        parts.push(
          table(members.map((member) => [`\`${member.name}${member.signatures ? '()' : ''}\``, summaryOf(member)])),
        );
      }
  }
}
if (missing.length > 0) {
  console.error(`no summary: ${missing.join(', ')}`);
  process.exit(1);
}
const text = await prettier.format(parts.join('\n'), { parser: 'markdown', ...(await prettier.resolveConfig(file)) });
if (process.argv.includes('--check')) {
  if (readFileSync(file, 'utf8') !== text) {
    console.error('docs/reference/api.md is not current. Run `npm run docs`.');
    process.exit(1);
  }
} else {
  writeFileSync(file, text);
  await library.app.generateOutputs(library.project);
  await open.app.generateOutputs(open.project);
  await vite.app.generateOutputs(vite.project);
}
