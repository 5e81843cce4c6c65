import { lastTime, repeatOf, type Repeat } from '../time/iteration.js';
import { DEFAULT_FPS, parseTime } from '../time/units.js';
import type { ClipDocument, LoopDocument, ReelDocument } from './document.js';
import { LIMITS } from './limits.js';
import type { Path, Report } from './problems.js';
import { isShapeTrack, targetOf, type Properties } from './properties.js';
import { resolveTrack, type ResolvedTrack } from './resolve-track.js';

/** A cue, or with `until` an interval. Times in seconds. */
export interface ResolvedCue {
  readonly name: string;
  readonly at: number;
  readonly until?: number;
  readonly data: unknown;
  /** Its place among the clip's cues as written. */
  readonly index: number;
}

/** A clip with everything said in full: seconds, numbers, easings, defaults. */
export interface ResolvedClip {
  readonly name: string;
  readonly fps: number;
  readonly duration: number;
  readonly repeat: Repeat;
  readonly rate: number;
  readonly after: 'hold' | 'rest';
  readonly tracks: readonly ResolvedTrack[];
  readonly cues: readonly ResolvedCue[];
  readonly spans: Readonly<Record<string, readonly [from: number, until: number]>>;
}

/**
 * Resolves one clip of a document that fits the schema. What is wrong is reported and left out, so that one look
 * finds everything; a clip that reports no error is complete.
 */
export function resolveClip(reel: ReelDocument, name: string, properties: Properties, report: Report): ResolvedClip {
  const clip = reel.clips[name]!;
  const path = ['clips', name];
  const fps = clip.fps ?? reel.fps ?? DEFAULT_FPS;

  const tracks: ResolvedTrack[] = [];
  for (const [trackName, track] of Object.entries(clip.tracks ?? {})) {
    const target = targetOf(reel, trackName);
    if (!target || properties.unusable.has(track)) continue; // reported with the properties
    const here = [...path, 'tracks', trackName];
    if (isShapeTrack(reel, target)) {
      const instead = 'the rest of the reel plays without it';
      report('reel/not-yet', here, { what: 'a shape track', instead }, 'warning', 'name');
      continue;
    }
    const resolved = resolveTrack(reel, trackName, track, target, properties, fps, here, report);
    if (resolved) tracks.push(resolved);
  }
  checkOverlap(tracks, path, report);
  const cues = resolveCues(clip, fps, path, report);

  const lastEnd = Math.max(0, ...tracks.map((track) => track.end), ...cues.map((cue) => cue.until ?? cue.at));
  const duration =
    clip.duration === undefined ? lastEnd : (time(clip.duration, fps, [...path, 'duration'], report) ?? lastEnd);
  if (clip.duration !== undefined) warnAfterEnd(tracks, cues, duration, path, report);
  if (clip.parts?.length) {
    report('reel/not-yet', [...path, 'parts'], {
      what: 'a clip made of parts',
      instead: 'copy the tracks of the parts in',
    });
  }
  return {
    name,
    fps,
    duration,
    repeat: resolveLoop(clip.loop),
    rate: clip.rate ?? 1,
    after: clip.after ?? 'hold',
    tracks,
    cues,
    spans: resolveSpans(clip, fps, path, report),
  };
}

/** The loop mode of a clip, or of a call. */
export function resolveLoop(loop: LoopDocument | undefined): Repeat {
  if (loop === undefined || typeof loop === 'string') return repeatOf(loop ?? 'once');
  return repeatOf(loop.mode, loop.count);
}

/** The time inside the clip at which a run of it ends; `undefined` when it runs for ever. */
export function endOf({ duration, repeat }: Pick<ResolvedClip, 'duration' | 'repeat'>): number | undefined {
  return repeat.count === Infinity ? undefined : lastTime(duration, repeat.mode, repeat.count);
}

/** A time inside a clip, ≥ 0. The schema has seen that it is a time. */
function time(value: unknown, fps: number, path: Path, report: Report): number | undefined {
  const seconds = parseTime(value, fps);
  if (seconds !== undefined && seconds < 0) {
    report('reel/negative-time', path, { value });
    return undefined;
  }
  return seconds;
}

function checkOverlap(tracks: readonly ResolvedTrack[], path: Path, report: Report): void {
  const taken = new Map<string, string>();
  for (const track of tracks) {
    const { name, property, role, channel } = track;
    const base = `${role}.${property}`;
    const other = channel < 0 ? taken.get(base) : taken.get(`${base} whole`);
    if (other !== undefined) {
      report('reel/whole-and-channel', [...path, 'tracks', name], { track: name, other }, 'error', 'name');
    }
    taken.set(base, name);
    if (channel < 0) taken.set(`${base} whole`, name);
  }
}

function resolveCues(clip: ClipDocument, fps: number, path: Path, report: Report): ResolvedCue[] {
  const cues = clip.cues ?? [];
  if (cues.length > LIMITS.cues) {
    report('reel/too-many-cues', [...path, 'cues'], { count: cues.length, limit: LIMITS.cues });
  }
  const resolved: ResolvedCue[] = [];
  for (const [index, cue] of cues.entries()) {
    const here = [...path, 'cues', index];
    const at = time(cue.at, fps, [...here, 'at'], report);
    const until = cue.until === undefined ? undefined : time(cue.until, fps, [...here, 'until'], report);
    if (at === undefined || (cue.until !== undefined && until === undefined)) continue;
    if (until !== undefined && until <= at) {
      const what = `the interval ${JSON.stringify(cue.name)}`;
      report('reel/interval-order', [...here, 'until'], { what, from: cue.at, until: cue.until });
      continue;
    }
    resolved.push({ name: cue.name, at, ...(until !== undefined && { until }), data: cue.data, index });
  }
  return resolved;
}

function resolveSpans(clip: ClipDocument, fps: number, path: Path, report: Report): ResolvedClip['spans'] {
  const spans: Record<string, readonly [number, number]> = {};
  for (const [name, [from, until]] of Object.entries(clip.spans ?? {})) {
    const here = [...path, 'spans', name];
    const start = time(from, fps, [...here, 0], report);
    const end = time(until, fps, [...here, 1], report);
    if (start === undefined || end === undefined) continue;
    if (end <= start)
      report('reel/interval-order', [...here, 1], { what: `the span ${JSON.stringify(name)}`, from, until });
    else spans[name] = [start, end];
  }
  return spans;
}

/** What stands behind the end of its clip is never seen; that is no error, but hardly meant. */
function warnAfterEnd(
  tracks: readonly ResolvedTrack[],
  cues: readonly ResolvedCue[],
  duration: number,
  path: Path,
  report: Report,
): void {
  for (const { keys, paths } of tracks) {
    const late = keys.findIndex((key) => key.at > duration);
    if (late >= 0) report('reel/key-after-end', [...paths[late]!, 'at'], { at: keys[late]!.at, duration }, 'warning');
  }
  for (const { name, at, index } of cues) {
    if (at > duration) report('reel/cue-after-end', [...path, 'cues', index, 'at'], { name, at, duration }, 'warning');
  }
}
