import { flatTracks, isActivity, isShape, KINDS, type Clip, type FlatTrack, type Reel, type Slot } from 'unspool';
import { refuse } from '../errors.js';
import { byProperty } from '../gltf/channels.js';
import { counted, pointer, type Notes } from '../report.js';
import { cssProperty, type CssProperty } from './properties.js';
import { framesOf, type Frame, type Frames } from './frames.js';

/** What a clip does to one property of a role. */
export interface PropertyAnimation {
  readonly role: string;
  readonly css: CssProperty;
  readonly frames: readonly Frame[];
}

/** Options of `toCss` and `toWebAnimations`. */
export interface CssOptions {
  /** Names of the clips to write. Default: all. */
  readonly clips?: readonly string[];
  /**
   * The largest error of curves that no easing of CSS can say (`smooth` and `curve` of points), in the units of the
   * property, greater than 0. Default: 0.001. Named easings become `linear()` within 0.0001 of the way.
   */
  readonly tolerance?: number;
}

export function clipsOf(
  reel: Reel,
  { clips, tolerance = 1e-3 }: CssOptions,
): { names: readonly string[]; tolerance: number } {
  if (!(tolerance > 0)) refuse('option', `tolerance is ${tolerance}`, 'use a number greater than 0');
  const names = clips ?? Object.keys(reel.clips);
  names.forEach((name) => reel.clip(name));
  return { names, tolerance };
}

/** All that CSS can say of a clip; the rest is noted. */
export function animationsOf(reel: Reel, clip: Clip, tolerance: number, notes: Notes): PropertyAnimation[] {
  const found: PropertyAnimation[] = [];
  for (const [name, tracks] of byProperty(reel, flatTracks(reel, clip.name))) {
    const slot = reel.layout.slot(name);
    const written = tracks.filter((track) => !isShape(track.kind));
    for (const track of tracks) {
      if (isShape(track.kind) && !isActivity(track)) notes.dropped(place(clip, track), `${track.name}: CSS has no hit shapes`); // prettier-ignore
    }
    const color = slot.kind === 'color' ? tracks[0]!.mix : undefined;
    // `linear` is no space of CSS: such colors are sampled in sRGB.
    const css = cssProperty(slot, color === 'linear' ? 'srgb' : color);
    if (written.length === 0) continue;
    if (!css) {
      for (const track of written)
        notes.dropped(place(clip, track), `${track.name}: CSS has no animated ${slot.kind}s`);
      continue;
    }
    const isSampled = slot.kind === 'color' && written.some((track) => color === 'linear' || !isAsWritten(track));
    const counted = written.map((track) => fromRest(track, slot, clip, notes));
    const { frames, error } = isSampled
      ? { frames: sampledColors(clip, slot, counted), error: COLOR_ERROR }
      : turnsInDegrees(slot, (within) => framesOf(counted, slot.rest, clip.duration, within), tolerance);
    for (const track of written) {
      const unit = slot.kind === 'angle' || slot.kind === 'quat' ? 'degrees' : slot.kind === 'color' ? '' : 'units';
      if (error > 0) notes.approximated(place(clip, track), track.name, error, unit);
      else if (track.space === 'absolute') notes.kept(place(clip, track), track.name);
    }
    found.push({ role: slot.role, css, frames: KINDS[slot.kind].held ? held(frames) : frames });
  }
  return found;
}

/** Numbers of a quaternion change by half of an angle at most, in radians. */
function turnsInDegrees({ kind }: Slot, make: (tolerance: number) => Frames, tolerance: number): Frames {
  if (kind !== 'quat') return make(tolerance);
  const { frames, error } = make((tolerance / 3) * (Math.PI / 360));
  return { frames, error: error * 3 * (360 / Math.PI) };
}

/** Samples between two keys of colors that are mixed as no browser does, and what straight lines between them miss. */
const COLOR_SAMPLES = 32;
const COLOR_ERROR = 0.005;

/** Whether every segment is shown as it is written: not cut, reversed or frozen. */
const isAsWritten = ({ segments }: FlatTrack) =>
  segments.every(({ start, origin, reversed, frozen }, i) => {
    const { length, easing } = segments[i]!;
    const end = segments[i + 1]?.start;
    const isWhole = easing.kind === 'hold' || end === undefined || Math.abs(end - origin - length) < 1e-9;
    return !reversed && frozen === undefined && start === origin && isWhole;
  });

