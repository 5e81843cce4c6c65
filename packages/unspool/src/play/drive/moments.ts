import { NANOSECOND } from '../../time/units.js';
import { UnspoolError } from '../../errors/error.js';
import { show } from '../../errors/show.js';
import type { ReelNames } from '../../clip/names.js';
import type { PlayerCore } from './core.js';
import { DUE, type Decider } from './decider.js';
import type { Gauge } from './gauge.js';
import type { Playback } from './playback.js';

/** More moments than this in one frame are a circle: a handler that plays what calls it again, without time going by. */
const MAX_MOMENTS = 10_000;

/** Moments of two layers closer than this are at one time: how a frame is cut makes them differ by rounding. */
const EPSILON = NANOSECOND / 10;

/**
 * Runs the frame from moment to moment in order of time; at the same time, the lowest layer first. A routine decides at
 * the start of the frame, after every moment and when its time has come, as often as something changes there.
 */
export function runMoments<N extends ReelNames>(core: PlayerCore<N>): void {
  const { layers, gauges, frame } = core;
  if (core.routine?.isDue) frame.momentAtStart();
  for (let moments = 0; ; moments++) {
    const { routine } = core;
    let next: Playback<N> | undefined;
    let gauge: Gauge<N> | undefined;
    let isTime = false;
    if (!routine?.isDue) {
      for (let i = 0; i < layers.length; i++) {
        const one = layers[i]!.playback;
        if (!one) continue;
        one.aim();
        if (one.head.due >= -NANOSECOND && (!next || one.head.due > next.head.due + EPSILON)) next = one;
      }
      let isArriving = false;
      for (let i = 0; i < gauges.length; i++) isArriving ||= gauges[i]!.isArriving;
      if (isArriving) gauge = arriving(gauges, frame.seconds, next);
      if (routine) isTime = isBefore(core, routine, next, gauge);
      if (!next && !gauge && !isTime) return;
    }
    if (moments >= MAX_MOMENTS) {
      const last = gauge ? `gauge ${show(gauge.name)}` : next ? `clip ${show(next.clip.name)}` : 'the routine';
      const message = `one frame has more than ${MAX_MOMENTS} moments, the last of ${last}: ${frame.lastEvent}`;
      const hint = 'check for a handler that triggers its own event, or a very long frame (see cueLimit)';
      frame.fail(new UnspoolError('play/circle', message, hint));
      return;
    }
    if (isTime) frame.momentAt(routine!.times[DUE]!);
    else if (gauge) gauge.arrive();
    else next?.arrive();
    if (!core.routine) continue;
    // Without a handler nothing has said what time it is.
    if (next && !gauge && !isTime) frame.momentAt(next.head.momentTime);
    if (next || gauge || isTime) core.routine.mark();
    core.routine.decide();
  }
}

/** Whether a decision is due by time before everything else that happens in this frame. */
function isBefore<N extends ReelNames>(
  { frame }: PlayerCore<N>,
  { times }: Decider,
  next: Playback<N> | undefined,
  gauge: Gauge<N> | undefined,
): boolean {
  const time = times[DUE]!;
  const left = frame.seconds - time;
  if (!(left >= -NANOSECOND)) return false;
  return (!next || left > next.head.due + EPSILON) && (!gauge || time < gauge.arrivesAt - EPSILON);
}

/** The gauge that arrives before a playback has its next moment, if there is one in this frame. */
function arriving<N extends ReelNames>(
  gauges: readonly Gauge<N>[],
  end: number,
  next: Playback<N> | undefined,
): Gauge<N> | undefined {
  let most = next ? next.head.due + EPSILON : -NANOSECOND;
  let found: Gauge<N> | undefined;
  for (const gauge of gauges) {
    const due = end - gauge.arrivesAt;
    if (due < most || (found && due <= most)) continue;
    most = due;
    found = gauge;
  }
  return found;
}
