import type { Kind } from '../../value/kind.js';
import type { Mix } from '../../value/mixing.js';
import type { ReelDocument } from '../document/document.js';
import { LIMITS } from '../document/limits.js';
import type { ResolvedPart } from './parts.js';
import type { Report } from '../diagnostics/diagnostic-messages.js';
import type { Properties } from './properties.js';
import { resolveLoop } from './loop.js';
import { resolveClip, warnUnseen, type ResolvedClip } from './resolve.js';
import { runsOf, type Run } from './part-runs.js';
import { cueRuns, runSegments } from './part-segments.js';
import { HELD, segmentsOf, type Segment } from './segments.js';
import { justAfter } from './activity.js';
import { isActivity, sharesNumbers } from './track.js';
import { turnBetween } from '../../value/quat.js';

/** Everything that a clip does to one property or channel, including its parts. */
export interface FlatTrack {
  /** As a track would be named: `claw.rotation`, `claw.position.x`. */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: Kind;
  /** Index of the first animated channel, or −1 for all; and the number of channels. */
  readonly channel: number;
  readonly width: number;
  readonly mix: Mix;
  /** For angles: whether they are blended the shorter way, as their keys are. */
  readonly turn: 'literal' | 'shortest';
  readonly space: 'absolute' | 'offset';
  /**
   * What each iteration of a loop adds, of a track that accumulates: its last value less its first; of a quaternion the
   * turn that leads from its first to its last.
   */
  readonly gain?: readonly number[];
  /** In order, the first at 0; the last holds forever. */
  readonly segments: readonly Segment[];
}

/** A clip with its parts put in: what compiling reads. */
export interface FlatClip extends Omit<ResolvedClip, 'tracks' | 'parts' | 'end' | 'duration'> {
  readonly duration: number;
  readonly tracks: readonly FlatTrack[];
}

/** What one source, the clip's own track or a part, animates of a property, and when. */
interface Stretch extends FlatTrack {
  readonly from: number;
  readonly until: number;
  readonly source: string;
  readonly part?: ResolvedPart;
}

/**
 * Inserts the parts of a clip: their tracks as segments of the outer clip, their cues at its times. Circular clips
 * return `undefined` (`checkReferences` reports them).
 */
export function flattenClip(
  reel: ReelDocument,
  name: string,
  properties: Properties,
  report: Report,
  done = new Map<string, FlatClip>(),
  above: readonly string[] = [],
): FlatClip | undefined {
  const known = done.get(name);
  if (known) return known;
  if (above.includes(name) || !Object.hasOwn(reel.clips, name)) return undefined;
  const { parts, tracks, end, ...clip } = resolveClip(reel, name, properties, report);
  const placed = parts.flatMap((part) => {
    // Problems inside are reported where they are written, when that clip is checked.
    const inner = flattenClip(reel, part.clip, properties, () => {}, done, [...above, name]);
    return inner ? [{ part, inner, ...placeOf(inner, part, clip, report) }] : [];
  });
  const duration = clip.duration ?? placed.reduce((last, { ends }) => Math.max(last, ends), end);
  const path = ['clips', name];
  // Its own keys and duration were checked before.
  if (duration > LIMITS.seconds) {
    if (placed.some(({ ends }) => ends === duration))
      report('reel/too-long', path, { length: duration, limit: LIMITS.seconds });
    return undefined;
  }
  warnUnseen(tracks, clip.repeat, duration, report);
  const count = placed.reduce((sum, { inner, runs }) => sum + runs.length * sizeOf(inner), 0);
  if (count > LIMITS.keys) {
    report('reel/too-many-keys', path, { count, limit: LIMITS.keys });
    return undefined;
  }
  const period = clip.repeat.mode === 'loop' ? duration : undefined;
  const stretches = [
    ...tracks
      .filter(({ keys }) => keys.length > 0)
      .map((track): Stretch => {
        const { role, property, kind, channel, width, mix, turn, space, keys } = track;
        const facts = { name: track.name, role, property, kind, channel, width, mix, turn, space };
        const segments = segmentsOf(track, period);
        const gain = track.accumulate ? gainOf(kind, segments) : undefined;
        return {
          ...facts,
          ...(gain && { gain }),
          segments,
          from: keys[0]!.at,
          until: Math.min(keys.at(-1)!.at, track.end),
          source: 'a track of its own',
        };
      }),
    ...placed.flatMap(({ part, inner, runs }) => stretchesOf(inner, part, runs, properties, report)),
  ];
  const cues = [...clip.cues, ...placed.flatMap(({ inner, runs }) => cueRuns(inner.cues, inner.duration, runs))];
  if (cues.length > LIMITS.cues)
    report('reel/too-many-cues', [...path, 'cues'], { count: cues.length, limit: LIMITS.cues });
  const flat = { ...clip, duration, cues, tracks: merge(stretches, path, report) };
  done.set(name, flat);
  return flat;
}

function sizeOf({ tracks, cues }: FlatClip): number {
  return cues.length + tracks.reduce((sum, { segments }) => sum + segments.length, 0);
}

