import type { ReelNames } from '../clip/names.js';
import type { EventType } from './event-types.js';
import type { Playback } from './playback.js';

/** A moment of a playback, as a handler hears of it. */
export interface PlaybackEvent<N extends ReelNames = ReelNames> {
  readonly type: EventType;
  readonly clip: N['clip'];
  readonly playback: Playback<N>;
  /** The time inside the clip, in seconds, at which it happened. */
  readonly at: number;
  /** The pass that it belongs to, counted from 0. Of `loop`: the pass that begins. */
  readonly iteration: number;
  /** When it happened: seconds of the player's time, the sum of what was given to `tick`. */
  readonly time: number;
  /** How long before the end of this frame it happened, in seconds: by so much a sound would start late. */
  readonly late: number;
}

export interface StopEvent<N extends ReelNames = ReelNames> extends PlaybackEvent<N> {
  readonly type: 'stop';
  /** What plays in its place, where another call of `play` has replaced it; else `undefined`. */
  readonly replacedBy: Playback<N> | undefined;
}

export interface CueEvent<N extends ReelNames = ReelNames> extends PlaybackEvent<N> {
  readonly type: 'cue' | 'cue-start' | 'cue-end';
  readonly name: N['cue'];
  /** What the reel gives the cue: any JSON, `undefined` when it gives nothing. */
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- JSON whose shape only the game's author knows
  readonly data: any;
}

export interface GaugeEvent {
  readonly type: 'arrive';
  readonly name: string;
  readonly value: number;
  /** When it happened, and how long before the end of the frame, as of other events. */
  readonly time: number;
  readonly late: number;
}

export interface SkipEvent {
  readonly type: 'skip';
  /** How many cues (an interval is one) and how many passes were not told. */
  readonly cues: number;
  readonly loops: number;
  /** Seconds of the player's time at the end of the frame. */
  readonly time: number;
}

export interface PlayerEvents<N extends ReelNames = ReelNames> {
  /** A cue was passed. */
  readonly cue: CueEvent<N>;
  /** An interval was entered, or left: also when its playback stops inside it. */
  readonly 'cue-start': CueEvent<N>;
  readonly 'cue-end': CueEvent<N>;
  /** A new pass begins. */
  readonly loop: PlaybackEvent<N>;
  /** A playback has come to its end by itself, after its last cue. */
  readonly end: PlaybackEvent<N>;
  /** A playback was stopped or replaced before its end. */
  readonly stop: StopEvent<N>;
  /** A gauge shows the value that it was given. */
  readonly arrive: GaugeEvent;
  /** At the end of a frame that had more to tell than `cueLimit`: what was not told. */
  readonly skip: SkipEvent;
}
