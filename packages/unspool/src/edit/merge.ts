import { checkOptions } from '../errors/check-options.js';
import { UnspoolError } from '../errors/error.js';
import { isObject } from '../errors/is-object.js';
import { show } from '../errors/show.js';
import { factsOf } from './validate-edit.js';
import { checkReel } from '../reel/check/check.js';
import type { ReelDocument } from '../reel/document/document.js';
import { pointerOf } from '../reel/diagnostics/text-locations.js';
import type { DocumentPath } from '../reel/diagnostics/diagnostic-messages.js';
import { DEFAULT_FPS, parseTime, type Time } from '../time/units.js';
import { changesBetween, isSame } from './patch.js';
import type { Operations } from './operation.js';

/** The result of merging two versions of a reel. */
export interface Merged {
  /** The merged document, without errors. In a conflict it has the preferred side. */
  readonly doc: ReelDocument;
  /**
   * JSON Pointers of conflicts: places that both sides changed differently. `""`: together they would not be a valid
   * reel.
   */
  readonly conflicts: readonly string[];
}

/** Options of `mergeReels`. */
export interface MergeOptions {
  /** Which side wins in a conflict. Default: ours. */
  readonly prefer?: 'ours' | 'theirs';
}

type Members = Readonly<Record<string, unknown>>;
type Timed = Members & { readonly at: Time };

/**
 * Merges two versions of a document: a change that only one side made is kept. Keys, cues and parts are matched by time
 * and name, everything else by member; values, easings and chains are not merged inside.
 *
 * Laws: when one side changed nothing, the result is the other side byte for byte. When the changes do not overlap, the
 * order of the sides does not matter.
 *
 * @param base the common ancestor; all three must be without errors
 * @throws UnspoolError for one with errors, and for unknown options
 */
export function mergeReels(
  base: ReelDocument,
  ours: ReelDocument,
  theirs: ReelDocument,
  options: MergeOptions = {},
): Merged {
  checkOptions(options, ['prefer'], 'mergeReels', 'edit');
  const { prefer = 'ours' } = options;
  if (prefer !== 'ours' && prefer !== 'theirs')
    throw new UnspoolError('edit/options', `prefer is ${show(prefer)}`, 'use "ours" or "theirs"');
  for (const one of [base, ours, theirs]) factsOf(one);
  const conflicts: string[] = [];
  const wins = prefer === 'ours' ? ours : theirs;

  function merge(path: DocumentPath, was: unknown, our: unknown, their: unknown, fps: number): unknown {
    if (isSame(our, their) || isSame(was, their)) return our;
    if (isSame(was, our)) return their;
    if (isPlain(our) && isPlain(their)) return mergeMembers(path, isPlain(was) ? was : {}, our, their, fps);
    if (hasMoments(path) && isTimed(our) && isTimed(their))
      return mergeTimed(path, isTimed(was) ? was : [], our, their, fps);
    conflicts.push(pointerOf(path));
    return prefer === 'ours' ? our : their;
  }

  function mergeMembers(path: DocumentPath, was: Members, our: Members, their: Members, outer: number): Members {
    const fps = [our['fps'], their['fps'], outer].find((one): one is number => typeof one === 'number')!;
    // The order is that of the side that has changed it.
    const [mine, others] = [Object.keys(our), Object.keys(their)];
    const isMoved = (names: readonly string[]) => {
      const before = Object.keys(was).filter((name) => names.includes(name));
      return !isSame(
        before,
        names.filter((name) => before.includes(name)),
      );
    };
    const names = !isMoved(mine) && isMoved(others) ? inOneOrder(others, mine) : inOneOrder(mine, others);
    const merged = names.map((name) => [name, merge([...path, name], was[name], our[name], their[name], fps)] as const);
    return Object.fromEntries(merged.filter(([, value]) => value !== undefined));
  }

  /** Merges items that have a time each; sorted by time, and at equal times in our order. */
  function mergeTimed(path: DocumentPath, was: Timed[], our: Timed[], their: Timed[], fps: number): Timed[] {
    const [mine, others] = [pairs(was, our, fps), pairs(was, their, fps)];
    const merged: Timed[] = [];
    const fromOurs = new Set<Timed>();
    const add = (id: string, before: Timed | undefined, one: Timed | undefined, other: Timed | undefined) => {
      const made = merge([...path, id], before, one, other, fps) as Timed | undefined;
      if (!made) return;
      merged.push(made);
      if (one) fromOurs.add(made);
    };
    for (const one of our) {
      const before = mine.whose.get(one);
      if (before) add(idOf(one, fps), before, one, others.is.get(before));
    }
    for (const before of was)
      if (!mine.is.has(before)) add(idOf(before, fps), before, undefined, others.is.get(before));
    const added = byMoment(
      our.filter((one) => !mine.whose.has(one)),
      fps,
    );
    const addedToo = byMoment(
      their.filter((one) => !others.whose.has(one)),
      fps,
    );
    for (const [id, one] of added) add(id, undefined, one, addedToo.get(id));
    for (const [id, one] of addedToo) if (!added.has(id)) add(id, undefined, undefined, one);
    const kept = isTrack(path) ? withoutClashes(path, merged, fromOurs, fps) : merged;
    return kept.sort((a, b) => secondsOf(a, fps) - secondsOf(b, fps));
  }

  /** Two keys at one moment, one from each side: that of the preferred side is kept. */
  function withoutClashes(
    path: DocumentPath,
    merged: readonly Timed[],
    fromOurs: ReadonlySet<Timed>,
    fps: number,
  ): Timed[] {
    const kept = new Map<string, Timed>();
    for (const one of merged) {
      const id = idOf(one, fps);
      if (kept.has(id)) conflicts.push(pointerOf([...path, id]));
      if (!kept.has(id) || fromOurs.has(one) === (prefer === 'ours')) kept.set(id, one);
    }
    return [...kept.values()];
  }

  const doc = merge([], base, ours, theirs, DEFAULT_FPS) as ReelDocument;
  if (checkReel(doc).some(({ severity }) => severity === 'error')) return { doc: wins, conflicts: [''] };
  return { doc, conflicts };
}

