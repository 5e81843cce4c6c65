import type { FlatTrack, Reel } from 'unspool';
import { arcsOf, evenPlaces, NANOSECOND, type Arc } from './arcs.js';
import { cubicsOf, cutPiece, type CubicPiece, type Cubics } from './cubics.js';
import { product, turnAboutZ, unit, type Quat } from './quaternion.js';

/** What a clip does to one property, as pieces of all its channels. */
export interface PropertyMotion extends Cubics {
  readonly tracks: readonly FlatTrack[];
  /** Whether tracks that are offsets were counted from the rest value. */
  readonly isFromRest: boolean;
}

/** A turn of more than this in one LINEAR step could be taken the other way round. */
const LARGEST_STEP = 120;

interface Place {
  readonly kind: string;
  readonly rest: readonly number[];
  /** How offsets are counted. */
  readonly isFactor: boolean;
  readonly duration: number;
  readonly tolerance: number;
}

/** The channels of a property, from its whole track or from those of its channels. */
export function motionOf(tracks: readonly FlatTrack[], place: Place): PropertyMotion {
  const isFromRest = tracks.some(({ space }) => space === 'offset');
  const { rest, duration, tolerance } = place;
  if (place.kind === 'angle' || place.kind === 'quat') {
    return { ...turnsOf(tracks[0]!, place), tracks, isFromRest };
  }
  const channels: (readonly CubicPiece[])[] = rest.map((n) => [stillPiece(n, duration)]);
  let error = 0;
  for (const track of tracks) {
    const first = Math.max(0, track.channel);
    const base = rest.slice(first, first + track.width);
    const arcs = arcsOf(track, duration).map((arc) => (track.space === 'offset' ? counted(arc, base, place) : arc));
    const cubics = cubicsOf(arcs, tolerance);
    error = Math.max(error, cubics.error);
    for (let k = 0; k < track.width; k++) {
      channels[first + k] = cubics.pieces.map((piece) => ({ ...piece, values: [piece.values[k]!] }));
    }
  }
  return { pieces: joined(channels), error, tracks, isFromRest };
}

export const stillPiece = (n: number, duration: number): CubicPiece => ({
  ...{ start: 0, end: Math.max(duration, 1e-3), form: 'still' },
  values: [[n, n, n, n]],
});

function counted(arc: Arc, base: readonly number[], { isFactor }: Place): Arc {
  const at = (seconds: number) => arc.at(seconds).map((n, k) => (isFactor ? base[k]! * n : base[k]! + n));
  return { ...arc, at };
}

/** Channels with times of their own as pieces of all of them: cut wherever one begins. */
export function joined(channels: readonly (readonly CubicPiece[])[]): CubicPiece[] {
  const ends = channels.flatMap((pieces) => [0, ...pieces.map(({ end }) => end)]).sort((a, b) => a - b);
  const times = ends.filter((time, i) => i === 0 || time - ends[i - 1]! > NANOSECOND);
  const places = channels.map(() => 0);
  return times.slice(1).map((end, i) => {
    const start = times[i]!;
    const cut = channels.map((pieces, c) => {
      while (places[c]! + 1 < pieces.length && pieces[places[c]!]!.end <= start) places[c]!++;
      const piece = pieces[places[c]!]!;
      // A channel that has ended stays where it ended.
      if (piece.end <= start) return stillAt(piece, start, end);
      return cutPiece(piece, start, end);
    });
    const form = cut.some((piece) => piece.form === 'cubic')
      ? 'cubic'
      : cut.some((piece) => piece.form === 'line')
        ? 'line'
        : 'still';
    return { start, end, form, values: cut.flatMap(({ values }) => values) };
  });
}

function stillAt({ values }: CubicPiece, start: number, end: number): CubicPiece {
  return { start, end, form: 'still', values: values.map(([, , , n]) => [n, n, n, n] as const) };
}

/** Rotations as unit quaternions whose signs go on from key to key. */
function turnsOf(track: FlatTrack, { kind, rest, duration, tolerance }: Place): Cubics {
  const toTurn = (value: readonly number[]): Quat => (kind === 'angle' ? turnAboutZ(value[0]!) : value);
  const base = track.space === 'offset' ? toTurn(rest) : undefined;
  const written = arcsOf(track, duration);
  const plain = written.map((arc): Arc => {
    const at = (seconds: number) => {
      const turn = toTurn(arc.at(seconds));
      return base ? product(base, turn) : turn;
    };
    // Half of an angle that goes on steadily is a turn at constant speed.
    if (arc.form === 'line') return { ...arc, at, form: 'turn' };
    // A curve through quaternions is a cubic in glTF too, where it begins and ends with unit ones.
    const isExact =
      kind === 'quat' && [arc.start, arc.end].every((time) => Math.abs(Math.hypot(...at(time)) - 1) < 1e-9);
    if (arc.form !== 'cubic' || isExact) return { ...arc, at };
    return { ...arc, at: (seconds) => unit(at(seconds)), form: 'other', places: evenPlaces };
  });
  const arcs = continuous(plain);
  if (arcs.every(({ form }) => form === 'still' || form === 'turn')) {
    const degrees = ({ start, end, at }: Arc) => (kind === 'quat' ? 0 : Math.abs(at(end)[0]! - at(start)[0]!));
    return { pieces: arcs.flatMap((arc, i) => linePieces(arc, degrees(written[i]!))), error: 0 };
  }
  const fitted = cubicsOf(
    arcs.map((arc) => (arc.form === 'turn' ? { ...arc, form: 'other' as const, places: evenPlaces } : arc)),
    // A turn by an angle changes each number by half of it at most, in radians.
    ((tolerance / 2) * Math.PI) / 360,
  );
  return { pieces: fitted.pieces, error: (fitted.error * Math.SQRT2 * 360) / Math.PI };
}

/** A turn at constant speed in steps that have one shorter way. */
function linePieces(arc: Arc, degrees: number): CubicPiece[] {
  const steps = Math.max(1, Math.ceil(degrees / LARGEST_STEP));
  const time = (k: number) => (k === steps ? arc.end : arc.start + ((arc.end - arc.start) * k) / steps);
  return Array.from({ length: steps }, (_, k) => {
    const [from, to] = [arc.at(time(k)), arc.at(time(k + 1))];
    const values = from.map((n, c) => {
      const way = (to[c]! - n) / 3;
      return [n, n + way, to[c]! - way, to[c]!] as const;
    });
    return { start: time(k), end: time(k + 1), form: arc.form === 'still' ? 'still' : 'line', values };
  });
}

/** −q turns as q does: each arc begins with the sign that the one before ended with. */
function continuous(arcs: readonly Arc[]): Arc[] {
  let before: readonly number[] | undefined;
  return arcs.map((arc) => {
    const start = arc.at(arc.start);
    const isOther = before && start.reduce((sum, n, k) => sum + n * before![k]!, 0) < 0;
    const signed: Arc = isOther ? { ...arc, at: (seconds) => arc.at(seconds).map((n) => -n) } : arc;
    before = signed.at(arc.end);
    return signed;
  });
}

/** The tracks of a clip by the property that they animate. */
export function byProperty(reel: Reel, tracks: readonly FlatTrack[]): ReadonlyMap<string, readonly FlatTrack[]> {
  const found = new Map<string, FlatTrack[]>();
  for (const track of tracks) {
    const name = `${track.role}.${track.property}`;
    if (!reel.layout.find(name)) continue;
    found.set(name, [...(found.get(name) ?? []), track]);
  }
  return found;
}
