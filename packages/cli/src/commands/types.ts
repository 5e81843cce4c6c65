import type { Command } from 'commander';
import type { Clip, Kind, Reel } from 'unspool';
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

const block = (lines: readonly string[]) => lines.map((line) => `    ${line}\n`).join('');
const member = (name: string, type: string) => `readonly ${JSON.stringify(name)}: ${type};`;
const unionOf = (types: readonly string[]) => [...new Set(types)].sort().join(' | ') || 'never';

/** The type of some JSON: of lists the items together, of objects each member. */
function dataType(data: unknown): string {
  if (Array.isArray(data)) return `readonly (${unionOf(data.map(dataType))})[]`;
  if (data === null) return 'null';
  if (typeof data !== 'object') return typeof data;
  return `{ ${Object.entries(data)
    .map(([name, value]) => member(name, dataType(value)))
    .join(' ')} }`;
}

function cueType({ name, data }: Clip['cues'][number]): string {
  const own = data === undefined ? '' : ` readonly data: ${dataType(data)};`;
  return `{ readonly name: ${JSON.stringify(name)};${own} }`;
}

/** The type of a value of a kind, as `KindValues` of the library has it. */
const valueType = (kind: Kind) => `import('unspool').KindValues['${kind}']`;

/** The declaration of a JSON module with the names of a reel and the types behind them. */
export function declarationOf(reel: Reel): string {
  const roles = reel.roles.map((role) => member(role, 'object'));
  const clips = Object.values<Clip>(reel.clips).map((clip) => {
    const cues = unionOf(clip.cues.map(cueType));
    const spans = Object.keys(clip.spans).map((name) => member(name, 'object'));
    const own = spans.length > 0 ? ` readonly spans: { ${spans.join(' ')} };` : '';
    return member(clip.name, `{ readonly cues: readonly (${cues})[];${own} }`);
  });
  const sequences = (['chains', 'facings'] as const).flatMap((what) => {
    const names = Object.keys(reel.document[what] ?? {});
    return names.length === 0
      ? []
      : [`  readonly ${what}: {\n${block(names.map((name) => member(name, 'object')))}  };`];
  });
  const routines = Object.entries(reel.document.routines ?? {}).map(([name, { inputs = {}, rules }]) => {
    const kinds = Object.entries(inputs).map(([input, { kind }]) => member(input, `{ readonly kind: '${kind}' }`));
    const names = unionOf(rules.map((rule) => `{ readonly name: ${JSON.stringify(rule.name)} }`));
    return member(name, `{ readonly inputs: { ${kinds.join(' ')} }; readonly rules: readonly (${names})[]; }`);
  });
  if (routines.length > 0) sequences.push(`  readonly routines: {\n${block(routines)}  };`);
  const values = reel.layout.slots.map(({ name, kind }) => member(name, valueType(kind)));
  const shapes = Object.values(reel.shapes).map(({ data }) => data);
  const keys = Object.values<Clip>(reel.clips).flatMap((clip) => clip.activations.map(({ data }) => data));
  const hit = unionOf([...shapes, ...keys].filter((data) => data !== undefined).map(dataType));
  return [
    '// Written by `unspool types` from the reel beside it. Do not edit.',
    'declare const reel: {',
    '  readonly unspool: 1;',
    `  readonly roles: {\n${block(roles)}  };`,
    `  readonly clips: {\n${block(clips)}  };`,
    ...sequences,
    '  /** Only for types: not present at run time. */',
    `  readonly types?: {\n    readonly values: {\n${block(values.map((line) => `  ${line}`))}    };\n    readonly hit: ${hit};\n  };`,
    '};',
    'export default reel;',
    '',
  ].join('\n');
}
