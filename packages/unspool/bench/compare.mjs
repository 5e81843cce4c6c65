/**
 * `npm run bench -- PART … --compare REV`: this state of the library against that of another commit. Both are built, and
 * run in turn, each time in a new process, by the benchmarks of this state.
 */
import { execFileSync, spawnSync } from 'node:child_process';
import { cpSync, existsSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { median, spread } from './measure.mjs';

const ROOT = fileURLToPath(new URL('../../..', import.meta.url));
const ROUNDS = 7;

/** A folder with the library as it was at a commit, built. */
function checkOut(rev) {
  const folder = mkdtempSync(join(tmpdir(), 'unspool-compare-'));
  const git = (...args) => execFileSync('git', args, { cwd: ROOT, stdio: ['ignore', 'pipe', 'inherit'] });
  git('worktree', 'add', '--detach', '--force', folder, rev);
  // Packages of others are the same; our own are those of the commit.
  symlinkSync(join(ROOT, 'node_modules'), join(folder, 'node_modules'));
  const library = join(folder, 'packages/unspool');
  execFileSync(process.execPath, [join(ROOT, 'node_modules/typescript/bin/tsc'), '-b', library], { stdio: 'inherit' });
  rmSync(join(library, 'bench'), { recursive: true });
  cpSync(join(ROOT, 'packages/unspool/bench'), join(library, 'bench'), { recursive: true });
  const remove = () => git('worktree', 'remove', '--force', folder);
  return { library, remove };
}

/** The medians of one run: by part, row and contender. */
function run(library, part) {
  const args = ['--expose-gc', join(library, 'bench/index.mjs'), part, '--json', '--quick'];
  const { status, stdout, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8', maxBuffer: 2 ** 26 });
  if (status !== 0) throw new Error(`${part}: ${stderr}`);
  return JSON.parse(stdout)[part];
}

/**
 * Returns a table of how long each contender takes now, as a share of what it took then. Those that are not ours are
 * the same in both: theirs says how far the machine can be trusted.
 */
export function compare(rev, parts) {
  const then = checkOut(rev);
  try {
    const now = join(ROOT, 'packages/unspool');
    if (!existsSync(join(now, 'dist'))) throw new Error('build first: npx tsc -b');
    const lines = parts.flatMap((part) => {
      const rounds = Array.from({ length: ROUNDS }, () => [run(then.library, part), run(now, part)]);
      const rows = Object.keys(rounds[0][1]);
      return rows.flatMap((row) =>
        Object.keys(rounds[0][1][row]).map((who) => {
          const [before, after] = [0, 1].map((which) => rounds.map((pair) => pair[which][row][who]));
          const shares = after.map((time, i) => time / before[i]);
          const name = [part, row, who].filter(Boolean).join(', ');
          return `| ${name} | ${spread(before)} | ${spread(after)} | ${spread(shares)} | ${(median(after) / median(before)).toFixed(2)} |`;
        }),
      );
    });
    return [
      `| | ${rev} | now | now / ${rev}, in turn | of medians |`,
      '| --- | ---: | ---: | ---: | ---: |',
      ...lines,
    ].join('\n');
  } finally {
    then.remove();
  }
}