/** Keys, cues and parts are identified by their time. All other lists are ordered by the author and taken whole. */
function hasMoments(path: DocumentPath): boolean {
  return isTrack(path) || (path.length === 3 && path[0] === 'clips' && ['cues', 'parts'].includes(String(path[2])));
}

function isTrack([first, , third, , fifth, ...more]: DocumentPath): boolean {
  const isWhole = fifth === undefined || (fifth === 'keys' && more.length === 0);
  return first === 'clips' && third === 'tracks' && isWhole;
}

const secondsOf = ({ at }: Timed, fps: number) => parseTime(at, fps)!;

/** A time to the nanosecond, and a name. */
function idOf(one: Timed, fps: number): string {
  return `${Math.round(secondsOf(one, fps) * 1e9)} ${nameOf(one)}`;
}

function nameOf(one: Timed): string {
  return typeof one['name'] === 'string' ? one['name'] : typeof one['clip'] === 'string' ? one['clip'] : '';
}

/** What is left of something that was moved: the value of a key, the name of a cue. */
function contentOf(one: Timed): string {
  return nameOf(one) || JSON.stringify(one['value'] ?? one['frames'] ?? null);
}

/**
 * Finds which items of two lists correspond: by time and name, and then, in order, moved ones by their remaining
 * content.
 */
function pairs(was: readonly Timed[], is: readonly Timed[], fps: number) {
  const found = { is: new Map<Timed, Timed>(), whose: new Map<Timed, Timed>() };
  const pair = (before: Timed, one: Timed) => {
    found.is.set(before, one);
    found.whose.set(one, before);
  };
  const now = byMoment(is, fps);
  for (const [id, before] of byMoment(was, fps)) if (now.has(id)) pair(before, now.get(id)!);
  const left = new Map<string, Timed[]>();
  for (const one of is) {
    if (found.whose.has(one)) continue;
    const content = contentOf(one);
    const alike = left.get(content);
    if (alike) alike.push(one);
    else left.set(content, [one]);
  }
  for (const alike of left.values()) alike.reverse();
  for (const before of was) {
    const one = found.is.has(before) ? undefined : left.get(contentOf(before))?.pop();
    if (one) pair(before, one);
  }
  return found;
}

type Moments = Map<string, Timed>;

/** The identity of an item: its time, its name, and its number among those that share both. */
function byMoment(list: readonly Timed[], fps: number): Moments {
  const moments: Moments = new Map();
  const counts = new Map<string, number>();
  for (const one of list) {
    const id = idOf(one, fps);
    const count = counts.get(id) ?? 0;
    counts.set(id, count + 1);
    moments.set(id + '+'.repeat(count), one);
  }
  return moments;
}

/** The first list, with items that only the second has inserted after their predecessor there. */
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
 * Returns the operation that turns one document into another, or `null` when they are equal byte for byte. For steps
 * that are not a single operation, such as an external change.
 */
export function patchBetween(before: ReelDocument, after: ReelDocument, summary: string): Operations['patch'] | null {
  for (const one of [before, after])
    if (!isObject(one))
      throw new UnspoolError('edit/document', `expected a document, found ${show(one)}`, 'pass that of a reel');
  const changes = changesBetween(before, after);
  return changes.length === 0 ? null : { do: 'patch', said: summary, changes };
}
