import { checkWriting } from '../given.js';
import { flatTracks, isActivity, isShape, KINDS, type Clip, type FlatTrack, type Reel, type Slot } from 'unspool';
import { refuse } from '../errors.js';
import { arcsOf, JUMP, NANOSECOND } from '../motion/arcs.js';
import { byProperty } from '../motion/channels.js';
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

export function clipsOf(reel: Reel, options: CssOptions): { names: readonly string[]; tolerance: number } {
  checkWriting(reel, options);
  const { clips, tolerance = 1e-3 } = options;
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
      if (isShape(track.kind) && !isActivity(track)) notes.dropped(place(clip, track), `${track.name}: shapes are not written as CSS`); // prettier-ignore
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
    const isSampled =
      slot.kind === 'color' && written.some((track) => color === 'linear' || !isAsWritten(track, clip.duration));
    for (const track of written) if (track.gain) notes.startsAnew(place(clip, track), track.name);
    const absolute = written.map((track) => fromRest(track, slot, clip, notes));
    const { frames, error } = isSampled
      ? { frames: sampledColors(clip, slot, absolute), error: COLOR_ERROR }
      : turnsInDegrees(slot, (within) => framesOf(absolute, slot.rest, clip.duration, within), tolerance);
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

/** Samples of colors that are mixed as no browser does, beside those of their easing; and what lines between them miss. */
const EVEN = Array.from({ length: 32 }, (_, k) => k / 32);
const COLOR_ERROR = 0.005;

/** Whether every segment is shown as it is written: not cut, reversed or frozen, and eased, not a curve. */
const isAsWritten = ({ segments }: FlatTrack, duration: number) =>
  segments.every(({ start, origin, length, easing, bends, reversed, frozen }, i) => {
    const next = segments[i + 1]?.start;
    if (easing.kind === 'hold' || next === undefined || start >= duration) return true;
    const isWhole = start === origin && Math.abs(Math.min(next, duration) - origin - length) < 1e-9;
    return isWhole && !reversed && !bends && frozen === undefined;
  });

function sampledColors(clip: Clip, slot: Slot, tracks: readonly FlatTrack[]): Frame[] {
  const pose = clip.createPose();
  const colorAt = (time: number) => clip.sampleInside(time, pose).get(slot.name) as readonly number[];
  const arcs = tracks.flatMap((track) => arcsOf(track, clip.duration)).sort((a, b) => a.start - b.start);
  const frames = arcs.flatMap(({ start, end, form, places }): Frame[] => {
    if (form === 'still') return [{ time: start, values: colorAt(start + JUMP / 2), easing: 'steps(1)' }];
    const shares = [...new Set([...places(), ...EVEN])].sort((a, b) => a - b).filter((share) => share < 1);
    const sampled = shares.map((share): Frame => {
      const time = start + (end - start) * share;
      return { time, values: colorAt(share === 0 ? time + NANOSECOND : time), easing: 'linear' };
    });
    const inside = sampled.flatMap((frame, k) => [frame, ...between(frame, sampled[k + 1], colorAt, DEEPEST)]);
    // Where it goes to, which is not where the next one begins when that jumps.
    return [...inside, { time: end, values: colorAt(end - NANOSECOND), easing: 'linear' }];
  });
  return [...frames, { time: clip.duration, values: colorAt(clip.duration), easing: 'linear' }];
}

/** Halvings between two samples of a color. */
const DEEPEST = 8;

/** More samples where a straight line from one to the next is too far off: a color that saturates has corners. */
function between(a: Frame, b: Frame | undefined, colorAt: (time: number) => readonly number[], depth: number): Frame[] {
  if (!b || depth === 0) return [];
  const time = (a.time + b.time) / 2;
  const middle: Frame = { time, values: colorAt(time), easing: 'linear' };
  const [from, real, to] = [a, middle, b].map(({ values }) => premultiplied(values));
  const isNear = real!.every((n, k) => Math.abs(n - (from![k]! + to![k]!) / 2) < COLOR_ERROR / 2);
  if (isNear) return [];
  return [...between(a, middle, colorAt, depth - 1), middle, ...between(middle, b, colorAt, depth - 1)];
}

/** As browsers mix it. */
const premultiplied = ([r = 0, g = 0, b = 0, alpha = 1]: readonly number[]) => [r * alpha, g * alpha, b * alpha, alpha];

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

/** Frames with their offsets, from 0 to 1: before the first and after the last, these are held. */
export function placed(frames: readonly Frame[], duration: number): (readonly [offset: number, frame: Frame])[] {
  const list = frames.map((frame) => [duration > 0 ? Math.min(1, frame.time / duration) : 0, frame] as const);
  const [first, last] = [list[0]!, list.at(-1)!];
  return [
    ...(first[0] > 0 ? [[0, { ...first[1], easing: 'steps(1)' }] as const] : []),
    ...list,
    ...(last[0] < 1 ? [[1, { ...last[1], easing: 'linear' }] as const] : []),
  ];
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

/** What says which clips play when, of a reel that is converted whole: no page reads it. */
export function noteSequences(reel: Reel, clips: readonly string[], what: string, notes: Notes): void {
  if (clips.length < Object.keys(reel.clips).length) return;
  const { chains = {}, facings = {}, routines = {} } = reel.document;
  for (const [member, map] of Object.entries({ chains, facings, routines })) {
    const names = Object.keys(map);
    if (names.length > 0) notes.dropped(pointer(member), `${member} ${names.join(', ')}: ${what} has none`);
  }
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
