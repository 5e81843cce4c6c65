import type { Clip } from './clip.js';
import { fitClip } from './fit.js';
import type { Fitted } from './fitted.js';

/** Clips that are ready, and those whose fitting has begun. */
const ready = new WeakMap<Clip, Fitted>();
const begun = new WeakMap<Clip, Generator<undefined, Fitted>>();

/**
 * Prepares a clip for crowds: fits its curves, which takes a few milliseconds. It can be done in slices: each call
 * continues where the last one stopped.
 *
 * @param isOver called between segments; when it returns true, the rest is left to the next call. Default: never
 * @returns whether the clip is ready
 */
export function prepareClip(clip: Clip, isOver: () => boolean = () => false): boolean {
  if (ready.has(clip)) return true;
  let fitting = begun.get(clip);
  if (!fitting) {
    const { values, base } = clip.createPose();
    begun.set(clip, (fitting = fitClip(clip.curves, clip.duration, values, base)));
  }
  for (;;) {
    const { done, value } = fitting.next();
    if (done) {
      ready.set(clip, value);
      begun.delete(clip);
      return true;
    }
    if (isOver()) return false;
  }
}

/** The clip as crowds evaluate it, once it is prepared. */
export function fittedOf(clip: Clip): Fitted | undefined {
  return ready.get(clip);
}
