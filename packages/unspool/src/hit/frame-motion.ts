import { rootPlace, type RootPlace } from '../play/pose/place-root.js';

/** The running frame: how long it is, in seconds. */
export interface FrameClock {
  length: number;
}

/** A way that a place goes straight, from the start of a frame to its end. */
export class FrameMotion {
  start: RootPlace;
  /** Where it is at the end of the frame. */
  end: RootPlace;
  #isPut = false;
  #isStill = true;
  readonly #between = [rootPlace(0, 0, 0, 1, 1), rootPlace(0, 0, 0, 1, 1)];

  constructor(
    readonly clock: FrameClock,
    place: RootPlace,
  ) {
    this.start = this.end = place;
  }

  /**
   * A frame begins: on from where the last one ended. What is there for the first time has come from nowhere; what is
   * mirrored anew is not moved through its mirror.
   */
  begin(place: RootPlace): void {
    const turned = !this.#isPut || place[3] * this.end[3] < 0 || place[4] * this.end[4] < 0;
    this.#isPut = true;
    this.start = turned ? place : this.end;
    this.end = place;
    this.#isStill = areEqual(this.start, place);
  }

  /** It is elsewhere at once, and continues from there; without a place it has no previous one. */
  reset(place?: RootPlace): void {
    this.#isPut = place !== undefined;
    if (!place) return;
    this.start = this.end = place;
    this.#isStill = true;
  }

  /**
   * Its place at a time of the frame, in seconds. A move during the frame counts from the next frame on.
   *
   * @param which of two arrays it may be written into: the same is written again the next time
   */
  at(time: number, which = 0): RootPlace {
    const { length } = this.clock;
    if (this.#isStill || !(time < length)) return this.end;
    const share = time / length;
    const { start, end } = this;
    const between = this.#between[which]!;
    for (let k = 0; k < between.length; k++) between[k] = start[k]! + (end[k]! - start[k]!) * share;
    return between;
  }
}

function areEqual(a: RootPlace, b: RootPlace): boolean {
  for (let k = 0; k < a.length; k++) if (a[k] !== b[k]) return false;
  return true;
}
