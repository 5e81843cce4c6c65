import { checkReading, checkText, checkWriting } from '../given.js';
import type { ClipDocument, Reel, ReelDocument, TrackDocument } from 'unspool';
import { flatTracks } from 'unspool';
import { clipOf } from '../choose.js';
import { refuse } from '../errors.js';
import { motionOf } from '../motion/channels.js';
import { evenPlaces, type Arc } from '../motion/arcs.js';
import { cubicsOf, type CubicPiece } from '../motion/cubics.js';
import { keysOf } from '../motion/keys.js';
import { validName } from '../names.js';
import { Notes, pointer, type Converted } from '../report.js';
import { ArcLength, directionAt, pointAt, type Bezier } from './bezier-path.js';
import { curvesOf, findPath, type PathCurve } from './read-svg.js';

/** Options of `fromSvgPath`. */
export interface FromSvgPathOptions {
  /** The `id` of the path. Default: the only one of the drawing. */
  readonly path?: string;
  /** Default: the id of the path, else `object`. */
  readonly role?: string;
  /** Name of the clip. Default: `travel`. */
  readonly clip?: string;
  /** Seconds from one end to the other, greater than 0. Default: 1. */
  readonly duration?: number;
  /** `'length'`: at constant speed (default). `'segments'`: the same time for each segment, whatever its length. */
  readonly by?: 'length' | 'segments';
  /** Turns the role along the path: a `rotation` track. Default: false. */
  readonly turn?: boolean;
  /** The largest distance from where constant speed would be, in units of the path, greater than 0. Default: 0.0002. */
  readonly tolerance?: number;
}

/** How far a direction may be off, in degrees. */
const TURN_TOLERANCE = 0.01;

/**
 * Reads a path (the `d` of a path, or a drawing that has one) as a reel with one clip, whose `position` track moves
 * along it.
 *
 * @throws ConversionError for a drawing that cannot be read, and a path that is not there or draws nothing
 */
export function fromSvgPath(text: string, options: FromSvgPathOptions = {}): Converted<ReelDocument> {
  checkReading(options);
  const { duration = 1, by = 'length', turn = false, tolerance = 2e-4 } = options;
  checkText(text, 'drawing');
  if (!(duration > 0 && duration < Infinity)) refuse('option', `duration is ${duration}`, 'use seconds greater than 0');
  if (!(tolerance > 0)) refuse('option', `tolerance is ${tolerance}`, 'use a number greater than 0');
  if (by !== 'length' && by !== 'segments') refuse('option', `by is ${JSON.stringify(by)}`, 'use length or segments');
  const notes = new Notes();
  const curves = curvesOf(findPath(text, options.path), notes);
  const role = validName(options.role ?? options.path ?? 'object', 'object');
  const name = validName(options.clip ?? 'travel', 'travel');
  const at = (track: string) => pointer('clips', name, 'tracks', track);
  const stretches = timed(curves, duration, by);
  const tracks: Record<string, TrackDocument> = {};
  const moved = cubicsOf(stretches.map(({ arc }) => arc), tolerance); // prettier-ignore
  tracks[`${role}.position`] = keysOf(moved.pieces);
  if (moved.error > 0) notes.approximated(at(`${role}.position`), `${role}.position at constant speed`, moved.error);
  else notes.kept(at(`${role}.position`), `${role}.position`);
  if (turn) {
    const turned = cubicsOf(directions(stretches), TURN_TOLERANCE);
    tracks[`${role}.rotation`] = keysOf(turned.pieces);
    notes.approximated(at(`${role}.rotation`), `${role}.rotation along the path`, turned.error, 'degrees');
  }
  const clip: ClipDocument = { duration, tracks };
  return notes.of({ unspool: 1, roles: { [role]: {} }, clips: { [name]: clip } });
}

interface Stretch {
  readonly curve: Bezier;
  /** The parameter of the curve at a time. */
  readonly parameter: (seconds: number) => number;
  readonly arc: Arc;
}

/** Each curve with its time. */
function timed(curves: readonly PathCurve[], duration: number, by: 'length' | 'segments'): Stretch[] {
  const lengths = curves.map(({ curve }) => new ArcLength(curve));
  const shares = lengths.map(({ total }, i) => (by === 'length' ? total : curves[i]!.share));
  const sum = shares.reduce((a, b) => a + b, 0);
  let done = 0;
  return curves.map(({ curve }, i) => {
    const start = (duration * done) / sum;
    done += shares[i]!;
    const end = i + 1 === curves.length ? duration : (duration * done) / sum;
    const part = (seconds: number) => Math.min(1, Math.max(0, (seconds - start) / (end - start)));
    const isLine = isStraight(curve);
    const parameter =
      by === 'segments' || isLine
        ? part
        : (seconds: number) => lengths[i]!.parameterAt(part(seconds) * lengths[i]!.total);
    const at = (seconds: number) => pointAt(curve, parameter(seconds));
    const form = isLine ? 'line' : by === 'segments' ? 'cubic' : 'other';
    return { curve, parameter, arc: { start, end, form, at, places: evenPlaces } };
  });
}

