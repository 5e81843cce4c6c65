/** An empty project with both packages as they would be published: packed, and unpacked where npm would put them. */
import { spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { npmCommand, root } from './steps.mjs';

/**
 * Packs a package of the repository.
 *
 * @returns the path of its tarball, and what npm printed where it failed
 */
export function pack(name, to) {
  const [npm, args, options] = npmCommand('pack', '--pack-destination', to, '--loglevel=error', '--json');
  const made = spawnSync(npm, args, { ...options, cwd: join(root, 'packages', name), encoding: 'utf8' });
  if (made.status !== 0) throw new Error(`${made.stdout}${made.stderr}`);
  const [{ filename, files }] = JSON.parse(made.stdout);
  return { tarball: join(to, filename.replace('@', '').replace('/', '-')), files: files.map(({ path }) => path) };
}

export function unpack(tarball, to) {
  mkdirSync(to, { recursive: true });
  const { status, stderr } = spawnSync('tar', ['-xzf', tarball, '--strip-components=1', '-C', to], {
    encoding: 'utf8',
  });
  if (status !== 0) throw new Error(stderr);
}

/** Links the modules of one folder into another, without the packages of this repository. */
function linkModules(from, to) {
  if (!existsSync(from)) return;
  mkdirSync(to, { recursive: true });
  for (const name of readdirSync(from)) {
    if (name !== 'unspool' && name !== '@unspool' && !name.startsWith('.'))
      symlinkSync(join(from, name), join(to, name), 'junction');
  }
}

/** The dependencies come from this checkout, so that no network is needed. */
export function packedProject() {
  const project = mkdtempSync(join(tmpdir(), 'unspool-project-'));
  const modules = join(project, 'node_modules');
  mkdirSync(join(modules, '@unspool'), { recursive: true });
  linkModules(join(root, 'node_modules'), modules);
  for (const [name, folder] of [
    ['unspool', 'unspool'],
    ['open', '@unspool/open'],
    ['cli', '@unspool/cli'],
    ['vite', '@unspool/vite'],
  ]) {
    unpack(pack(name, project).tarball, join(modules, folder));
    // A dependency whose version differs from the one at the root is in the package's own folder.
    linkModules(join(root, 'packages', name, 'node_modules'), join(modules, folder, 'node_modules'));
  }
  writeFileSync(join(project, 'package.json'), JSON.stringify({ name: 'empty', private: true, type: 'module' }));
  return project;
}
