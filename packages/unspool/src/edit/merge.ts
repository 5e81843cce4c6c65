import { checkReel } from '../reel/check.js';
import type { ReelDocument } from '../reel/document.js';
import { pointerOf } from '../reel/outline.js';
import type { Path } from '../reel/problems.js';
import { DEFAULT_FPS, parseTime, type Time } from '../time/units.js';
import { changesBetween, isSame } from './patch.js';
import type { Operations } from './operation.js';

/** What two people made of one reel, put together. */
export interface Merged {
  /** Without errors. Where both changed one thing, as the side that was preferred has it. */
  readonly doc: ReelDocument;
  /** Where both changed one thing, each in its own way: JSON Pointers. `""`: together they would be no valid reel. */
  readonly conflicts: readonly string[];
}

export interface MergeOptions {
  /** Whose word counts where both changed one thing. Left out: ours. */
  readonly prefer?: 'ours' | 'theirs';
}

type Members = Readonly<Record<string, unknown>>;
type Timed = Members & { readonly at: Time };

/**
 * Puts together what two sides made of one document: what only one of them changed is as that one has it. Keys, cues and
 * parts are told apart by their times and names, all else by its members; values, easings and chains are taken whole.
 *
 * Laws: where one side changed nothing, the other's bytes come out; where neither side's changes touch what the other
 * changed, it does not matter which is ours.
 *
 * @param base   what both began with; all three without errors
 */
export function mergeReels(
  base: ReelDocument,
  ours: ReelDocument,
  theirs: ReelDocument,
  { prefer = 'ours' }: MergeOptions = {},
): Merged {
  const conflicts: string[] = [];
  const wins = prefer === 'ours' ? ours : theirs;

  function merge(path: Path, was: unknown, our: unknown, their: unknown, fps: number): unknown {
    if (isSame(our, their) || isSame(was, their)) return our;
    if (isSame(was, our)) return their;
    if (isPlain(our) && isPlain(their)) return mergeMembers(path, isPlain(was) ? was : {}, our, their, fps);
    if (isTimed(our) && isTimed(their)) return mergeTimed(path, isTimed(was) ? was : [], our, their, fps);
    conflicts.push(pointerOf(path));
    return prefer === 'ours' ? our : their;
  }

  function mergeMembers(path: Path, was: Members, our: Members, their: Members, outer: number): Members {
    const fps = [our['fps'], their['fps'], outer].find((one): one is number => typeof one === 'number')!;
    const names = inOneOrder(Object.keys(our), Object.keys(their));
    const merged = names.map((name) => [name, merge([...path, name], was[name], our[name], their[name], fps)] as const);
    return Object.fromEntries(merged.filter(([, value]) => value !== undefined));
  }

  /** Of things that have a time each; in order of time, those at one moment as ours stand. */
  function mergeTimed(path: Path, was: Timed[], our: Timed[], their: Timed[], fps: number): Timed[] {
    const [before, mine, others] = [was, our, their].map((list) => byMoment(list, fps)) as [Moments, Moments, Moments];
    const ids = [...mine.keys(), ...[...others.keys()].filter((id) => !mine.has(id))];
    const merged = ids.map((id) => merge([...path, id], before.get(id), mine.get(id), others.get(id), fps));
    return (merged as (Timed | undefined)[])
      .filter((one) => one !== undefined)
      .sort((a, b) => parseTime(a.at, fps)! - parseTime(b.at, fps)!);
  }

  const doc = merge([], base, ours, theirs, DEFAULT_FPS) as ReelDocument;
  if (checkReel(doc).some(({ severity }) => severity === 'error')) return { doc: wins, conflicts: [''] };
  return { doc, conflicts };
}

type Moments = Map<string, Timed>;

/** By what tells them apart: a time to the nanosecond, a name, and which of those that share both. */
function byMoment(list: readonly Timed[], fps: number): Moments {
  const moments: Moments = new Map();
  for (const one of list) {
    const nanoseconds = Math.round(parseTime(one.at, fps)! * 1e9);
    const name = typeof one['name'] === 'string' ? one['name'] : typeof one['clip'] === 'string' ? one['clip'] : '';
    let id = `${nanoseconds} ${name}`;
    while (moments.has(id)) id += '+';
    moments.set(id, one);
  }
  return moments;
}

/** The first list, with what only the second has put in behind what stands before it there. */
function inOneOrder(ours: readonly string[], theirs: readonly string[]): string[] {
  const names = [...ours];
  theirs.forEach((name, i) => {
    if (names.includes(name)) return;
    const before = theirs[i - 1];
    names.splice(before === undefined ? 0 : names.indexOf(before) + 1, 0, name);
  });
  return names;
}

function isPlain(value: unknown): value is Members {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function isTimed(value: unknown): value is Timed[] {
  return Array.isArray(value) && value.every((one) => isPlain(one) && 'at' in one);
}

/**
 * The operation that makes one document of another; nothing where they have the same bytes. For steps that are no single
 * operation: what came from outside, what was undone elsewhere.
 */
export function patchBetween(before: ReelDocument, after: ReelDocument, said: string): Operations['patch'] | null {
  const changes = changesBetween(before, after);
  return changes.length === 0 ? null : { do: 'patch', said, changes };
}
