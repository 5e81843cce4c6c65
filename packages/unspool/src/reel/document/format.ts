import type { ReelDocument } from './document.js';
import { LIMITS } from './limits.js';
import { utf8Length } from './text.js';

/** Members in the order of the writer; all others follow in the author's order. */
const ORDER = [
  ...[
    '$schema',
    'unspool',
    'clip',
    'input',
    'at',
    'until',
    'name',
    'mode',
    'about',
    'parent',
    'sheet',
    'image',
    'columns',
    'rows',
    'cell',
    'cells',
    'x',
    'y',
    'width',
    'height',
    'origin',
  ],
  ...['on', 'if', 'during', 'rule', 'play', 'face', 'above', 'below', 'equals', 'for', 'share'],
  ...['margin', 'spacing', 'fps', 'duration', 'toward', 'kind', 'keep', 'value', 'frames', 'each', 'ease', 'in', 'out'],
  ...['loop', 'count', 'rate', 'after', 'span', 'cue', 'from', 'until alone', 'fade', 'fadeOut', 'layer', 'free'],
  ...['tag', 'space', 'turn', 'mix', 'accumulate', 'data', 'keys'],
  ...['rest', 'shapes', 'roles', 'sheets', 'clips', 'tracks', 'cues', 'spans', 'parts', 'chains', 'facings'],
  ...['inputs', 'rules', 'routines'],
];
const RANK = new Map(ORDER.map((name, index) => [name, index]));

/** How the value at a place is laid out: over lines with an entry each, or on one. */
type Layout = 'line' | Readonly<Record<string, unknown>> | ((value: object) => Layout);

/** What the members of a map or the items of a list are laid out as. `*` is every name and index. */
const CLIP = {
  tracks: { '*': { keys: { '*': 'line' }, '*': 'line' } },
  cues: { '*': 'line' },
  spans: { '*': 'line' },
  parts: { '*': 'line' },
};
/** A grid has one line, a sheet of free cells one for each of them. */
const SHEET = (value: object): Layout => (Object.hasOwn(value, 'cells') ? { cells: { '*': 'line' } } : 'line');
const REEL = {
  roles: { '*': 'line' },
  sheets: { '*': SHEET },
  clips: { '*': CLIP },
  chains: { '*': 'line' },
  facings: { '*': 'line' },
  routines: { '*': { inputs: { '*': 'line' }, rules: { '*': 'line' } } },
} as const;

/** Maps whose names are the author's, and so stay in the author's order. */
const MAPS = ['roles', 'sheets', 'clips', 'tracks', 'spans', 'chains', 'facings', 'shapes', 'routines', 'inputs', 'if'];

/**
 * How the members of an object are ordered: `fixed` by the table above, `named` (a map) as the author had them, with
 * fixed objects inside; `free` (the author's own data) as the author had everything.
 */
type Order = 'fixed' | 'named' | 'free';

function orderBelow(order: Order, name: string): Order {
  if (order !== 'fixed') return order === 'free' ? 'free' : 'fixed';
  if (name === 'data' || name === 'rest' || name === 'value' || name.startsWith('x-')) return 'free';
  return MAPS.includes(name) ? 'named' : 'fixed';
}

/**
 * Returns the canonical text of a reel. Each key, cue, role, sheet, span, chain, facing, input and
 * rule has one line. Fixed members
 * have a fixed order, names keep the author's order, and times keep their unit. The indent is two spaces, and the text
 * ends with a newline.
 *
 * `formatReel(JSON.parse(text)) === text` for every text that this function has written, and the text can be read
 * whenever its source could be. A reel whose canonical text would exceed `LIMITS.bytes` is written without whitespace.
 * Names that are whole numbers ("12") come first, in ascending order, because JavaScript objects keep no other.
 */
export function formatReel(document: ReelDocument): string {
  const text = `${block(document, REEL, '', 'fixed')}\n`;
  return utf8Length(text) <= LIMITS.bytes ? text : tight(document, 'fixed');
}

/** As short as it can be written. */
function tight(value: unknown, order: Order): string {
  if (typeof value === 'number') return shortest(value);
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  if (Array.isArray(value)) return `[${value.map((item) => tight(item, order)).join()}]`;
  const members = sorted(value, order).map(
    ([name, member]) => `${JSON.stringify(name)}:${tight(member, orderBelow(order, name))}`,
  );
  return `{${members.join()}}`;
}

/** A number in the fewest characters: 1200, 12e5, 0.5, 1e-7. */
function shortest(value: number): string {
  const plain = JSON.stringify(value);
  const [, sign, whole, rest = '', power] = /^(-?)(\d)(?:\.(\d+))?e([+-]\d+)$/.exec(value.toExponential()) ?? [];
  if (whole === undefined) return plain;
  const short = `${sign}${whole}${rest}e${Number(power) - rest.length}`;
  return short.length < plain.length ? short : plain;
}

function block(value: unknown, layout: Layout, indent: string, order: Order): string {
  if (layout === 'line' || typeof value !== 'object' || value === null) return line(value, order);
  if (typeof layout === 'function') return block(value, layout(value), indent, order);
  const inner = `${indent}  `;
  const [open, close, rows] = Array.isArray(value)
    ? ['[', ']', value.map((item) => block(item, layoutBelow(layout, '*'), inner, order))]
    : [
        '{',
        '}',
        sorted(value, order).map(([name, member]) => {
          const text = block(member, layoutBelow(layout, name), inner, orderBelow(order, name));
          return `${JSON.stringify(name)}: ${text}`;
        }),
      ];
  return rows.length === 0 ? open + close : `${open}\n${rows.map((row) => inner + row).join(',\n')}\n${indent}${close}`;
}

/** Members without a layout of their own are on one line. */
function layoutBelow(layout: Readonly<Record<string, unknown>>, name: string): Layout {
  const known = Object.hasOwn(layout, name) ? layout[name] : layout['*'];
  return (known as Layout | undefined) ?? 'line';
}

/** A value on one line: `{ "at": 0, "value": [1, 2] }`. */
function line(value: unknown, order: Order): string {
  if (Array.isArray(value)) return `[${value.map((item) => line(item, order)).join(', ')}]`;
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  const members = sorted(value, order).map(
    ([name, member]) => `${JSON.stringify(name)}: ${line(member, orderBelow(order, name))}`,
  );
  return members.length === 0 ? '{}' : `{ ${members.join(', ')} }`;
}

function sorted(value: object, order: Order): [string, unknown][] {
  const members = Object.entries(value).filter(([, member]) => member !== undefined);
  if (order !== 'fixed') return members;
  // The end of an interval stands beside its start; that of a rule or a condition further behind.
  const isAlone = !Object.hasOwn(value, 'at');
  const rank = (name: string) => RANK.get(name === 'until' && isAlone ? 'until alone' : name) ?? ORDER.length;
  return members.sort(([a], [b]) => rank(a) - rank(b));
}
