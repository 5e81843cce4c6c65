import type { Command } from 'commander';
import { declarationOf } from 'unspool';
import { CallError } from '../failure.js';
import { readReelFile, writeNewFile } from '../files.js';

export function addTypes(program: Command): void {
  program
    .command('types')
    .description(
      'Writes the names and types of a reel as TypeScript, so that a misspelled clip, role or cue does not compile.',
    )
    .argument('<file...>', 'reels that your program imports as JSON modules')
    .addHelpText(
      'after',
      '\nWrites crab.reel.d.json.ts next to crab.reel.json; TypeScript uses it for the module. Set\n"allowArbitraryExtensions". It gives the names of cues and\nspans, and the types of their data and of the values of a pose; clips and roles are typed without it.\n\nExamples:\n  unspool types reels/*.reel.json\n  unspool types crab.reel.json urchin.reel.json',
    )
    .action((files: string[]) => {
      for (const file of files) {
        if (!file.endsWith('.json'))
          throw new CallError(`${file} does not end in .json`, 'name a file such as crab.reel.json');
        const { reel } = readReelFile(file);
        const out = file.replace(/\.json$/, '.d.json.ts');
        writeNewFile(out, declarationOf(reel), { overwrite: true });
        process.stderr.write(`${out}: ${Object.keys(reel.clips).length} clips\n`);
      }
    });
}
