import type { Command } from 'commander';
import { formatReel } from 'unspool';
import { STDIN, writeNewFile } from '../files.js';
import { STARTER } from '../starter.js';

export function addNew(program: Command): void {
  program
    .command('new')
    .description('Writes a small, working reel with explanations to start from.')
    .argument('<file>', 'the new file, such as crab.reel.json; - writes to standard output')
    .option('--force', 'replace an existing file')
    .addHelpText('after', '\nExamples:\n  unspool new crab.reel.json\n  unspool new crab.reel.json --force')
    .action((file: string, { force = false }: { force?: boolean }) => {
      if (file === STDIN) {
        process.stdout.write(formatReel(STARTER));
        return;
      }
      writeNewFile(file, formatReel(STARTER), { overwrite: force });
      process.stderr.write(`wrote ${file}. Next: unspool show ${file}\n`);
    });
}
