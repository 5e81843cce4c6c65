import { mustBeClip } from '../expect.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import type { Clip } from '../clip.js';
import type { Fitted } from './evaluate.js';
import { fitClip } from './fit.js';

/** How far a clip is fitted: `fitted` once it is ready. */
interface Preparation {
  fitting?: Generator<undefined, Fitted> | undefined;
  fitted: Fitted | undefined;
}

/** A clip that is prepared, as plain data and lists of numbers, which `postMessage` can send. Its members are internal. */
export interface PreparedClip {
  /** Version of the form. */
  readonly prepared: number;
  /** @internal A digest of what it was prepared from. */
  readonly source: number;
  /** @internal */
  readonly fitted: Fitted;
}

/** The version of the form above, and of what is in it. */
const PREPARED_VERSION = 1;

const preparations = new WeakMap<Clip, Preparation>();

/**
 * Prepares a clip for crowds: fits its curves, which takes a few milliseconds. It can be done in slices: each call
 * continues where the last one stopped.
 *
 * @param isOver called between small steps; when it returns true, the rest is left to the next call. Default: never
 * @returns whether the clip is ready
 */
export function prepareClip(clip: Clip, isOver: () => boolean = () => false): boolean {
  mustBeClip(clip);
  let preparation = preparations.get(clip);
  if (!preparation) {
    const { values, base } = clip.createPose();
    const fitting = fitClip(clip.curves, clip.duration, clip.fps, values, base);
    preparations.set(clip, (preparation = { fitting, fitted: undefined }));
  }
  while (!preparation.fitted) {
    const { value } = preparation.fitting!.next();
    preparation.fitted = value;
    // What it has put together on the way goes.
    if (value) preparation.fitting = undefined;
    else if (isOver()) return false;
  }
  return true;
}

/**
 * Returns a prepared clip as plain data, for `usePrepared`: so that a worker, in which the same reel was loaded, does the
 * preparing. Prepares it now, unless it is ready.
 *
 * @example
 * postMessage(preparedOf(reel.clip('swim'))); // in the worker
 */
export function preparedOf(clip: Clip): PreparedClip {
  prepareClip(clip);
  return { prepared: PREPARED_VERSION, source: sourceOf(clip), fitted: fittedOf(clip)! };
}

/**
 * A clip is ready for crowds with what `preparedOf` has returned, here or in a worker.
 *
 * @throws UnspoolError `clip/prepared` for anything else, and for a clip that is not the same
 * @example
 * worker.onmessage = ({ data }) => usePrepared(reel.clip('swim'), data);
 */
export function usePrepared(clip: Clip, prepared: PreparedClip): void {
  mustBeClip(clip);
  const { prepared: version, fitted } = (prepared as PreparedClip | null | undefined) ?? {};
  if (version !== PREPARED_VERSION || fitted?.channels !== clip.layout.size)
    throw new UnspoolError('clip/prepared', `${show(prepared)} is not a prepared clip`, 'pass what preparedOf() returned'); // prettier-ignore
  if (prepared.source !== sourceOf(clip))
    throw new UnspoolError('clip/prepared', `another clip than ${show(clip.name)} was prepared, or another version of it`, 'load the same reel in the worker'); // prettier-ignore
  preparations.set(clip, { fitted });
}

/** Everything that fitting reads of a clip. */
function numbersOf(clip: Clip): readonly ArrayLike<number>[] {
  const { values, base } = clip.createPose();
  const curves = Object.values(clip.curves) as readonly (ArrayLike<number> | number)[];
  return [[clip.duration, clip.fps], values, base, ...curves.map((list) => (typeof list === 'number' ? [list] : list))];
}

/** A digest of that (FNV-1a, see `digest`, by the words of each number's bits). */
function sourceOf(clip: Clip): number {
  let sum = 0x811c9dc5;
  for (const list of numbersOf(clip)) {
    const words = new Uint32Array(Float64Array.from(list).buffer);
    for (const word of words) sum = Math.imul(sum ^ word, 0x01000193);
  }
  return sum;
}

/** The clip as crowds evaluate it, once it is prepared. */
export function fittedOf(clip: Clip): Fitted | undefined {
  return preparations.get(clip)?.fitted;
}

/** A clip of a changed reel is as far as the one before it, where that moves the same. */
export function handOver(before: Clip, clip: Clip): void {
  const preparation = preparations.get(before);
  if (preparation && movesAlike(before, clip)) preparations.set(clip, preparation);
}

function movesAlike(a: Clip, b: Clip): boolean {
  const other = numbersOf(b);
  return numbersOf(a).every((list, i) => areEqual(list, other[i]!));
}

function areEqual(a: ArrayLike<number>, b: ArrayLike<number>): boolean {
  return a.length === b.length && Array.prototype.every.call(a, (n, i) => Object.is(n, b[i]));
}
