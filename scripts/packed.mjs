/** An empty project with both packages as they would be published: packed, and unpacked where npm would put them. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, symlinkSync, writeFileSync } from 'node:fs';
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

/** What both depend on comes from this checkout: no network is needed. */
export function packedProject() {
  const project = mkdtempSync(join(tmpdir(), 'unspool-project-'));
  const modules = join(project, 'node_modules');
  mkdirSync(join(modules, '@unspool'), { recursive: true });
  for (const name of readdirSync(join(root, 'node_modules'))) {
    if (name !== 'unspool' && name !== '@unspool' && !name.startsWith('.'))
      symlinkSync(join(root, 'node_modules', name), join(modules, name), 'junction');
  }
  for (const [name, folder] of [
    ['unspool', 'unspool'],
    ['cli', '@unspool/cli'],
  ])
    unpack(pack(name, project).tarball, join(modules, folder));
  writeFileSync(join(project, 'package.json'), JSON.stringify({ name: 'empty', private: true, type: 'module' }));
  return project;
}
