import type { Command } from 'commander';
import { compileReel } from 'unspool';
import { CallError } from '../failure.js';
import { readReelFile, STDIN, writeNewFile } from '../files.js';

export function addCompile(program: Command): void {
  program
    .command('compile')
    .description('Compiles a reel ahead, for a game that ships neither what parses nor what checks.')
    .argument('<file>', 'a reel; - reads standard input')
    .requiredOption('-o, --out <file>', 'the compiled reel, a .json file; - writes to standard output')
    .addHelpText(
      'after',
      '\nThe game reads it with loadReel of unspool/play, in the same version as this program.\n\nExample:\n  unspool compile crab.reel.json -o crab.compiled.json',
    )
    .action((file: string, { out }: { out: string }) => {
      if (out !== STDIN && (!out.endsWith('.json') || out.endsWith('.reel.json')))
        throw new CallError(`${out} would be no compiled reel`, 'end its name in .json, and not in .reel.json');
      const { reel } = readReelFile(file);
      const text = `${JSON.stringify(compileReel(reel))}\n`;
      if (out === STDIN) process.stdout.write(text);
      else {
        writeNewFile(out, text, { overwrite: true });
        process.stderr.write(`${out}: ${Object.keys(reel.clips).length} clips, ${text.length} bytes\n`);
      }
    });
}
