import { pointerOf } from '../diagnostics/text-locations.js';
import type { DocumentPath } from '../diagnostics/diagnostic-messages.js';

/** Members without which their owner is useless: it is removed with them. */
const REQUIRED = [
  ...['at', 'value', 'frames', 'each', 'name', 'clip', 'toward', 'mirror', 'mode'],
  ...['image', 'columns', 'rows', 'cell', 'kind', 'keys', 'clips', 'rules', 'rule', 'input'],
];
/** Lists of a fixed length: an item cannot go alone. */
const TUPLES = ['frames', 'cell', 'toward'];

/**
 * A copy of a document without the unusable thing at each path: the member itself, or the smallest thing around it
 * that can be left out (a key without a time, a cue without a name). Everything else stays, so that it is still
 * checked.
 */
export function without(document: object, paths: readonly DocumentPath[]): object {
  const copy = clone(document, new Set(paths.map(pointerOf)), []) as object;
  const gaps = new Set<unknown[]>();
  for (const path of paths) {
    let depth = path.length - 1;
    while (depth > 0 && !canGo(path, depth)) depth--;
    const owner = path.slice(0, depth).reduce<unknown>((value, step) => (value as Steps | undefined)?.[step], copy);
    const step = path[depth]!;
    if (Array.isArray(owner)) {
      owner[step as number] = GONE;
      gaps.add(owner);
    } else if (typeof owner === 'object' && owner !== null) delete (owner as Steps)[step];
  }
  for (const list of gaps) list.splice(0, list.length, ...list.filter((item) => item !== GONE));
  return copy;
}

type Steps = Record<string | number, unknown>;

const GONE = Symbol('gone');

function canGo(path: DocumentPath, depth: number): boolean {
  const step = path[depth]!;
  // A key without a time is still checked for other problems.
  const isKey = path[0] === 'clips' && path[2] === 'tracks' && depth > 4;
  if (typeof step === 'string') return (isKey && step === 'at') || !REQUIRED.includes(step);
  return !TUPLES.includes(String(path[depth - 1])) && path[depth - 2] !== 'spans';
}

/** Refused data was not inspected: it may be circular. */
function clone(value: unknown, refused: ReadonlySet<string>, path: DocumentPath): unknown {
  if (typeof value !== 'object' || value === null) return value;
  const member = (step: string | number, one: unknown): unknown => {
    const here = [...path, step];
    return refused.has(pointerOf(here)) ? undefined : clone(one, refused, here);
  };
  if (Array.isArray(value)) return value.map((item, index) => member(index, item));
  return Object.fromEntries(Object.entries(value).map(([name, one]) => [name, member(name, one)]));
}
