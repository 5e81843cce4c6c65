import type { Repeat } from '../../time/iteration.js';
import { DEFAULT_FPS, NANOSECOND } from '../../time/units.js';
import { KINDS } from '../../value/kind.js';
import type { ResolvedCue } from './cue.js';
import type { ClipDocument, ReelDocument } from '../document/document.js';
import { resolveLoop } from './loop.js';
import { readTime } from './read-time.js';
import type { DocumentPath, Report } from '../diagnostics/diagnostic-messages.js';
import { resolveParts, type ResolvedPart } from './parts.js';
import type { Properties } from './properties.js';
import { targetOf } from './targets.js';
import { resolveTrack } from './resolve-track.js';
import { sharesNumbers, type ResolvedTrack } from './track.js';
import { withActivity } from './activity.js';
import { most } from '../../value/number.js';
import { LIMITS } from '../document/limits.js';

/** A clip with everything said in full: seconds, numbers, easings, defaults. Its parts are not flattened yet. */
export interface ResolvedClip {
  readonly name: string;
  readonly fps: number;
  /** The authored duration in seconds; omitted when the last key, cue or part decides. */
  readonly duration: number | undefined;
  /** When its own last key has been shown, and its own last cue has ended. */
  readonly end: number;
  readonly repeat: Repeat;
  readonly rate: number;
  readonly after: 'hold' | 'rest';
  readonly tracks: readonly ResolvedTrack[];
  readonly cues: readonly ResolvedCue[];
  readonly spans: Readonly<Record<string, readonly [from: number, until: number]>>;
  readonly parts: readonly ResolvedPart[];
}

/**
 * Resolves one clip of a document that fits the schema. Invalid parts are reported and left out, so that one pass
 * finds everything; a clip without errors is complete.
 */
export function resolveClip(reel: ReelDocument, name: string, properties: Properties, report: Report): ResolvedClip {
  const clip = reel.clips[name]!;
  const path = ['clips', name];
  const fps = clip.fps ?? reel.fps ?? DEFAULT_FPS;

  const written: NonNullable<ReturnType<typeof resolveTrack>>[] = [];
  for (const [trackName, track] of Object.entries(clip.tracks ?? {})) {
    const target = targetOf(reel, trackName);
    if (!target || properties.unusable.has(track)) continue; // reported with the properties
    const here = [...path, 'tracks', trackName];
    const resolved = resolveTrack(reel, trackName, track, target, properties, fps, here, report);
    if (resolved) written.push(resolved);
  }
  checkOverlap(written, path, report);
  const duration =
    clip.duration === undefined ? undefined : readTime(clip.duration, fps, [...path, 'duration'], report);
  if (duration !== undefined) warnAfterEnd(written, duration, report);
  const tracks = withActivity(written, duration);
  const cues = resolveCues(clip, fps, duration, path, report);

  const end = most([0, ...tracks.map((track) => track.end), ...cues.map((cue) => cue.until ?? cue.at)]);
  if ((duration ?? end) > LIMITS.seconds) {
    const where = duration === undefined ? path : [...path, 'duration'];
    report('reel/too-long', where, { length: duration ?? end, limit: LIMITS.seconds });
  }
  return {
    name,
    fps,
    duration,
    end,
    repeat: resolveLoop(clip.loop),
    rate: clip.rate ?? 1,
    after: clip.after ?? 'hold',
    tracks,
    cues,
    spans: resolveSpans(clip, fps, path, report),
    parts: resolveParts(clip.parts ?? [], fps, [...path, 'parts'], report),
  };
}

function checkOverlap(tracks: readonly ResolvedTrack[], path: DocumentPath, report: Report): void {
  const known = new Map<string, ResolvedTrack[]>();
  for (const track of tracks) {
    const whole = `${track.role}.${track.property}`;
    const others = known.get(whole) ?? [];
    // The track of a whole shape also says when it is active.
    const clash = (one: ResolvedTrack) => one.name === whole || track.name === whole || sharesNumbers(one, track);
    const other = others.findLast(clash);
    if (other) {
      const facts = { track: track.name, other: other.name };
      report('reel/whole-and-channel', [...path, 'tracks', track.name], facts, 'error', 'name');
    }
    known.set(whole, [...others, track]);
  }
}

function resolveCues(
  clip: ClipDocument,
  fps: number,
  duration: number | undefined,
  path: DocumentPath,
  report: Report,
): ResolvedCue[] {
  const resolved: ResolvedCue[] = [];
  for (const [index, cue] of (clip.cues ?? []).entries()) {
    const here = [...path, 'cues', index];
    const at = readTime(cue.at, fps, [...here, 'at'], report);
    const until = cue.until === undefined ? undefined : readTime(cue.until, fps, [...here, 'until'], report);
    if (at === undefined || (cue.until !== undefined && until === undefined)) continue;
    if (until !== undefined && until <= at) {
      const what = `the interval ${JSON.stringify(cue.name)}`;
      report('reel/interval-order', [...here, 'until'], { what, from: cue.at, until: cue.until });
      continue;
    }
    if (duration !== undefined && at > duration)
      report('reel/cue-after-end', [...here, 'at'], { name: cue.name, at: cue.at, duration }, 'warning');
    resolved.push({ name: cue.name, at, ...(until !== undefined && { until }), data: cue.data });
  }
  return resolved;
}

function resolveSpans(clip: ClipDocument, fps: number, path: DocumentPath, report: Report): ResolvedClip['spans'] {
  const spans: Record<string, readonly [number, number]> = {};
  for (const [name, [from, until]] of Object.entries(clip.spans ?? {})) {
    const here = [...path, 'spans', name];
    const start = readTime(from, fps, [...here, 0], report);
    const end = readTime(until, fps, [...here, 1], report);
    if (start === undefined || end === undefined) continue;
    if (end <= start)
      report('reel/interval-order', [...here, 1], { what: `the span ${JSON.stringify(name)}`, from, until });
    else spans[name] = [start, end];
  }
  return spans;
}

/**
 * Warns of a last key that a loop never shows, because the loop restarts at that moment and nothing leads to the key. A
 * value that equals the first is fine.
 */
export function warnUnseen(
  tracks: readonly ResolvedTrack[],
  { mode, count }: Repeat,
  duration: number,
  report: Report,
): void {
  if (mode !== 'loop' || count <= 1) return;
  for (const { name, kind, keys, pathOf } of tracks) {
    const last = keys.length - 1;
    const key = keys[last];
    if (!key || last === 0 || !KINDS[kind].held || Math.abs(key.at - duration) > NANOSECOND) continue;
    if (key.value.every((n, k) => n === keys[0]!.value[k])) continue;
    const until = key.at + (key.at - keys[last - 1]!.at);
    const value = kind === 'text' ? 'a text' : kind === 'flag' ? String(key.value[0] === 1) : String(key.value[0]);
    report('reel/unseen-key', pathOf(last, 'at'), { track: name, value, at: key.at, until }, 'warning');
  }
}

/** Keys after the end of their clip are never seen: a warning, because it is hardly intended. */
function warnAfterEnd(tracks: readonly ResolvedTrack[], duration: number, report: Report): void {
  for (const { keys, pathOf } of tracks) {
    const late = keys.findIndex((key) => key.at > duration);
    if (late >= 0) report('reel/key-after-end', pathOf(late, 'at'), { at: keys[late]!.at, duration }, 'warning');
  }
}
