import { UnspoolError } from '../errors/error.js';
import { show } from '../errors/show.js';
import { foldTime, lastTime, type Repeat } from '../time/iteration.js';
import { intoMixing } from '../value/mixing.js';
import type { ResolvedCue } from '../reel/resolve/cue.js';
import type { ResolvedTrack } from '../reel/resolve/track.js';
import type { CompiledClip, ReelFacts, ShapeFacts } from './compiled.js';
import {
  ABSOLUTE,
  HEAD_SIZE,
  MIX_COLORS,
  sampleCurves,
  type Curves,
  HEAD_FIRST,
  HEAD_MIX,
  HEAD_SPACE,
  HEAD_TARGET,
} from './curves.js';
import { Layout, Pose } from './layout.js';
import type { ReelNames } from './names.js';

/** The time to sample, in seconds, and the lap. In an array, because the engine may box a number that is passed on. */
const AT = new Float64Array(2);

/**
 * A named, finite animation, ready to be sampled. Immutable. `V` is the type of the value of each property, where the
 * names of the reel are known.
 */
export class Clip<Name extends string = string, V extends ReelNames['values'] = ReelNames['values']> {
  /** Its name in the reel. */
  readonly name: Name;
  /** Duration of one iteration in seconds. */
  readonly duration: number;
  /** Authored frames per second: the unit of times such as `'9f'`. */
  readonly fps: number;
  /** The authored loop mode, with the number of iterations. */
  readonly repeat: Repeat;
  /** The time inside the clip at which the last iteration of a counted loop ends. */
  readonly last: number;
  /** The authored playback rate. The rate of a playback multiplies it. */
  readonly rate: number;
  /** What stays at the end: the last pose (`'hold'`) or the rest pose (`'rest'`). */
  readonly after: 'hold' | 'rest';
  /** Sorted by time. */
  readonly cues: readonly ResolvedCue[];
  /** By name, in seconds. */
  readonly spans: CompiledClip['spans'];
  /** The intervals in which its shapes are active. */
  readonly activations: CompiledClip['activations'];
  /** Where each property is in the numbers of a pose. */
  readonly layout: Layout;
  /** @internal */
  readonly curves: Curves;
  /** @internal facts of its reel about roles and shapes */
  readonly facts: ReelFacts;
  #tracks: readonly ResolvedTrack[] | (() => readonly ResolvedTrack[]);

  /**
   * @internal use `reel.clip`
   * @param facts  of its reel
   * @param tracks returns the keys as authored; called on first use, so never in a game
   */
  constructor(compiled: CompiledClip, facts: ReelFacts, tracks: () => readonly ResolvedTrack[] = () => []) {
    this.name = compiled.name as Name;
    this.duration = compiled.duration;
    this.fps = compiled.fps;
    this.repeat = compiled.repeat;
    this.last = lastTime(compiled.duration, compiled.repeat.mode, compiled.repeat.count);
    this.rate = compiled.rate;
    this.after = compiled.after;
    this.cues = compiled.cues;
    this.spans = compiled.spans;
    this.activations = compiled.activations;
    this.curves = compiled.curves;
    this.layout = new Layout(compiled.slots, facts.texts);
    this.facts = facts;
    this.#tracks = tracks;
  }

  /** The tag and data of each shape of the reel, by `role.shape`. */
  get shapes(): Readonly<Record<string, ShapeFacts>> {
    return this.facts.shapes;
  }

  /**
   * The tracks with their keys, including those of its parts at the clip's own times. Created from the document on
   * first use and cached; empty for a reel that was compiled ahead of time.
   */
  get tracks(): readonly ResolvedTrack[] {
    if (typeof this.#tracks === 'function') this.#tracks = this.#tracks();
    return this.#tracks;
  }

  /** Creates a pose for this clip, at rest. Offsets are relative to the rest values. */
  createPose(): Pose<V> {
    const { count, heads } = this.curves;
    const hints = Int32Array.from({ length: count }, (_, c) => heads[c * HEAD_SIZE + HEAD_FIRST]!);
    const pose = new Pose<V>(this.layout, hints);
    prepareBase(this.curves, pose.base);
    return pose;
  }

  /**
   * Samples the clip. The pose depends only on the clip and the time. Allocates nothing when `pose` is passed.
   *
   * @param time seconds, finite; a time beyond the clip follows its loop mode
   * @param pose a pose created by this clip, which is overwritten and returned
   */
  sample(time: number, pose: Pose<V> = this.createPose()): Pose<V> {
    AT[0] = time;
    return this.#sample(pose, true);
  }

  /** Samples the clip at a time from 0 to `duration`, without looping. Beyond, the nearer end is shown. */
  sampleInside(time: number, pose: Pose<V>): Pose<V> {
    return this.sampleLap(time, 0, pose);
  }

  /** @internal Like `sampleInside`, in another lap than the first: see `lapOf`. */
  sampleLap(time: number, lap: number, pose: Pose<V>): Pose<V> {
    AT[0] = time;
    AT[1] = lap;
    return this.#sample(pose, false);
  }

  #sample(pose: Pose<V>, fold: boolean): Pose<V> {
    if ((pose as Pose<V> | null | undefined)?.layout !== this.layout || !Number.isFinite(AT[0])) this.#refuse(pose);
    if (fold) foldTime(AT, this);
    else if (AT[0]! < 0) AT[0] = 0;
    else if (AT[0]! > this.duration) AT[0] = this.duration;
    sampleCurves(this.curves, AT, pose.hints, pose.base, pose.values);
    return pose;
  }

  #refuse(pose: Pose<V> | null | undefined): never {
    if (pose?.layout === this.layout) {
      throw new UnspoolError('clip/time', `the time ${AT[0]} is not finite`, 'use seconds');
    }
    const message = `the pose does not belong to clip ${show(this.name)}`;
    throw new UnspoolError('clip/pose', message, 'create it with clip.createPose()');
  }
}

/**
 * Readies what offsets are counted from: values as they are shown become what they are mixed as.
 *
 * @param base in the layout that the curves' targets are counted in; changed in place, where there are offsets
 */
export function prepareBase({ count, heads }: Curves, base: Float64Array): void {
  for (let head = 0; head < count * HEAD_SIZE; head += HEAD_SIZE) {
    const mix = heads[head + HEAD_MIX]!;
    if (heads[head + HEAD_SPACE] !== ABSOLUTE && mix >= MIX_COLORS)
      intoMixing(mix - MIX_COLORS, base, heads[head + HEAD_TARGET]!);
  }
}
