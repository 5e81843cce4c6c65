import { existsSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import type { Command } from 'commander';
import { formatReel } from 'unspool';
import { STDIN, writeNewFile } from '../files.js';
import { titleOf, writePictures } from '../starter-pictures.js';
import { STARTER } from '../starter.js';

export function addNew(program: Command): void {
  program
    .command('new')
    .description('Writes a small, working reel with explanations and pictures to start from.')
    .argument('<file>', 'the new file, such as crab.reel.json; - writes to standard output')
    .option('--force', 'replace an existing file')
    .addHelpText('after', '\nExamples:\n  unspool new crab.reel.json\n  unspool new crab.reel.json --force')
    .action(async (file: string, { force = false }: { force?: boolean }) => {
      if (file === STDIN) process.stdout.write(starterText('.', STARTER.name!));
      else {
        const pictures = await writeStarter(file, force);
        const also = pictures.length > 0 ? `, with ${pictures.join(' and ')}` : '';
        process.stderr.write(`wrote ${file}${also}. Next: unspool edit ${file}, or unspool show ${file}\n`);
      }
    });
}

const starterText = (folder: string, name: string) => formatReel({ $schema: schemaFor(folder), ...STARTER, name });

/**
 * Writes the reel to start from, and its pictures beside it where there are none of their names.
 *
 * @returns the names of the pictures that were written
 */
export async function writeStarter(file: string, force: boolean): Promise<readonly string[]> {
  writeNewFile(file, starterText(dirname(file), titleOf(file)), { overwrite: force });
  return writePictures(dirname(file));
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
