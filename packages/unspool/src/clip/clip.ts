import { UnspoolError } from '../wording/error.js';
import { foldTime, type Repeat } from '../time/iteration.js';
import type { Properties } from '../reel/properties.js';
import type { ResolvedClip, ResolvedCue } from '../reel/resolve.js';
import type { ResolvedTrack } from '../reel/resolve-track.js';
import { compileTracks } from './compile.js';
import { sampleCurves, type Curves } from './curves.js';
import { Layout, Pose } from './layout.js';

/** A named, finite animation, ready to be sampled. Immutable. */
export class Clip<Name extends string = string> {
  readonly name: Name;
  /** Seconds of one pass. */
  readonly duration: number;
  readonly fps: number;
  readonly repeat: Repeat;
  /** The speed at which it was authored to play; a playback's own rate multiplies it. */
  readonly rate: number;
  /** What it leaves behind at its end. */
  readonly after: 'hold' | 'rest';
  readonly tracks: readonly ResolvedTrack[];
  readonly cues: readonly ResolvedCue[];
  readonly spans: ResolvedClip['spans'];
  readonly layout: Layout;
  readonly #curves: Curves;

  constructor(resolved: ResolvedClip, properties: Properties) {
    this.name = resolved.name as Name;
    this.duration = resolved.duration;
    this.fps = resolved.fps;
    this.repeat = resolved.repeat;
    this.rate = resolved.rate;
    this.after = resolved.after;
    this.tracks = resolved.tracks;
    this.cues = resolved.cues;
    this.spans = resolved.spans;
    const animated = new Set(resolved.tracks.map(({ role, property }) => `${role}.${property}`));
    this.layout = new Layout(
      [...animated].map((name) => properties.byName.get(name)!),
      properties.texts.texts,
    );
    this.#curves = compileTracks(resolved.tracks, this.layout);
  }

  /** A pose that this clip can be sampled into, at rest. */
  createPose(): Pose {
    return new Pose(this.layout, this.#curves.count);
  }

  /**
   * The pose at a time: it depends on the clip and the time alone. Allocates nothing when it is given a pose.
   *
   * @param time seconds as authored, finite; beyond the clip it follows its loop mode (see `foldTime`)
   * @param pose one of this clip's, which is written over and returned
   */
  sample(time: number, pose: Pose = this.createPose()): Pose {
    if (!Number.isFinite(time)) {
      throw new UnspoolError('clip/time', `the time ${time} is not finite`, 'give seconds');
    }
    return this.sampleInside(foldTime(time, this.duration, this.repeat), pose);
  }

  /** As `sample`, for a time that is already inside the clip, 0 … duration, both ends included. */
  sampleInside(time: number, pose: Pose): Pose {
    if (pose.layout !== this.layout) {
      throw new UnspoolError(
        'clip/pose',
        `the pose is not one of clip ${JSON.stringify(this.name)}`,
        'make it with clip.createPose()',
      );
    }
    pose.at[0] = time;
    sampleCurves(this.#curves, pose.at, pose.hints, pose.values);
    return pose;
  }
}