/** When a part plays what of its clip. */
function placeOf(
  inner: FlatClip,
  part: ResolvedPart,
  outer: Pick<ResolvedClip, 'duration' | 'fps'>,
  report: Report,
): { readonly runs: readonly Run[]; readonly ends: number } {
  const repeat = part.loop === undefined ? inner.repeat : resolveLoop(part.loop);
  const rate = part.rate * inner.rate;
  const until = Math.min(part.until ?? Infinity, outer.duration ?? Infinity);
  if (inner.duration === 0 || rate === 0) {
    const to = inner.duration === 0 || rate > 0 ? 0 : inner.duration;
    const end = Math.max(part.at, Math.min(part.until ?? part.at, until));
    return { runs: [{ start: part.at, end, from: to, to, speed: 1, lap: 0 }], ends: end };
  }
  if (repeat.count === Infinity && until === Infinity) {
    report('reel/part-endless', part.path, { clip: part.clip });
    return { runs: [], ends: part.at };
  }
  const passes = Math.min(repeat.count, ((until - part.at) * Math.abs(rate)) / inner.duration);
  if (passes > LIMITS.keys) {
    report('reel/too-many-keys', part.path, { count: Math.ceil(passes), limit: LIMITS.keys });
    return { runs: [], ends: part.at };
  }
  const runs = runsOf(inner.duration, repeat, rate, part.at, until, outer.fps);
  return { runs, ends: runs.at(-1)?.end ?? part.at };
}

function stretchesOf(
  inner: FlatClip,
  part: ResolvedPart,
  runs: readonly Run[],
  properties: Properties,
  report: Report,
): Stretch[] {
  if (runs.length === 0) return [];
  return inner.tracks.flatMap((track): Stretch[] => {
    const role = Object.hasOwn(part.roles, track.role) ? part.roles[track.role]! : track.role;
    const rest = track.name.slice(track.role.length);
    const property = properties.byName.get(`${role}.${track.property}`);
    if (property?.kind !== track.kind) {
      if (property) {
        const facts = { property: property.name, kind: property.kind, other: track.name, otherKind: track.kind };
        report('reel/part-kind', part.path, facts);
      }
      return [];
    }
    const { gain, ...facts } = track;
    const played = runSegments(track.segments, runs, gain && { isTurn: track.kind === 'quat', gain });
    const last = runs.at(-1)!.end;
    // A shape is active while its part plays, and no longer.
    const segments = isActivity(track) ? [...played.slice(0, -1), inactive(justAfter(last))] : played;
    const [from, until] = [runs[0]!.start, last];
    return [{ ...facts, name: role + rest, role, segments, from, until, source: `the part "${part.clip}"`, part }];
  });
}

/** One track for each property: its stretches one after the other, each holding until the next. */
function merge(stretches: readonly Stretch[], path: readonly string[], report: Report): FlatTrack[] {
  if (stretches.every(({ part }) => !part))
    return stretches.map((track) => ({ ...track, segments: withLead(track.segments) }));
  const byName = new Map<string, Stretch[]>();
  for (const stretch of stretches) byName.set(stretch.name, [...(byName.get(stretch.name) ?? []), stretch]);
  const wider = new Map<string, Stretch[]>();
  for (const stretch of [...stretches].sort((a, b) => b.width - a.width)) {
    const property = `${stretch.role}.${stretch.property}`;
    const others = wider.get(property) ?? [];
    const other = others.find((one) => one.name !== stretch.name && sharesNumbers(one, stretch));
    const place = (stretch.part ?? other?.part)?.path;
    if (other && place) report('reel/whole-and-channel', place, { track: stretch.name, other: other.name });
    wider.set(property, [...others, stretch]);
  }
  return [...byName.values()].map((list) => {
    const ordered = list.sort((a, b) => a.from - b.from || a.until - b.until);
    ordered.forEach((stretch, i) => {
      const before = ordered[i - 1];
      if (!before || before.until <= stretch.from) return;
      const place = stretch.part?.path ?? before.part?.path ?? path;
      const { name: property, from, until } = stretch;
      report('reel/part-overlap', place, { property, from, until, other: before.source });
    });
    reportDifferences(ordered, path, report);
    const { name, role, property, kind, channel, width, mix, turn, space, part } = ordered[0]!;
    const gain = ordered.find((stretch) => stretch.gain)?.gain;
    const segments = ordered.flatMap((stretch, i) => {
      const next = ordered[i + 1];
      return next ? stretch.segments.filter(({ start }) => start < next.from) : stretch.segments;
    });
    const facts = { name, role, property, kind, channel, width, mix, turn, space };
    const lead = part && isActivity(facts) && segments[0]!.start > 0 ? [inactive(0), ...segments] : withLead(segments);
    return { ...facts, ...(gain && { gain }), segments: lead };
  });
}

/** One track has one space, mix and turn, those of its first source; differences are reported. */
function reportDifferences([first, ...others]: readonly Stretch[], path: readonly string[], report: Report): void {
  for (const stretch of others) {
    for (const member of ['space', 'mix', 'turn'] as const) {
      if (stretch[member] === first![member]) continue;
      const place = stretch.part?.path ?? first!.part?.path ?? path;
      const [one, two] = stretch.part ? [stretch, first!] : [first!, stretch];
      const facts = { property: stretch.name, member, value: one[member], other: two.source, otherValue: two[member] };
      report('reel/part-differs', place, facts, 'warning');
    }
  }
}

/** From the first value of a track to its last. */
function gainOf(kind: Kind, segments: readonly Segment[]): readonly number[] {
  const [first, last] = [segments[0]!.from, segments.at(-1)!.from];
  return kind === 'quat' ? turnBetween(first, last) : last.map((n, k) => n - first[k]!);
}

/** A shape that is off. */
function inactive(start: number): Segment {
  return { start, origin: start, length: 1, from: [0], to: [0], easing: HELD, reversed: false };
}

/** Before the first key its value holds. */
export function withLead(segments: readonly Segment[]): readonly Segment[] {
  const first = segments[0]!;
  if (first.start <= 0) return segments;
  const { from, activation } = first;
  const still = first.frozen === undefined && !first.reversed && first.origin === first.start;
  const lead = still
    ? { ...inactive(0), from, to: from, ...(activation && { activation }) }
    : { ...first, start: 0, frozen: first.frozen ?? (first.start - first.origin) / first.length };
  return [lead, ...segments];
}
