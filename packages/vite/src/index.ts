/**
 * `@unspool/vite`: reels as modules of a Vite game. `import crab from './crab.reel.json'` is a reel.
 * @module
 */
import { existsSync, realpathSync } from 'node:fs';
import { readFile } from 'node:fs/promises';
import { relative } from 'node:path';
import { normalizePath, type Plugin, type ResolvedConfig, type ViteDevServer } from 'vite';
import { compileReel, readReel, suggest, UnspoolError } from 'unspool';
import { codeOf, STEP } from './code.js';
import { writeDeclaration } from './declarations.js';
import { read, type Problem } from './problems.js';
import { reelsBelow } from './reels-below.js';
import { resolvedFrom } from './resolved.js';
import { startWorkbench } from './workbench.js';

/** Options of the plugin. */
export interface UnspoolOptions {
  /** Whether a declaration is kept beside each reel below the root (`crab.reel.d.json.ts`). Default: true. */
  readonly types?: boolean;
  /** Whether the development server starts the workbench on all reels below the root, with `@unspool/cli`. Default: false. */
  readonly workbench?: boolean;
}

/** What the development server answers with the address of the workbench. */
const LIVE_PATH = '/@unspool/live';

/** A module of a reel has an id of its own, because modules that end in `.json` are taken for JSON. */
const MODULE = '.js';
/** Modules have the path that links lead to. */
const idOf = (file: string) => normalizePath(existsSync(file) ? realpathSync(file) : file) + MODULE;
const DEFAULTS = { types: true, workbench: false };

/** The options with their defaults; throws for what they cannot be. */
function checked(options: unknown): typeof DEFAULTS {
  if (typeof options !== 'object' || options === null || Array.isArray(options))
    throw new UnspoolError('vite/options', 'unspool expects an object as options', 'pass an object such as {}');
  for (const [name, value] of Object.entries(options)) {
    if (!Object.hasOwn(DEFAULTS, name))
      throw new UnspoolError(
        'vite/options',
        `unknown option ${JSON.stringify(name)} of unspool`,
        suggest(name, Object.keys(DEFAULTS)),
      );
    if (value !== undefined && typeof value !== 'boolean')
      throw new UnspoolError('vite/options', `${name} is not true or false`, 'use true or false');
  }
  const { types, workbench } = options as UnspoolOptions;
  return { types: types ?? DEFAULTS.types, workbench: workbench ?? DEFAULTS.workbench };
}

const isReel = (id: string) => id.endsWith('.reel.json');

/**
 * Makes modules of reels: typed; checked on every save, with the place of each mistake in the terminal and in the page;
 * adopted by the running game (see `hotReel` of `unspool/live`); compiled ahead, so that a build has neither parser nor
 * checker. The images that sheets name are assets: `reel.sheetOf(role).image` is their address.
 *
 * @throws UnspoolError `vite/options` for unknown options, and for values that are not true or false
 * @example
 * // vite.config.ts; and "allowArbitraryExtensions" in tsconfig.json
 * export default defineConfig({ plugins: [unspool({ workbench: true })] });
 */
