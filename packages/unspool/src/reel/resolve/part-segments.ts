import { NANOSECOND } from '../../time/units.js';
import type { ResolvedCue } from './cue.js';
import type { Run } from './part-runs.js';
import type { Bend, Segment } from './segments.js';
import { turnTimes } from '../../value/quat.js';

/** What each iteration of a track gains: see `FlatTrack.gain`. */
interface Gains {
  readonly isTurn: boolean;
  readonly gain: readonly number[];
}

/**
 * The segments of a track as a part plays them: cut where a run starts and ends, scaled by its rate, and reversed
 * where it runs back. After the last run the final pose holds.
 *
 * @param gains of a track that accumulates
 */
export function runSegments(segments: readonly Segment[], runs: readonly Run[], gains?: Gains): Segment[] {
  const last = runs.at(-1)!;
  const inLap = (lap: number) =>
    gains && lap !== 0 ? segments.map((segment) => gained(segment, gains, lap)) : segments;
  return [...runs.flatMap((run) => oneRun(inLap(run.lap), run)), frozen(inLap(last.lap), last.to, last.end)];
}

/** A segment as it is after so many iterations that have each gained something. */
function gained(segment: Segment, { isTurn, gain }: Gains, lap: number): Segment {
  const { from, to, bends } = segment;
  if (!isTurn) {
    const more = (value: readonly number[]) => value.map((n, k) => n + lap * gain[k]!);
    return { ...segment, from: more(from), to: more(to) };
  }
  const turn = (value: readonly number[]) => {
    const out = Float64Array.from(value);
    turnTimes(gain, 0, lap, out, 0);
    return [...out];
  };
  // Handles are changes of the four numbers, and turn as these do.
  const [out, into] = [turn((bends ?? []).map(([, dv]) => dv)), turn((bends ?? []).map(([, , , dv]) => dv))];
  const turned = bends?.map(([x1, , x2], k): Bend => [x1, out[k]!, x2, into[k]!]);
  return { ...segment, from: turn(from), to: turn(to), ...(turned && { bends: turned }) };
}

function oneRun(segments: readonly Segment[], { start, from, to, speed }: Run): Segment[] {
  if (from === to) return [frozen(segments, from, start)];
  const [low, high] = from < to ? [from, to] : [to, from];
  const shown = segments.flatMap((segment, i): Segment[] => {
    const until = segments[i + 1]?.start ?? Infinity;
    // Both where it is shown and where its easing runs, as seconds of the outer clip.
    const first = Math.max(segment.start, low);
    const final = Math.min(until, high);
    if (first >= final) return [];
    const length = segment.length / speed;
    if (from < to) {
      const origin = start + (segment.origin - from) / speed;
      return [{ ...segment, start: start + (first - from) / speed, origin, length }];
    }
    const origin = start + (from - segment.origin - segment.length) / speed;
    const turned = { reversed: !segment.reversed, origin, length };
    const still = segment.frozen === undefined ? undefined : { frozen: 1 - segment.frozen };
    return [{ ...segment, ...turned, ...still, start: start + (from - final) / speed }];
  });
  return from < to ? shown : shown.reverse();
}

/** The pose of a track at a time of its own clip, standing still from `start` on. */
function frozen(segments: readonly Segment[], time: number, start: number): Segment {
  const segment = segments.findLast((one) => one.start <= time) ?? segments[0]!;
  const share = segment.frozen ?? (time - segment.origin) / segment.length;
  return { ...segment, start, origin: start, length: 1, frozen: share };
}

/** The cues of a clip at the times at which a part passes them, in order of time. */
export function cueRuns(cues: readonly ResolvedCue[], duration: number, runs: readonly Run[]): ResolvedCue[] {
  return cues.flatMap((cue) => {
    const passed: ResolvedCue[] = [];
    runs.forEach(({ start, end, from, to, speed }, i) => {
      // A run ends exactly where its part ends: beyond that no cue fires.
      const outer = (time: number) => (time === to ? end : start + Math.abs(time - from) / speed);
      const [low, high] = from < to ? [from, to] : [to, from];
      const turned = i > 0 && runs[i - 1]!.to === from; // a ping-pong comes to its turn once
      if (cue.until === undefined) {
        const inside = cue.at >= low && cue.at <= high && cue.at <= duration;
        if (inside && !(turned && cue.at === from)) passed.push({ ...cue, at: outer(cue.at) });
        return;
      }
      const first = Math.max(cue.at, low);
      const final = Math.min(cue.until, high);
      if (first >= final) return;
      const at = outer(from < to ? first : final);
      const until = outer(from < to ? final : first);
      const before = passed.at(-1);
      // An interval that is open at a turn continues through it; both times of the turn belong to it, up to rounding.
      if (turned && before?.until !== undefined && Math.abs(before.until - at) <= NANOSECOND)
        passed[passed.length - 1] = { ...before, until };
      else passed.push({ ...cue, at, until });
    });
    return passed;
  });
}
