import { NANOSECOND } from '../../time/units.js';
import type { PackedPieces } from './evaluate.js';
import { PIECE, type Pieces } from './pieces.js';

const BUCKETS_PER_PIECE = 2;
/** Slopes beyond this are kept in 64 bits: 32 end at 3e38. */
const STEEPEST = 1e30;

/** Lays out the pieces of all channels for evaluation. */
export function packPieces(channels: readonly Pieces[], duration: number): PackedPieces {
  const first = new Int32Array(channels.length);
  const bucket = new Int32Array(channels.length);
  const scales = new Float64Array(channels.length);
  let [pieceCount, bucketCount, most] = [0, 0, 0];
  channels.forEach((pieces, channel) => {
    const count = pieces.length / PIECE;
    const scale = scaleOf(count, duration);
    first[channel] = pieceCount;
    bucket[channel] = bucketCount;
    scales[channel] = scale;
    pieceCount += count + 1;
    // One more than the last: added to where the channel's buckets begin, the end of the clip may be rounded up to it.
    bucketCount += Math.floor(duration * scale) + 2;
    most = Math.max(most, count);
  });
  const buckets = most < 65_536 ? new Uint16Array(bucketCount) : new Uint32Array(bucketCount);
  const knots = new Float64Array(2 * pieceCount);
  const slopes = new Float64Array(3 * pieceCount);
  let isSteep = false;
  channels.forEach((pieces, channel) => {
    const end = pieces.length;
    const scale = scales[channel]!;
    let at = first[channel]!;
    let to = bucket[channel]!;
    for (let n = 0; n < end; n += PIECE, at++) {
      knots[2 * at] = pieces[n]!;
      knots[2 * at + 1] = pieces[n + 1]!;
      for (let k = 0; k < 3; k++) {
        const slope = pieces[n + 2 + k]!;
        slopes[3 * at + k] = slope;
        if (Math.abs(slope) > STEEPEST) isSteep = true;
      }
    }
    knots[2 * at] = Infinity;
    const last = to + Math.floor(duration * scale) + 1;
    for (let b = 0, p = 0; to <= last; b++, to++) {
      while (p + PIECE < end && Math.floor(pieces[p + PIECE]! * scale) < b) p += PIECE;
      buckets[to] = p / PIECE;
    }
  });
  return { first, bucket, scales, buckets, knots, slopes: isSteep ? slopes : new Float32Array(slopes) };
}

/** Buckets per second: so many that two pieces rarely start in one. */
function scaleOf(count: number, duration: number): number {
  return count < 2 || duration <= NANOSECOND ? 0 : (BUCKETS_PER_PIECE * count) / duration;
}
