import type { RootPlace } from '../play/pose/place-root.js';

/** How far the running frame has come. */
export interface FrameClock {
  /** Seconds of the frame that are gone, and of all of it. */
  done: number;
  length: number;
}

/** A way that a place goes straight, from the start of a frame to its end. */
export class FrameMotion {
  #start: RootPlace;
  #end: RootPlace;
  #isPut = false;

  constructor(
    readonly clock: FrameClock,
    place: RootPlace,
  ) {
    this.#start = this.#end = place;
  }

  /**
   * A frame begins: on from where the last one ended. What is there for the first time has come from nowhere; what is
   * mirrored anew is not moved through its mirror.
   */
  begin(place: RootPlace): void {
    const turned = !this.#isPut || place[3] * this.#end[3] < 0 || place[4] * this.#end[4] < 0;
    this.#isPut = true;
    this.#start = turned ? place : this.#end;
    this.#end = place;
  }

  /** It is elsewhere at once, and continues from there; without a place it has no previous one. */
  reset(place?: RootPlace): void {
    this.#isPut = place !== undefined;
    if (place) this.#start = this.#end = place;
  }

  /** Where it is at the end of the frame. */
  get end(): RootPlace {
    return this.#end;
  }

  /** Its place at a time from now. A move during the frame counts from the next frame on. */
  at(after: number): RootPlace {
    const { done, length } = this.clock;
    return between(this.#start, this.#end, length > 0 ? (done + after) / length : 1);
  }
}

function between(a: RootPlace, b: RootPlace, share: number): RootPlace {
  if (share >= 1 || a === b || a.every((n, k) => n === b[k])) return b;
  return a.map((n, k) => n + (b[k]! - n) * share) as unknown as RootPlace;
}
