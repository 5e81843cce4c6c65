/**
 * Whether the packages work for those who install them: packed, installed from the tarball into empty projects, and
 * used from Node, from a Vite build, and by TypeScript in both of its modern ways. Needs what `npm run build` makes.
 */
import { spawnSync } from 'node:child_process';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, posix } from 'node:path';
import { build } from 'vite';
import { pack, packedProject, unpack } from './packed.mjs';
import { root, tool } from './steps.mjs';

const scratch = mkdtempSync(join(tmpdir(), 'unspool-packages-'));
let failed = false;

function check(name, command, args, cwd) {
  const { status, stdout, stderr } = spawnSync(command, args, { cwd, encoding: 'utf8' });
  say(name, status === 0, `${stdout}${stderr}`);
  return stdout;
}

function say(name, ok, detail) {
  console.log(`${ok ? 'ok    ' : 'FAILED'}  ${name}`);
  if (ok) return;
  failed = true;
  console.log(detail);
}

const node = process.execPath;
const of = (path, ...args) => [...tool(path)[1], ...args];

const packed = {};
for (const name of ['unspool', 'open', 'cli', 'vite']) {
  const folder = join(root, 'packages', name);
  check(`publint ${name}`, node, of('publint/src/cli.js', folder, '--strict'), root);
  packed[name] = pack(name, scratch);
}
const library = packed.unspool.tarball;

// What is packed: nothing that leads nowhere, and the notices of all that others have made.
const odd = [
  ...packed.cli.files.filter((file) => file.endsWith('.map')),
  ...Object.values(packed)
    .flatMap(({ files }) => files)
    .filter((file) => /\.test\.|__snapshots__|\.tmp$/.test(file)),
];
say('nothing is packed that nobody uses', odd.length === 0, odd.join('\n'));
const sources = new Set(packed.unspool.files);
const lost = packed.unspool.files
  .filter((file) => file.endsWith('.map'))
  .flatMap((file) => {
    const map = JSON.parse(readFileSync(join(root, 'packages/unspool', file), 'utf8'));
    return map.sources
      .map((source) => posix.join(posix.dirname(file), source))
      .filter((source) => !sources.has(source));
  });
const internal = packed.unspool.files
  .filter((file) => file.endsWith('.d.ts'))
  .filter((file) => readFileSync(join(root, 'packages/unspool', file), 'utf8').includes('@internal'));
say('declarations have no internal members', internal.length === 0, internal.join('\n'));
say('source maps lead to sources', lost.length === 0, lost.join('\n'));
const licences = ['fonts/LICENSE', 'page/licenses.md', 'program/licenses.md'].filter(
  (file) => !packed.cli.files.includes(file),
);
say('licences are packed', licences.length === 0, licences.join('\n'));
for (const [built, source] of [
  ['page', 'apps/workbench'],
  ['program', 'packages/cli'],
]) {
  const notices = readFileSync(join(root, 'packages/cli', built, 'licenses.md'), 'utf8');
  const bundled = await packagesIn(join(root, source));
  const unnoticed = bundled.filter((name) => !notices.includes(`\n## ${name} - `));
  const isFine = unnoticed.length === 0 && bundled.length > 10;
  say(`${built}: a notice for each of ${bundled.length} bundled packages`, isFine, unnoticed.join('\n'));
}

/** The packages of others in what is built of a folder. */
async function packagesIn(folder) {
  const { output } = await build({ root: folder, logLevel: 'error', build: { write: false } });
  const ids = output
    .flatMap(({ modules = {} }) => Object.entries(modules))
    .filter(([, { renderedLength }]) => renderedLength > 0);
  const names = ids.map(([id]) =>
    /.*[/\\]node_modules[/\\]((?:@[^/\\]+[/\\])?[^/\\]+)/.exec(id)?.[1].replace('\\', '/'),
  );
  return [...new Set(names.filter(Boolean))];
}

check(
  'types of the packed library',
  node,
  of('@arethetypeswrong/cli/dist/index.js', library, '--profile', 'esm-only'),
  root,
);

// An empty project with nothing but the tarball. Its dependencies come from this checkout: no network is needed.
const project = join(scratch, 'project');
unpack(library, join(project, 'node_modules', 'unspool'));
cpSync(join(root, 'node_modules', 'valibot'), join(project, 'node_modules', 'valibot'), { recursive: true });
const put = (file, text) => writeFileSync(join(project, file), text);
put('package.json', JSON.stringify({ name: 'empty', private: true, type: 'module' }));
const crab = readFileSync(join(root, 'examples/tidepool/reels/crab.reel.json'), 'utf8');
put('crab.reel.json', crab);
const { compileReel, parseReel } = await import('../packages/unspool/dist/index.js');
put('crab.compiled.json', JSON.stringify(compileReel(parseReel(crab))));

