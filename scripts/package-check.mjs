/**
 * Whether the packages work for those who install them: packed, installed from the tarball into empty projects, and
 * used from Node, from a Vite build, and by TypeScript in both of its modern ways. Needs what `npm run build` makes.
 */
import { spawnSync } from 'node:child_process';
import { cpSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { build } from 'vite';
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

for (const name of ['unspool', 'cli']) {
  const folder = join(root, 'packages', name);
  check(`publint ${name}`, node, of('publint/src/cli.js', folder, '--strict'), root);
  check(`pack ${name}`, 'npm', ['pack', '--pack-destination', scratch, '--loglevel=error'], folder);
}
const tarballs = readdirSync(scratch).filter((name) => name.endsWith('.tgz'));
const library = join(
  scratch,
  tarballs.find((name) => name.startsWith('unspool-0')),
);
check(
  'types of the packed library',
  node,
  of('@arethetypeswrong/cli/dist/index.js', library, '--profile', 'esm-only'),
  root,
);

// An empty project with nothing but the tarball. Its dependencies come from this checkout: no network is needed.
const project = join(scratch, 'project');
mkdirSync(join(project, 'node_modules', 'unspool'), { recursive: true });
check(
  'unpack',
  'tar',
  ['-xzf', library, '--strip-components=1', '-C', join(project, 'node_modules', 'unspool')],
  scratch,
);
for (const name of ['valibot', 'flatbush', 'flatqueue'])
  cpSync(join(root, 'node_modules', name), join(project, 'node_modules', name), { recursive: true });
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
put('pixi.ts', `import { pixiCast } from 'unspool/cast/pixi';\nconsole.log(typeof pixiCast().write);\n`);
put(
  'tools.ts',
  `import { readReel } from 'unspool';
import { advise, edit, type Operation } from 'unspool/edit';
import { adviseShapes } from 'unspool/hit';
import doc from './crab.reel.json' with { type: 'json' };
const { reel } = readReel(doc);
const move: Operation = { do: 'move-keys', clip: 'snap', tracks: ['claw.rotation'], from: '12f', by: '2f' };
const made = reel && edit(reel.document, move);
if (!made?.ok || advise(made.doc).length + adviseShapes(reel!).length > 0) throw new Error(made?.said);
console.log(made.said);
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
for (const resolution of ['nodenext', 'bundler']) {
  const module = resolution === 'nodenext' ? 'nodenext' : 'esnext';
  const compilerOptions = { ...options, module, moduleResolution: resolution, outDir: `out-${resolution}` };
  put(
    `tsconfig.${resolution}.json`,
    JSON.stringify({ compilerOptions, files: ['game.ts', 'small.ts', 'pixi.ts', 'tools.ts'] }),
  );
  put(
    'tsconfig.wrong.json',
    JSON.stringify({ compilerOptions: { ...compilerOptions, noEmit: true }, files: ['wrong.ts'] }),
  );
  check(`TypeScript, ${resolution}`, node, of('typescript/bin/tsc', '-p', `tsconfig.${resolution}.json`), project);
  const { status, stdout } = spawnSync(node, of('typescript/bin/tsc', '-p', 'tsconfig.wrong.json'), {
    cwd: project,
    encoding: 'utf8',
  });
  say(`TypeScript, ${resolution}: a misspelt clip does not compile`, status !== 0 && stdout.includes('"snpa"'), stdout);
}
for (const file of ['game.js', 'small.js', 'pixi.js', 'tools.js'])
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
  if (file === 'small.ts') say('unspool/play has no dependency', foreign.length === 0, foreign.join('\n'));
}

rmSync(scratch, { recursive: true });
process.exit(failed ? 1 : 0);
