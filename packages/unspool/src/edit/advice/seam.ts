import { isActivity } from '../../reel/resolve/track.js';
import { KINDS, type Kind } from '../../value/kind.js';
import { isWholeShape } from '../track-curve.js';
import { formatNumbers, type ClipView, type Finding, type TrackView } from './advice.js';

/** A difference of values that is none. */
const EPSILON = 1e-6;

/** A loop whose end does not meet its start: in value it pops, in speed it jerks. */
export function loopSeam({ repeat, duration, fps, name, tracks }: ClipView): Finding[] {
  if (repeat.mode !== 'loop' || repeat.count <= 1 || duration <= 0) return [];
  const hidden = new Set(tracks.filter((track) => isHidden(track, duration)).map(({ curve }) => curve.track.role));
  return tracks.flatMap((track): Finding[] => {
    const { curve, path } = track;
    // What cannot be seen at the seam does not matter there.
    if (hidden.has(curve.track.role) || !isMixed(track)) return [];
    const [start, end] = [curve.at(0), curve.at(duration)];
    const jump = curve.track.accumulate ? 0 : gap(curve.track.kind, start, end);
    const fix = { do: 'match-ends', clip: name, tracks: [track.name] } as const;
    const found = { path, of: 'name' } as const;
    if (jump > EPSILON) {
      if (jump <= 1.01 * longestStep(track, duration, fps)) return [];
      const ends = `it ends at ${formatNumbers(end)} and starts at ${formatNumbers(start)}`;
      const message = `${track.name} jumps where ${name} loops: ${ends}`;
      return [{ ...found, code: 'loop-jump', message, hint: 'give its last key the value of the first', fix: [fix] }];
    }
    const speeds = speedsAtSeam(track, duration);
    if (!speeds) return [];
    const change = `from ${formatNumbers(speeds.end)} to ${formatNumbers(speeds.start)} per second`;
    const message = `the speed of ${track.name} changes abruptly where ${name} loops: ${change}`;
    const hint = 'ease both ends, or set their easing to "smooth"';
    return [{ ...found, code: 'loop-kink', message, hint, fix: [{ ...fix, speed: true }] }];
  });
}

/** Whether there is anything between keys, in values of the track's own. */
function isMixed({ curve: { track, segments } }: TrackView): boolean {
  const isLoose = KINDS[track.kind].held || isWholeShape(track) || isActivity(track);
  return !isLoose && track.space === 'absolute' && segments.length > 1;
}

/** Whether a track makes its role invisible both where a loop ends and where it starts. */
function isHidden({ curve }: TrackView, duration: number): boolean {
  const { property } = curve.track;
  if (property !== 'opacity' && property !== 'visible') return false;
  return [0, duration].every((time) => curve.at(time)[0]! <= 1e-9);
}

function far(a: readonly number[], b: readonly number[]): number {
  return Math.max(...a.map((n, k) => Math.abs(n - b[k]!)));
}

/** How far apart two values are shown: whole turns are none, and a quaternion and its negative are one. */
function gap(kind: Kind, a: readonly number[], b: readonly number[]): number {
  if (kind === 'quat') return Math.min(far(a, b), far(a, b.map((n) => -n))); // prettier-ignore
  if (kind !== 'angle') return far(a, b);
  const turn = b[0]! - a[0]!;
  return Math.abs(turn - 360 * Math.round(turn / 360));
}

/** The most that a track moves from one frame to the next. */
function longestStep({ curve }: TrackView, duration: number, fps: number): number {
  const frames = Math.min(2000, Math.max(1, Math.ceil(duration * fps) - 1));
  const poses = Array.from({ length: frames + 1 }, (_, i) => curve.at((i * duration) / (frames + 1)));
  return Math.max(...poses.slice(1).map((pose, i) => far(poses[i]!, pose)));
}

/** The speeds at both ends, where they differ by more than at any key inside: there a sudden turn is meant. */
function speedsAtSeam({ curve }: TrackView, duration: number) {
  const step = duration * 1e-5;
  const speed = (from: number, to: number) => curve.at(to).map((n, k) => (n - curve.at(from)[k]!) / (to - from));
  const [start, end] = [speed(0, step), speed(duration - step, duration)];
  const inside = curve.segments.map((segment) => segment.start).filter((at) => at > step && at < duration - step);
  const kinks = inside.map((at) => far(speed(at - step, at), speed(at, at + step)));
  const moments = Array.from({ length: 64 }, (_, i) => (duration * (i + 0.5)) / 64);
  const fastest = Math.max(...moments.map((at) => Math.max(...speed(at, at + step).map(Math.abs))));
  const kink = far(start, end);
  return kink > 0.25 * fastest && kink > 1.01 * Math.max(0, ...kinks) ? { start, end } : undefined;
}
