import { existsSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
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
      const text = formatReel({ $schema: schemaFor(file === STDIN ? '.' : dirname(file)), ...STARTER });
      if (file === STDIN) {
        process.stdout.write(text);
        return;
      }
      writeNewFile(file, text, { overwrite: force });
      process.stderr.write(`wrote ${file}. Next: unspool show ${file}\n`);
    });
}

/** The JSON Schema of the library that the nearest project has installed, as a path from a folder. */
function schemaFor(folder: string): string {
  const schema = join('node_modules', 'unspool', 'reel.schema.json');
  for (let at = resolve(folder); ; at = dirname(at)) {
    if (existsSync(join(at, schema))) return linkTo(relative(resolve(folder), join(at, schema)));
    if (dirname(at) === at) return linkTo(schema);
  }
}

const linkTo = (path: string) => {
  const link = path.replaceAll('\\', '/');
  return link.startsWith('.') ? link : `./${link}`;
};
