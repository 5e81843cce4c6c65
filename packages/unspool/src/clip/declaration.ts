import { mustBeReel } from './expect.js';
import type { Kind } from '../value/kind.js';
import type { Clip } from './clip.js';
import type { Reel } from './reel.js';

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

/**
 * The text of a TypeScript declaration for a module of a reel, with its names and the types behind them: a misspelled
 * clip, cue or role does not compile.
 *
 * @param what the value of the module: the `document`, as JSON modules have it, or the `reel`, as `@unspool/vite` makes
 *   of it. Default: `document`
 * @param by   who writes the file, for its first line. Default: `unspool types`
 */
export function declarationOf(reel: Reel, what: 'document' | 'reel' = 'document', by = 'unspool types'): string {
  mustBeReel(reel);
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
    `// Written by \`${by}\` from the reel beside it. Do not edit.`,
    what === 'reel' ? 'interface Names {' : 'declare const reel: {',
    '  readonly unspool: 1;',
    `  readonly roles: {\n${block(roles)}  };`,
    `  readonly clips: {\n${block(clips)}  };`,
    ...sequences,
    '  /** Only for types: not present at run time. */',
    `  readonly types?: {\n    readonly values: {\n${block(values.map((line) => `  ${line}`))}    };\n    readonly hit: ${hit};\n  };`,
    ...(what === 'reel'
      ? ['}', "declare const reel: import('unspool').Reel<import('unspool').NamesOf<Names>>;"]
      : ['};']),
    'export default reel;',
    '',
  ].join('\n');
}
