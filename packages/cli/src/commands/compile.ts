import type { Command } from 'commander';
import { compileReel } from 'unspool';
import { CallError } from '../failure.js';
import { readReelFile, STDIN, writeNewFile } from '../files.js';

export function addCompile(program: Command): void {
  program
    .command('compile')
    .description('Compiles a reel ahead of time, so that the game ships without the parser.')
    .argument('<file>', 'a reel; - reads standard input')
    .requiredOption('-o, --out <file>', 'the compiled reel (.json); - writes to standard output')
    .addHelpText(
      'after',
      '\nLoad it with loadReel() from unspool/play of the same version.\n\nExamples:\n  unspool compile crab.reel.json -o crab.compiled.json\n  unspool compile - -o - < crab.reel.json > crab.compiled.json',
    )
    .action((file: string, { out }: { out: string }) => {
      if (out !== STDIN && (!out.endsWith('.json') || out.endsWith('.reel.json')))
        throw new CallError(
          `${out} is not a valid name for a compiled reel`,
          'use a name that ends in .json but not in .reel.json',
        );
      const { reel } = readReelFile(file);
      const text = `${JSON.stringify(compileReel(reel))}\n`;
      if (out === STDIN) process.stdout.write(text);
      else {
        writeNewFile(out, text, { overwrite: true });
        process.stderr.write(`${out}: ${Object.keys(reel.clips).length} clips, ${text.length} bytes\n`);
      }
    });
}
