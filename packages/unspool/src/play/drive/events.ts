import type { ReelNames } from '../../clip/names.js';
import type { EventType } from '../time/event-types.js';
import type { Playback } from './playback.js';

/** What every event of a playback has. */
export interface PlaybackEvent<N extends ReelNames = ReelNames> {
  readonly type: EventType;
  /** Name of the clip. */
  readonly clip: N['clip'];
  readonly playback: Playback<N>;
  /** The time inside the clip, in seconds, at which it happened. */
  readonly at: number;
  /** The iteration, counted from 0. Of a `loop` event: the iteration that begins. */
  readonly iteration: number;
  /** Player time at which it happened, in seconds: the sum of all `dt` passed to `tick`. */
  readonly time: number;
  /** Seconds between the event and the end of this frame. Start a sound this far in to keep it in sync. */
  readonly late: number;
  /** It was not played but passed over by `finish`: a sound would come too late, what it does to the game would not. */
  readonly skipped?: true;
}

/** A playback was stopped or replaced before its end. */
export interface StopEvent<N extends ReelNames = ReelNames> extends PlaybackEvent<N> {
  readonly type: 'stop';
  /** The playback that replaced it, or `undefined` when it was stopped. */
  readonly replacedBy: Playback<N> | undefined;
}

/**
 * A cue fired (`cue`), or an interval started or ended (`cue-start`, `cue-end`). Where the names of the reel are known,
 * comparing `name` narrows `data` to the data of that cue.
 */
export type CueEvent<N extends ReelNames = ReelNames> = {
  [C in N['cue']]: NamedCueEvent<N, C>;
}[N['cue']];

/** The event of the cue called `C`. */
export interface NamedCueEvent<N extends ReelNames, C extends N['cue']> extends PlaybackEvent<N> {
  readonly type: 'cue' | 'cue-start' | 'cue-end';
  readonly name: C;
  /** The `data` of the cue in the reel: any JSON, or `undefined`. */
  readonly data: N['data'][C];
}

/** A gauge reached its value. */
export interface GaugeEvent {
  readonly type: 'arrive';
  /** Name of the gauge. */
  readonly name: string;
  /** The value that it shows now. */
  readonly value: number;
  /** As in other events: player time, and seconds before the end of the frame. */
  readonly time: number;
  readonly late: number;
}

/** Events of one frame that exceeded `cueLimit` and were left out. */
export interface SkipEvent {
  readonly type: 'skip';
  /** Number of cues (an interval counts once) and of `loop` events left out. */
  readonly cues: number;
  readonly loops: number;
  /** Seconds of the player's time at the end of the frame. */
  readonly time: number;
}

/** Another rule of the routine is in force on a layer. */
export interface RuleEvent<N extends ReelNames = ReelNames> {
  readonly type: 'rule';
  /** The rule that begins; `undefined` when none applies. */
  readonly name: N['routines'][N['routine']]['rule'] | undefined;
  /** The rule that was in force before; `undefined` when there was none. */
  readonly before: N['routines'][N['routine']]['rule'] | undefined;
  /** Name of the layer. */
  readonly layer: string;
  /** As in other events: player time, and seconds before the end of the frame. */
  readonly time: number;
  readonly late: number;
}

/** The events of a player, by name, with what their handlers receive. See `player.on`. */
export interface PlayerEvents<N extends ReelNames = ReelNames> {
  /** The playhead passed a cue. */
  readonly cue: CueEvent<N>;
  /** The playhead entered or left an interval. Leaving also fires when the playback stops inside it. */
  readonly 'cue-start': CueEvent<N>;
  readonly 'cue-end': CueEvent<N>;
  /** A new iteration begins. */
  readonly loop: PlaybackEvent<N>;
  /** A playback reached its end by itself. Fires after its last cue. */
  readonly end: PlaybackEvent<N>;
  /** A playback was stopped or replaced before its end. */
  readonly stop: StopEvent<N>;
  /** A gauge reached the value that it was set to. */
  readonly arrive: GaugeEvent;
  /** A frame had more events than `cueLimit`. Fires at its end. */
  readonly skip: SkipEvent;
  /** A rule of the routine begins, or the last one no longer applies. See `startRoutine`. */
  readonly rule: RuleEvent<N>;
}

/** A handler of the events of one type. See `player.on`. */
export type EventHandler<N extends ReelNames, E extends EventType> = (event: PlayerEvents<N>[E]) => void;