const game = (
  source,
) => `import doc from './crab.${source === 'unspool' ? 'reel' : 'compiled'}.json' with { type: 'json' };
import { ${source === 'unspool' ? 'parseReel' : 'loadReel'} as read, Player } from '${source}';
const claw = { rotation: 0 };
const player = new Player(read(doc), { cast: { claw } });
const heard: string[] = [];
player.on('cue', (cue) => heard.push(cue.name));
player.play('snap');
for (let i = 0; i < 15; i++) player.tick(1 / 60);
if (claw.rotation !== 14 || heard.join() !== 'shut') throw new Error(JSON.stringify({ claw, heard }));
console.log('played');
`;
put('game.ts', game('unspool'));
put('small.ts', game('unspool/play'));
put(
  'casts.ts',
  `import { canvasScene } from 'unspool/cast/canvas';
import { domCast } from 'unspool/cast/dom';
import { matrixScene } from 'unspool/cast/matrix';
import { objects3dCast } from 'unspool/cast/objects3d';
import { pixiCast } from 'unspool/cast/pixi';
console.log([canvasScene, domCast().write, matrixScene, objects3dCast().write, pixiCast().write].every((one) => typeof one === 'function'));
`,
);
put(
  'tools.ts',
  `import { readReel } from 'unspool';
import { advise, edit, type Operation } from 'unspool/edit';
import { adviseShapes } from 'unspool/hit';
import { runScript } from 'unspool/test';
import doc from './crab.reel.json' with { type: 'json' };
const { reel } = readReel(doc);
const move: Operation = { do: 'move-keys', clip: 'snap', tracks: ['claw.rotation'], from: '12f', by: '2f' };
const made = reel && edit(reel.document, move);
if (!made?.ok || advise(made.doc).length + adviseShapes(reel!).length > 0) throw new Error(made?.said);
const lines = runScript(reel!, { for: 1, steps: [{ at: 0, play: 'snap' }] });
if (lines.at(-1)?.event !== 'end') throw new Error(JSON.stringify(lines));
console.log(made.said);
`,
);
// Beside other types: with `isolatedDeclarations` each export says its own.
put(
  'export.ts',
  `import { parseReel, Player, type NamesOf } from 'unspool';
import doc from './crab.reel.json' with { type: 'json' };
export const crab: Player<NamesOf<typeof doc>> = new Player(parseReel(doc));
`,
);
// What an editor offers for a playback is what the docs describe: nothing of how it is played.
put(
  'members.ts',
  `import type { Playback, Layer, Reel, Clip } from 'unspool';
type Inner = 'head' | 'settings' | 'hints' | 'before' | 'base' | 'share' | 'placed' | 'aim' | 'settle' | 'voices' | 'core' | 'facts' | 'curves';
const none: [Extract<keyof Playback, Inner>, Extract<keyof Layer, Inner>, Extract<keyof Reel | keyof Clip, Inner>] extends [never, never, never] ? true : false = true;
export default none;
`,
);
put('wrong.ts', game('unspool').replace("play('snap')", "play('snpa')"));

const options = {
  strict: true,
  target: 'ES2022',
  lib: ['ES2023', 'DOM'],
  types: [],
  resolveJsonModule: true,
  skipLibCheck: false,
};
// `isolatedDeclarations` asks only what is exported; of `wrong.ts` exactly the misspelled clip is refused.
for (const resolution of ['nodenext', 'bundler']) {
  const module = resolution === 'nodenext' ? 'nodenext' : 'esnext';
  const outDir = `out-${resolution}`;
  const declared = { declaration: true, isolatedDeclarations: true };
  const compilerOptions = { ...options, ...declared, module, moduleResolution: resolution, outDir };
  const files = ['game.ts', 'small.ts', 'casts.ts', 'tools.ts', 'members.ts', 'export.ts', 'wrong.ts'];
  put(`tsconfig.${resolution}.json`, JSON.stringify({ compilerOptions, files }));
  const { stdout } = spawnSync(
    node,
    of('typescript/bin/tsc', '-p', `tsconfig.${resolution}.json`, '--pretty', 'false'),
    {
      cwd: project,
      encoding: 'utf8',
    },
  );
  const faults = stdout.split('\n').filter((line) => line.includes('error TS'));
  const wanted = faults.filter((line) => line.startsWith('wrong.ts') && line.includes('"snpa"'));
  say(`TypeScript, ${resolution}`, faults.length === wanted.length, stdout);
  say(`TypeScript, ${resolution}: a misspelled clip does not compile`, wanted.length === 1, stdout);
}
for (const file of ['game.js', 'small.js', 'casts.js', 'tools.js'])
  check(`Node, ${file}`, node, [join('out-nodenext', file)], project);

// What plays compiled clips has no dependency: bundled alone, nothing of another package is in it.
const bundled = async (file) => {
  const { output } = await build({
    ...{ root: project, logLevel: 'error', configFile: false },
    build: {
      write: true,
      outDir: 'bundle',
      minify: false,
      rollupOptions: { input: join(project, file), output: { entryFileNames: '[name].js' } },
    },
  });
  return Object.keys(output[0].modules).filter(
    (id) => id.includes('node_modules') && !id.includes('node_modules/unspool/'),
  );
};
for (const file of ['game.ts', 'small.ts']) {
  const foreign = await bundled(file);
  check(`Vite build of ${file}, run`, node, [join('bundle', file.replace('.ts', '.js'))], project);
  const others = foreign.filter((id) => /@unspool|gltf|css-tree|culori|papaparse|saxes|svgpath|webvtt/.test(id));
  say(`${file} has nothing of the open formats in it`, others.length === 0, others.join('\n'));
  if (file === 'small.ts') say('unspool/play has no dependency', foreign.length === 0, foreign.join('\n'));
}

// The example game, copied out alone.
const copy = packedProject();
for (const name of [
  'src',
  'reels',
  'public',
  'index.html',
  'match.json',
  'package.json',
  'tsconfig.json',
  'vite.config.ts',
])
  cpSync(join(root, 'examples/tidepool', name), join(copy, name), { recursive: true });
check('tidepool alone: types', node, of('typescript/bin/tsc', '-p', '.'), copy);
check('tidepool alone: build', node, of('vite/bin/vite.js', 'build', '--logLevel', 'error'), copy);
rmSync(copy, { recursive: true });

rmSync(scratch, { recursive: true });
process.exit(failed ? 1 : 0);