export function unspool(options: UnspoolOptions = {}): Plugin {
  const { types, workbench } = checked(options);
  let config: ResolvedConfig;
  let server: ViteDevServer | undefined;
  let live: string | undefined;
  const nameOf = (file: string) => normalizePath(relative(config.root, file));
  return {
    name: 'unspool',
    enforce: 'pre',

    config({ root = process.cwd() }) {
      // Prepared with the rest at the start: found late, they would reload the page. Not where the library is linked.
      const include = resolvedFrom(root, 'unspool/play')?.includes('node_modules')
        ? ['unspool', 'unspool/play', 'unspool/live']
        : [];
      return { optimizeDeps: { include } };
    },

    configResolved(resolved) {
      config = resolved;
    },

    async buildStart() {
      if (!types) return;
      for (const file of reelsBelow(config.root)) {
        const { reel } = read(await readFile(file, 'utf8'), nameOf(file));
        // Errors are reported when a module imports it.
        if (reel) await writeDeclaration(file, reel);
      }
    },

    configureServer(started) {
      server = started;
      if (!workbench) return;
      startWorkbench(started, reelsBelow(config.root), {
        onStep(file, document) {
          const { reel } = readReel(document);
          if (reel) started.environments.client.hot.send(STEP, { id: idOf(file), packed: compileReel(reel) });
        },
        onLive: (address) => (live = address),
      });
      started.middlewares.use((request, response, next) => {
        if (request.url !== LIVE_PATH && request.url !== config.base + LIVE_PATH.slice(1)) return next();
        // Only what this server serves may know it.
        const isOwn = ['same-origin', undefined].includes(request.headers['sec-fetch-site']);
        // Nothing while the workbench is not there yet: no fault, which the page's console would report.
        response.writeHead(isOwn ? 200 : 403, {
          'content-type': 'text/plain',
          'cache-control': 'no-store',
          'cross-origin-resource-policy': 'same-origin',
        });
        response.end(isOwn ? (live ?? '') : '');
      });
    },

    /** Where `link` of `unspool/live` asks for the workbench. */
    transformIndexHtml() {
      if (!server || !workbench) return undefined;
      const content = config.base + LIVE_PATH.slice(1);
      return [{ tag: 'meta', attrs: { name: 'unspool-live', content }, injectTo: 'head' as const }];
    },

    async resolveId(source, importer, options) {
      if (source === 'unspool/live') {
        // A build links nothing, and a development server does, whatever NODE_ENV says.
        const found = await this.resolve(source, importer, { ...options, skipSelf: true });
        const file = config.command === 'build' ? 'production$1' : 'index$1';
        return found && { ...found, id: found.id.replace(/\b(?:index|production)(\.[jt]s)$/, file) };
      }
      const asked = source.endsWith(`.reel.json${MODULE}`) ? source.slice(0, -MODULE.length) : source;
      if (!isReel(asked)) return null;
      const found = await this.resolve(asked, importer, { ...options, skipSelf: true });
      return found && !found.external && isReel(found.id) ? found.id + MODULE : found;
    },

    async load(id) {
      if (!id.endsWith(`.reel.json${MODULE}`)) return null;
      const file = id.slice(0, -MODULE.length);
      this.addWatchFile(file);
      const { reel, warnings, problem } = read(await readFile(file, 'utf8'), nameOf(file));
      for (const warning of warnings) this.warn(warning);
      if (!reel) return this.error({ ...overlay(problem!, file) });
      if (types) await writeDeclaration(file, reel);
      const code = codeOf(reel, file, config.command === 'serve' ? id : undefined, config.publicDir, (image) => {
        this.warn(`${nameOf(file)}: the image ${JSON.stringify(image)} of a sheet is not there`);
      });
      return { code, map: null };
    },

    /** A reel with errors does not replace the one that the game plays. */
    async hotUpdate({ file, read: readText, type }) {
      const { moduleGraph, hot, config } = this.environment;
      const module = isReel(file) ? moduleGraph.getModuleById(idOf(file)) : undefined;
      if (!module || type === 'delete') return undefined;
      const text = await readText();
      lookAgain(file, text, server);
      const { problem } = read(text, nameOf(file));
      if (!problem) return [module];
      config.logger.error(`${problem.message}\n${problem.frame}`, { timestamp: true });
      hot.send({ type: 'error', err: overlay(problem, file) });
      return [];
    },
  };
}

/** How long (ms) after a change a file is looked at once more. */
const LOOK_AGAIN = 250;

/** A watcher may pass over what is written right after a change: the last one counts. */
function lookAgain(file: string, text: string, server: ViteDevServer | undefined): void {
  setTimeout(() => {
    void readFile(file, 'utf8').then(
      (now) => now !== text && server?.watcher.emit('change', file),
      () => undefined,
    );
  }, LOOK_AGAIN).unref();
}

const overlay = ({ message, loc, frame }: Problem, file: string) => {
  return { message, stack: '', id: file, plugin: 'unspool', frame, ...(loc && { loc: { ...loc, file } }) };
};
