import type { Command } from 'commander';
import { CallError } from '../failure.js';
import { STDIN } from '../files.js';
import { schemaFor, starterText, writeGame, writeStarter } from '../starter-files.js';
import { STARTER } from '../starter.js';

export function addNew(program: Command): void {
  program
    .command('new')
    .description('Writes a small, working reel with explanations and pictures to start from, or a game that plays it.')
    .argument('<file>', 'the new file, such as crab.reel.json; - writes to standard output; or the word game')
    .argument('[folder]', 'of a game: the new folder')
    .option('--force', 'replace an existing file')
    .addHelpText(
      'after',
      '\nA game is a small Vite project in TypeScript: npm install, then npm run dev.\n\nExamples:\n  unspool new crab.reel.json\n  unspool new crab.reel.json --force\n  unspool new game rock-pool',
    )
    .action(async (file: string, folder: string | undefined, { force = false }: { force?: boolean }) => {
      if (file === 'game') await newGame(folder);
      else if (folder !== undefined)
        throw new CallError(`${folder} is one name too many`, 'name one file, or write: unspool new game DIR');
      else if (file === STDIN) process.stdout.write(starterText(schemaFor('.'), STARTER.name!));
      else {
        const pictures = await writeStarter(file, force);
        const also = pictures.length > 0 ? `, with ${pictures.join(' and ')}` : '';
        process.stderr.write(`wrote ${file}${also}. Next: unspool edit ${file}, or unspool show ${file}\n`);
      }
    });
}

async function newGame(folder: string | undefined): Promise<void> {
  if (folder === undefined)
    throw new CallError('the folder of the game is missing', 'write: unspool new game rock-pool');
  await writeGame(folder);
  process.stderr.write(`wrote a game into ${folder}. Next: cd ${folder}, npm install, npm run dev\n`);
}
