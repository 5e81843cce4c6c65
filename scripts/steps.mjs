/** What the two commands of the repository share. Only what Node itself has: nothing is installed yet when it runs. */
import { spawn, spawnSync } from 'node:child_process';
import { existsSync, statSync } from 'node:fs';
import { fileURLToPath } from 'node:url';

export const root = fileURLToPath(new URL('..', import.meta.url));

/** Runs a command in the repository; its output goes where this program's goes. Returns its exit code. */
export function run(command, args, options = {}) {
  const { status, error } = spawnSync(command, args, { cwd: root, stdio: 'inherit', ...options });
  if (error) console.error(`${command} could not be run: ${error.message}`);
  return status ?? 1;
}

/** As `run`, but ends this program where the command fails. */
export function must(command, args, options) {
  const code = run(command, args, options);
  if (code !== 0) process.exit(code);
}

/** As `run`, beside others: resolves to the exit code and all that it printed. */
export function quietly(command, args, options = {}) {
  return new Promise((resolve) => {
    const child = spawn(command, args, { cwd: root, stdio: ['ignore', 'pipe', 'pipe'], ...options });
    let printed = '';
    for (const stream of [child.stdout, child.stderr]) stream.on('data', (chunk) => (printed += chunk));
    child.on('error', (error) => resolve({ code: 1, printed: `${command} could not be run: ${error.message}` }));
    child.on('close', (code) => resolve({ code: code ?? 1, printed }));
  });
}

/** A tool that the lockfile installs, as node runs it: no shell, no npx. */
export const tool = (path) => [process.execPath, [`${root}node_modules/${path}`]];

/** Installs the packages of the lockfile, unless what is there is as new as it. */
export function installPackages() {
  const [major, minor] = process.versions.node.split('.').map(Number);
  if (major < 20 || (major === 20 && minor < 19)) {
    console.error(`Node ${process.versions.node} is too old. Install Node 20.19 or newer.`);
    process.exit(1);
  }
  const installed = `${root}node_modules/.package-lock.json`;
  if (existsSync(installed) && statSync(installed).mtimeMs >= statSync(`${root}package-lock.json`).mtimeMs) return;
  console.log('Installing the packages of package-lock.json …');
  const [npm, args, options] = npmCommand('ci', '--no-audit', '--no-fund', '--loglevel=error');
  must(npm, args, options);
}

/** npm, as a program that can be started: on Windows it is a script, which only a shell starts. */
export function npmCommand(...args) {
  const own = process.env.npm_execpath;
  if (own?.endsWith('.js')) return [process.execPath, [own, ...args], {}];
  return process.platform === 'win32' ? ['npm.cmd', args, { shell: true }] : ['npm', args, {}];
}

/**
 * Finds a Chromium for the browser tests: CHROMIUM, else where Linux puts it, else that of Playwright; on Debian as root
 * it is installed. Returns its path, or ends this program with what to do.
 */
export async function findBrowser() {
  // Playwright is there once the packages are installed.
  const { findChromium: found } = await import('./chromium.mjs');
  if (!found() && existsSync('/etc/debian_version') && process.getuid?.() === 0) {
    console.log('Installing Debian’s Chromium for the browser tests …');
    const env = { ...process.env, DEBIAN_FRONTEND: 'noninteractive' };
    run('apt-get', ['update', '-qq'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
    run('apt-get', ['install', '-y', '-qq', 'chromium'], { env, stdio: ['ignore', 'ignore', 'inherit'] });
  }
  const browser = found();
  if (browser) return browser;
  console.error(
    'The browser tests need Chromium. Install it (Debian: `apt-get install chromium`; anywhere: `npx playwright install chromium`), or name one: CHROMIUM=/path/to/chrome npm test',
  );
  process.exit(1);
}