/** A line that is travelled at constant speed: its inner points lie at its thirds. */
function isStraight([a, b, c, d]: Bezier): boolean {
  return ([0, 1] as const).every((k) => {
    const third = (d[k] - a[k]) / 3;
    return Math.abs(b[k] - a[k] - third) < 1e-12 && Math.abs(d[k] - c[k] - third) < 1e-12;
  });
}

/** The direction of travel, without a jump of a whole turn from one moment to the next. */
function directions(stretches: readonly Stretch[]): Arc[] {
  let before: number | undefined;
  return stretches.map(({ curve, parameter, arc }): Arc => {
    const follow = (angle: number, near: number) => angle + 360 * Math.round((near - angle) / 360);
    // Followed in small steps: a curve may turn round more than once.
    const known = [follow(directionAt(curve, 0), before ?? 0)];
    for (let i = 1; i <= 128; i++) known.push(follow(directionAt(curve, i / 128), known[i - 1]!));
    before = known[128];
    const at = (seconds: number) => {
      const t = parameter(seconds);
      return [follow(directionAt(curve, t), known[Math.round(t * 128)]!)];
    };
    return { ...arc, at, form: arc.form === 'line' ? 'still' : 'other' };
  });
}

/** Options of `toSvgPath`. */
export interface ToSvgPathOptions {
  /** The clip. Default: the only one. */
  readonly clip?: string;
  /** The role whose position is drawn. Default: the only one that moves. */
  readonly role?: string;
  /** The largest error of curves that are no cubics, in the units of the position, greater than 0. Default: 0.001. */
  readonly tolerance?: number;
}

/** What `toSvgPath` returns. */
export interface SvgPath {
  /** The `d` of the path. */
  readonly d: string;
  /** A drawing with it, as a file. */
  readonly svg: string;
}

/** The motion path of a role in a clip as an SVG path: its own position, without those of its parents. */
export function toSvgPath(reel: Reel, options: ToSvgPathOptions = {}): Converted<SvgPath> {
  checkWriting(reel, options);
  const { tolerance = 1e-3 } = options;
  if (!(tolerance > 0)) refuse('option', `tolerance is ${tolerance}`, 'use a number greater than 0');
  const clip = clipOf(reel, options.clip);
  const moving = clip.layout.slots.filter(({ property }) => property === 'position');
  const names = moving.map(({ role }) => role);
  const choice = names.length > 0 ? `use one of: ${names.join(', ')}` : 'choose a clip in which one moves';
  if (options.role === undefined && names.length !== 1)
    refuse('option', `${names.length} roles move in ${JSON.stringify(clip.name)}`, choice);
  const role = options.role ?? names[0]!;
  const slot = moving.find((one) => one.role === role);
  if (!slot) refuse('option', `${JSON.stringify(role)} does not move in ${JSON.stringify(clip.name)}`, choice);
  const notes = new Notes();
  const tracks = flatTracks(reel, clip.name).filter((one) => one.role === role && one.property === 'position');
  const { kind, rest } = slot;
  const motion = motionOf(tracks, { kind, rest, isFactor: false, duration: clip.duration, tolerance });
  const at = pointer('clips', clip.name, 'tracks', `${role}.position`);
  if (motion.error > 0) notes.approximated(at, `${role}.position`, motion.error);
  else notes.kept(at, `${role}.position`);
  if (kind === 'vec3') notes.dropped(at, 'its z');
  const parent = reel.document.roles?.[role]?.parent;
  if (parent !== undefined) notes.dropped(at, `the motion of its parent, ${parent}`);
  notes.dropped(pointer('clips', clip.name), 'when it is where: a path has no times');
  const d = pathOf(motion.pieces);
  return notes.of({ d, svg: drawing(role, d, motion.pieces) });
}

const short = (n: number) => String(Number(n.toPrecision(9)) + 0);
const pair = (piece: CubicPiece, i: 0 | 1 | 2 | 3) => `${short(piece.values[0]![i])},${short(piece.values[1]![i])}`;

function pathOf(pieces: readonly CubicPiece[]): string {
  const steps: string[] = [];
  let here: string | undefined;
  for (const piece of pieces) {
    const start = pair(piece, 0);
    if (start !== here) steps.push(`M${start}`);
    here = pair(piece, 3);
    if (piece.form === 'line') steps.push(`L${here}`);
    if (piece.form === 'cubic') steps.push(`C${pair(piece, 1)} ${pair(piece, 2)} ${here}`);
  }
  return steps.join(' ');
}

function drawing(role: string, d: string, pieces: readonly CubicPiece[]): string {
  const [x, y] = ([0, 1] as const).map((k) => pieces.flatMap(({ values }) => [...values[k]!]));
  const [left, top] = [Math.min(...x!), Math.min(...y!)];
  const [width, height] = [Math.max(...x!) - left, Math.max(...y!) - top];
  const margin = Math.max(width, height, 1) / 20;
  const box = [left - margin, top - margin, width + 2 * margin, height + 2 * margin].map(short).join(' ');
  const stroke = short(margin / 4);
  return `<svg xmlns="http://www.w3.org/2000/svg" viewBox="${box}">\n  <path id="${role}" d="${d}" fill="none" stroke="currentColor" stroke-width="${stroke}"/>\n</svg>\n`;
}
