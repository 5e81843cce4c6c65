import type { Clip } from '../../clip/clip.js';
import type { ResolvedCue } from '../../reel/resolve/cue.js';

/** What a cue does at a moment: a point fires, an interval starts or ends. */
export type CueMomentType = 'cue' | 'cue-start' | 'cue-end';

export interface CueMoment {
  readonly type: CueMomentType;
  readonly cue: ResolvedCue;
}

/**
 * The moments of a clip: at which times inside it something happens, and what, for a playhead that comes from below
 * or from above.
 *
 * | playhead arrives at t | in this order, each as written |
 * |---|---|
 * | moving forward | intervals with `at` t start, points at t fire, intervals with `until` t end |
 * | moving backward | intervals with `until` t start, points at t fire, intervals with `at` t end |
 * | turning at t (ping-pong) | points at t fire: no interval is left there, and none is entered |
 * | beginning or wrapping to t | intervals start that it will be inside of, points at t fire |
 */
export class CueTimeline {
  /** Times inside the clip at which something happens, ascending. */
  readonly stops: Float64Array;
  readonly #cues: readonly ResolvedCue[];
  readonly #duration: number;
  #atStart: readonly CueMoment[] | undefined;
  #atEnd: readonly CueMoment[] | undefined;
  readonly #forward = new Map<number, readonly CueMoment[]>();
  readonly #backward = new Map<number, readonly CueMoment[]>();

  /** @param hasSpans whether the edges of spans are moments too, at which nothing fires */
  constructor(clip: Clip, hasSpans: boolean) {
    const { duration } = clip;
    this.#duration = duration;
    // An interval that begins where the clip ends can never be inside it.
    this.#cues = clip.cues.filter(({ at, until }) => (until === undefined ? at <= duration : at < duration));
    const edges = hasSpans ? Object.values(clip.spans).flat() : [];
    const times = [...this.#cues.flatMap(({ at, until = at }) => [at, until]), ...edges].filter(
      (time) => time <= duration,
    );
    this.stops = Float64Array.from(new Set(times)).sort();
    for (const time of this.stops) {
      this.#forward.set(time, this.#arrivals(time, 1));
      this.#backward.set(time, this.#arrivals(time, -1));
    }
  }

  #arrivals(time: number, direction: number): CueMoment[] {
    const intervals = this.#cues.filter(({ until }) => until !== undefined);
    const entered = intervals.filter(({ at, until }) => (direction > 0 ? at : until) === time);
    const left = intervals.filter(({ at, until }) => (direction > 0 ? until : at) === time);
    return [
      ...entered.map((cue) => ({ type: 'cue-start', cue }) as const),
      ...this.#pointsAt(time),
      ...left.map((cue) => ({ type: 'cue-end', cue }) as const),
    ];
  }

  /** What happens when the playhead arrives at a time. */
  arriving(time: number, direction: number): readonly CueMoment[] {
    return (direction > 0 ? this.#forward : this.#backward).get(time) ?? NOTHING;
  }

  /** What happens when the playhead appears at a time, to move on in a direction. */
  beginning(time: number, direction: number): readonly CueMoment[] {
    if (this.#cues.length === 0) return NOTHING;
    // At every wrap it appears at one end or the other.
    if (time === 0 && direction > 0) return (this.#atStart ??= this.#appearing(0, 1));
    if (time === this.#duration && direction < 0) return (this.#atEnd ??= this.#appearing(time, -1));
    return this.#appearing(time, direction);
  }

  #appearing(time: number, direction: number): readonly CueMoment[] {
    const inside = this.#cues.filter(({ at, until }) => {
      if (until === undefined) return false;
      return direction > 0 ? at <= time && time < until : at < time && time <= until;
    });
    return [...inside.map((cue) => ({ type: 'cue-start', cue }) as const), ...this.#pointsAt(time)];
  }

  #pointsAt(time: number): CueMoment[] {
    return this.#cues
      .filter(({ at, until }) => until === undefined && at === time)
      .map((cue) => ({ type: 'cue', cue }) as const);
  }

  /** Counts the cues in a range of the clip; an interval counts once. */
  countIn(low: number, high: number): number {
    return this.#cues.filter(({ at, until = at }) => until >= low && at <= high).length;
  }

  /** The next time beyond `time` in a direction at which something happens; `limit` when there is none before it. */
  next(time: number, direction: number, limit: number): number {
    const { stops } = this;
    let low = 0;
    let high = stops.length;
    // Forward: the first stop > time. Backward: the last stop < time.
    while (low < high) {
      const middle = (low + high) >> 1;
      if (direction > 0 ? stops[middle]! <= time : stops[middle]! < time) low = middle + 1;
      else high = middle;
    }
    const stop = stops[direction > 0 ? low : low - 1];
    if (stop === undefined) return limit;
    return direction > 0 ? Math.min(stop, limit) : Math.max(stop, limit);
  }
}

/**
 * Returns whether a moment applies to a playhead that arrives at it. At the end of an iteration no interval starts;
 * where it turns around, none ends either.
 */
export function happens({ type }: CueMoment, atLimit: boolean, turns: boolean): boolean {
  return !atLimit || type === 'cue' || (type === 'cue-end' && !turns);
}

const NOTHING: readonly CueMoment[] = [];
const timelines = new WeakMap<Clip, CueTimeline>();
const watched = new WeakMap<Clip, CueTimeline>();

/** The moments of a clip, found when it is first played; with the edges of its spans where a routine asks for them. */
export function cueTimelineOf(clip: Clip, hasSpans: boolean): CueTimeline {
  const known = hasSpans ? watched : timelines;
  let timeline = known.get(clip);
  if (!timeline) known.set(clip, (timeline = new CueTimeline(clip, hasSpans)));
  return timeline;
}