function sampledColors(clip: Clip, slot: Slot, tracks: readonly FlatTrack[]): Frame[] {
  const pose = clip.createPose();
  const starts = tracks.flatMap(({ segments }) => segments.map(({ start }) => start));
  const times = [...new Set([0, ...starts.filter((time) => time < clip.duration), clip.duration])].sort(
    (a, b) => a - b,
  );
  const dense = times.slice(1).flatMap((end, i) => Array.from({ length: COLOR_SAMPLES }, (_, k) => times[i]! + ((end - times[i]!) * k) / COLOR_SAMPLES)); // prettier-ignore
  return [...dense, clip.duration].map((time) => {
    const values = clip.sampleInside(time, pose).get(slot.name) as readonly number[];
    return { time, values, easing: 'linear' };
  });
}

/** Animations by their role, in the order in which roles come. */
export function byRole(animations: readonly PropertyAnimation[]): ReadonlyMap<string, readonly PropertyAnimation[]> {
  const found = new Map<string, PropertyAnimation[]>();
  for (const one of animations) found.set(one.role, [...(found.get(one.role) ?? []), one]);
  return found;
}

const place = (clip: Clip, { name }: FlatTrack) => pointer('clips', clip.name, 'tracks', name);
const held = (frames: readonly Frame[]) => frames.map((frame) => ({ ...frame, easing: 'steps(1)' }));

/** An offset as what it shows above the rest value. */
function fromRest(track: FlatTrack, slot: Slot, clip: Clip, notes: Notes): FlatTrack {
  if (track.space === 'absolute') return track;
  notes.approximated(place(clip, track), `${track.name} is an offset; it is written as it is added to the rest value`);
  const isFactor = slot.property === 'scale' || slot.property === 'opacity';
  const first = Math.max(0, track.channel);
  const base = (k: number) => slot.rest[first + k]!;
  const change = (numbers: readonly number[]) => numbers.map((n, k) => (isFactor ? base(k) * n : base(k) + n));
  const segments = track.segments.map((segment) => {
    const bends = segment.bends?.map(([x1, dv1, x2, dv2], k) => {
      const factor = isFactor ? base(k) : 1;
      return [x1, dv1 * factor, x2, dv2 * factor] as const;
    });
    return { ...segment, from: change(segment.from), to: change(segment.to), ...(bends && { bends }) };
  });
  return { ...track, space: 'absolute', segments };
}

/** When and how often a clip plays, in the words of Web Animations. */
export interface Timing {
  /** Milliseconds. */
  readonly duration: number;
  /** `'Infinity'` for ever, as JSON has no such number; browsers take it. */
  readonly iterations: number | 'Infinity';
  readonly direction: 'normal' | 'reverse' | 'alternate' | 'alternate-reverse';
  readonly fill: 'forwards' | 'none';
}

export function timingOf({ duration, repeat, rate, after }: Clip): Timing {
  const alternates = repeat.mode === 'ping-pong';
  const isBack = rate < 0;
  const count = repeat.mode === 'once' ? 1 : repeat.count;
  // There and back is the same backwards: an even count begins where it begins forwards.
  const isSame = alternates && count % 2 === 0;
  return {
    duration: rate === 0 ? duration * 1000 : (duration * 1000) / Math.abs(rate),
    iterations: Number.isFinite(count) ? count : 'Infinity',
    direction: alternates ? (isBack && !isSame ? 'alternate-reverse' : 'alternate') : isBack ? 'reverse' : 'normal',
    fill: after === 'hold' ? 'forwards' : 'none',
  };
}

/** Everything of a clip that is no track. */
export function noteRest(clip: Clip, what: string, notes: Notes): void {
  const at = pointer('clips', clip.name);
  if (clip.cues.length > 0) notes.dropped(`${at}/cues`, `${counted(clip.cues.length, 'cue')}: ${what} has none`);
  if (Object.keys(clip.spans).length > 0) notes.dropped(`${at}/spans`, `${what} has no spans`);
  const { count } = clip.repeat;
  if (clip.rate < 0 && Number.isFinite(count) && !Number.isInteger(count))
    notes.approximated(`${at}/rate`, `${count} iterations backwards begin at the end of one, not within it`);
  if (clip.rate === 0) notes.dropped(`${at}/rate`, 'a rate of 0');
}
