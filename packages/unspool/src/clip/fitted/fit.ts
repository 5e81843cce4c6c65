import { multiplyQuat } from '../../value/quat.js';
import {
  ABSOLUTE,
  HEAD_FIRST,
  HEAD_GAIN,
  HEAD_MIX,
  HEAD_SIZE,
  HEAD_SPACE,
  HEAD_TARGET,
  HEAD_WIDTH,
  MIX_COLORS,
  MIX_QUATS,
  MULTIPLIED,
  type Curves,
} from '../curves.js';
import type { Fitted } from './evaluate.js';
import { gridFor } from './grid.js';
import { packPieces } from './pack-pieces.js';
import { addPiece, type Pieces } from './pieces.js';
import { SegmentFit } from './segment.js';

/**
 * Fits a clip, one segment or one frame per step, so that the caller can stop after any step and continue later.
 *
 * @param fps  frames per second: a grid has a cell for each; 0 for no grid
 * @param rest the pose at rest
 * @param base see `sampleCurves`
 * @returns the fitted clip, when it is done
 */
export function* fitClip(
  curves: Curves,
  duration: number,
  fps: number,
  rest: Float64Array,
  base: Float64Array,
): Generator<undefined, Fitted> {
  const { count, heads, starts } = curves;
  const channels: Pieces[] = Array.from(rest, () => []);
  const colors: number[] = [];
  const fit = new SegmentFit(curves, duration, base);
  for (let c = 0; c < count; c++) {
    const head = c * HEAD_SIZE;
    const first = heads[head + HEAD_FIRST]!;
    const mix = heads[head + HEAD_MIX]!;
    if (mix >= MIX_COLORS) colors.push(heads[head + HEAD_TARGET]!, mix - MIX_COLORS);
    for (let s = first; starts[s]! < Infinity; s++) {
      if (starts[s]! > duration && s > first) break;
      fit.add(c, s, channels);
      yield;
    }
  }
  channels.forEach((pieces, channel) => {
    if (pieces.length === 0) addPiece(pieces, 0, rest[channel]!, 0, 0, 0, 0);
  });
  const cells = gridFor(channels, duration, fps);
  for (let cell = 0; cells && cell <= cells.frames; cell++) {
    cells.addCell(cell);
    yield;
  }
  const grid = cells?.finish();
  const packed = cells ? cells.searched.map((channel) => channels[channel]!) : channels;
  const shared = { channels: channels.length, colors: Int32Array.from(colors), ...gainsOf(curves, base) };
  return { ...shared, grid, pieces: packPieces(packed, duration) };
}

/** What each lap adds to a channel, and how it turns a quaternion, where offsets are on their base. */
function gainsOf({ count, heads, gains }: Curves, base: Float64Array): Pick<Fitted, 'gains' | 'turns'> {
  const found: Record<'gains' | 'turns', number[]> = { gains: [], turns: [] };
  for (let head = 0; head < count * HEAD_SIZE; head += HEAD_SIZE) {
    const gain = heads[head + HEAD_GAIN]!;
    if (gain < 0) continue;
    const [target, space] = [heads[head + HEAD_TARGET]!, heads[head + HEAD_SPACE]!];
    if (heads[head + HEAD_MIX] !== MIX_QUATS) {
      for (let k = 0; k < heads[head + HEAD_WIDTH]!; k++)
        found.gains.push(target + k, gains[gain + k]! * (space === MULTIPLIED ? base[target + k]! : 1));
      continue;
    }
    const axis = [...gains.subarray(gain, gain + 3)];
    const [x, y, z] = space === ABSOLUTE ? axis : turned(base, target, axis);
    found.turns.push(target, x!, y!, z!, gains[gain + 3]!);
  }
  return { gains: Float64Array.from(found.gains), turns: Float64Array.from(found.turns) };
}

/** A direction as a quaternion turns it: q · v · q⁻¹. */
function turned(quat: Float64Array, at: number, direction: readonly number[]): readonly number[] {
  const inverse = [-quat[at]!, -quat[at + 1]!, -quat[at + 2]!, quat[at + 3]!];
  const out = Float64Array.of(...direction, 0);
  multiplyQuat(quat, at, out, 0, out, 0);
  multiplyQuat(out, 0, inverse, 0, out, 0);
  return [...out];
}
