import type { Command } from 'commander';
import type { Clip, Reel } from 'unspool';
import { CallError } from '../failure.js';
import { readReelFile, writeNewFile } from '../files.js';

export function addTypes(program: Command): void {
  program
    .command('types')
    .description('Writes the names of a reel as TypeScript, so that a misspelled clip, role or cue does not compile.')
    .argument('<file...>', 'reels that your program imports as JSON modules')
    .addHelpText(
      'after',
      '\nWrites crab.reel.d.json.ts next to crab.reel.json; TypeScript uses it for the module. Set\n"allowArbitraryExtensions". Clips and roles are typed without it; cue names are not.\n\nExamples:\n  unspool types reels/*.reel.json\n  unspool types crab.reel.json urchin.reel.json',
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

/** The declaration of a JSON module that says a reel's names, and leaves the rest to the library. */
export function declarationOf(reel: Reel): string {
  const block = (lines: readonly string[]) => lines.map((line) => `    ${line}\n`).join('');
  const member = (name: string, type: string) => `readonly ${JSON.stringify(name)}: ${type};`;
  const roles = reel.roles.map((role) => member(role, 'object'));
  const clips = Object.values<Clip>(reel.clips).map((clip) => {
    const cues = [...new Set(clip.cues.map((cue) => JSON.stringify(cue.name)))].join(' | ');
    const spans = Object.keys(clip.spans).map((name) => member(name, 'object'));
    const own = spans.length > 0 ? `; readonly spans: { ${spans.join(' ')} }` : '';
    const names = `readonly cues: readonly { readonly name: ${cues || 'never'} }[]${own}`;
    return member(clip.name, `{ ${names} }`);
  });
  const sequences = (['chains', 'facings'] as const).flatMap((what) => {
    const names = Object.keys(reel.document[what] ?? {});
    return names.length === 0
      ? []
      : [`  readonly ${what}: {\n${block(names.map((name) => member(name, 'object')))}  };`];
  });
  return [
    '// Written by `unspool types` from the reel beside it. Do not edit.',
    'declare const reel: {',
    '  readonly unspool: 1;',
    `  readonly roles: {\n${block(roles)}  };`,
    `  readonly clips: {\n${block(clips)}  };`,
    ...sequences,
    '};',
    'export default reel;',
    '',
  ].join('\n');
}
