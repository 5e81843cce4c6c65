import { formatEasing, isActivity, isShape, KINDS, type Clip, type Reel, type ResolvedTrack } from 'unspool';
import { channelSampler, sampler, soloOf } from './tracks.js';
import { table } from './table.js';
import { frames, round } from './values.js';

/** How a track gets from one key to the next: how long it takes (timing), and how far it is at each frame (spacing). */
export interface Timing {
  readonly track: string;
  /** Frames. */
  readonly from: number;
  readonly until: number;
  /** How far it goes, in the channel that goes farthest. */
  readonly delta: number;
  /** Its speed against that of the whole track. */
  readonly pace: 'hold' | 'slow' | 'even' | 'fast';
  /** How its speed changes. */
  readonly change: 'steady' | 'accelerates' | 'decelerates' | 'eases in and out' | 'swings';
  /** How far it is at each frame, 0–1; beyond where it swings over. */
  readonly spacing: readonly number[];
}

/** A value that changes less than this in total does not move. */
const STILL = 1e-9;

export function timingOf(reel: Reel, clip: Clip): Timing[] {
  return clip.tracks.filter(isMoving).flatMap((track) => timingOfTrack(soloOf(reel, clip, track), track));
}

function isMoving({ kind, channel }: ResolvedTrack): boolean {
  return !KINDS[kind].held && !isActivity({ kind, channel }) && !(isShape(kind) && channel < 0);
}

function timingOfTrack(clip: Clip, track: ResolvedTrack): Timing[] {
  const [sample, sampleOne] = [sampler(clip, track), channelSampler(clip, track)];
  const { fps, duration } = clip;
  const keys = track.keys.filter(({ at }) => at <= duration);
  const ways = keys.slice(1).map((key, i) => {
    const from = sample(keys[i]!.at);
    // What holds until the next key, and jumps there, goes no way.
    const isHold = sample(key.at - 1e-9).every((n, k) => Math.abs(n - from[k]!) <= STILL);
    const to = isHold ? from : sample(key.at);
    const farthest = to.reduce(
      (best, n, k) => (Math.abs(n - from[k]!) > Math.abs(to[best]! - from[best]!) ? k : best),
      0,
    );
    return {
      from: keys[i]!.at,
      until: key.at,
      channel: farthest,
      start: from[farthest]!,
      delta: to[farthest]! - from[farthest]!,
    };
  });
  const moving = ways.filter(({ delta }) => Math.abs(delta) > STILL);
  const whole =
    moving.reduce((sum, { delta }) => sum + Math.abs(delta), 0) /
    moving.reduce((sum, { from, until }) => sum + until - from, 0);
  return ways.map(({ from, until, channel, start, delta }): Timing => {
    const facts = { track: track.name, from: from * fps, until: until * fps, delta };
    if (Math.abs(delta) <= STILL) return { ...facts, pace: 'hold', change: 'steady', spacing: [] };
    const share = (time: number) => (sampleOne(time, channel) - start) / delta;
    const first = Math.ceil(from * fps - 1e-6);
    const count = Math.floor(until * fps + 1e-6) - first + 1;
    const spacing = Array.from({ length: count }, (_, i) => share(Math.min((first + i) / fps, until - 1e-9)));
    const pace = Math.abs(delta) / (until - from) / whole;
    return {
      ...facts,
      pace: pace > 1.5 ? 'fast' : pace < 1 / 1.5 ? 'slow' : 'even',
      change: changeOf(share, from, until),
      spacing,
    };
  });
}

/** What the speed does, by how far it is after each third of the time. */
function changeOf(share: (time: number) => number, from: number, until: number): Timing['change'] {
  const at = (t: number) => share(from + (until - from) * t);
  const [a, b] = [at(1 / 3), at(2 / 3)];
  const steps = Array.from({ length: 24 }, (_, i) => at(i / 24));
  if (steps.some((n) => n < -0.01 || n > 1.01)) return 'swings';
  const [first, middle, last] = [a, b - a, 1 - b];
  if (Math.max(first, middle, last) < 1.2 * Math.min(first, middle, last)) return 'steady';
  if (middle > first * 1.2 && middle > last * 1.2) return 'eases in and out';
  return first < last ? 'accelerates' : 'decelerates';
}

/** A line of so many characters with a mark per frame: close together is slow, far apart fast. */
export function spacingChart(spacing: readonly number[], width = 25): string {
  if (spacing.length === 0) return '';
  const marks = Array.from({ length: width }, () => '─');
  for (const share of spacing) marks[Math.round(Math.min(1, Math.max(0, share)) * (width - 1))] = '┼';
  return marks.join('');
}

export function timingTable(reel: Reel, clip: Clip): string {
  const { fps } = clip;
  const easings = new Map(
    clip.tracks.map((track) => [track.name, new Map(track.keys.map(({ at, easing }) => [at * fps, easing]))]),
  );
  const rows = timingOf(reel, clip).map(({ track, from, until, delta, pace, change, spacing }) => {
    const length = until - from;
    return [
      track,
      `${frames(from / fps, fps)} – ${frames(until / fps, fps)}`,
      round(Number(length.toFixed(2))),
      pace === 'hold' ? '–' : round(Number(delta.toPrecision(4))),
      pace === 'hold' ? '–' : round(Number((delta / length).toPrecision(3))),
      pace === 'hold' ? 'hold' : `${pace}, ${change}`,
      pace === 'hold' ? '' : spacingChart(spacing),
      pace === 'hold' ? '' : formatEasing(easings.get(track)!.get(from)!),
    ];
  });
  if (rows.length === 0) return '';
  const head = ['timing', 'from – to', 'frames', 'change', 'per frame', 'pace', 'spacing', 'easing'];
  return table(head, rows, (column) => column >= 2 && column <= 4);
}
