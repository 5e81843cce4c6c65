import { sine } from '../easing/sine.js';
import { easingRange, powersRange, solveBoth } from '../easing/range.js';
import { HOLD } from '../easing/evaluate.js';
import { multiplyQuat } from '../value/quat.js';
import { SOLVER_SIZE } from '../easing/cubic.js';
import {
  ABSOLUTE,
  ADDED,
  CODE,
  CUBIC,
  CUBIC_SIZE,
  CUT,
  FROZEN,
  HANDLES,
  HANDLES_SIZE,
  type SegmentCode,
  HEAD_BUCKET,
  HEAD_GAIN,
  HEAD_MIX,
  HEAD_SPACE,
  HEAD_TARGET,
  HEAD_WIDTH,
} from './curves.js';
import { HEAD_SIZE, MIX_COLORS, MIX_QUATS, RARE, REVERSED, type Curves } from './curves.js';

/** Of a segment: two times, the progresses and the parameters there, and the range of its values between them. */
const span = new Float64Array(2);
const range = new Float64Array(2);
const between = new Float64Array(2);
const inner = new Float64Array(2);
const quat = { low: new Float64Array(4), high: new Float64Array(4) };

/**
 * Computes the range of every curve between two times, exactly, from the curves themselves. The bounds of a quaternion
 * are wider than its motion. Colors are skipped; their numbers keep their value.
 *
 * @param times two times in seconds inside the clip, in order. A list, because the engine may box numbers that are passed
 * @param laps the first and the last lap on the way: what accumulates has been gained so often
 * @param base what offsets are added to, laid out as the bounds: its least and greatest numbers
 * @param low, high receive the bounds at each curve's target; numbers that no curve writes stay as they are
 */
export function boundCurves(
  curves: Curves,
  times: ArrayLike<number>,
  base: { readonly low: Float64Array; readonly high: Float64Array },
  low: Float64Array,
  high: Float64Array,
  laps?: ArrayLike<number>,
): void {
  const { count, heads, starts, codes } = curves;
  const from = times[0]!;
  const until = times[1]!;
  for (let c = 0; c < count; c++) {
    const head = c * HEAD_SIZE;
    const mix = heads[head + HEAD_MIX]!;
    if (mix >= MIX_COLORS) continue;
    const width = heads[head + HEAD_WIDTH]!;
    const target = heads[head + HEAD_TARGET]!;
    for (let k = target; k < target + width; k++) {
      low[k] = Infinity;
      high[k] = -Infinity;
    }
    let s = segmentAt(curves, c, times);
    do {
      span[0] = Math.max(from, starts[s]!);
      span[1] = Math.min(until, starts[s + 1]!);
      const code = codes[s]! & ~RARE;
      if (code === HOLD) holdBounds(curves, s, width, target, low, high);
      else if (mix === MIX_QUATS) quatBounds(curves, s, code, target, low, high);
      else segmentBounds(curves, s, code, width, target, low, high);
      s++;
    } while (starts[s]! <= until);
    const gain = heads[head + HEAD_GAIN]!;
    if (gain >= 0 && laps) gainBounds(curves, gain, laps, mix === MIX_QUATS, width, target, low, high);
    const space = heads[head + HEAD_SPACE]!;
    if (space !== ABSOLUTE) offsetBounds(space === ADDED, mix === MIX_QUATS, base, width, target, low, high);
  }
}

/** The segment of a curve at the first of some times: its bucket has the last two that may be it, and those before are few. */
function segmentAt({ heads, scales, buckets, starts }: Curves, c: number, times: ArrayLike<number>): number {
  const time = times[0]!;
  let s = buckets[heads[c * HEAD_SIZE + HEAD_BUCKET]! + Math.floor(time * scales[c]!) + 1]!;
  while (starts[s]! > time) s--;
  return s;
}

function widen(low: Float64Array, high: Float64Array, k: number, least: number, most: number): void {
  if (least < low[k]!) low[k] = least;
  if (most > high[k]!) high[k] = most;
}

function holdBounds(
  { from, values }: Curves,
  s: number,
  width: number,
  target: number,
  low: Float64Array,
  high: Float64Array,
): void {
  for (let k = 0; k < width; k++) widen(low, high, target + k, values[from[s]! + k]!, values[from[s]! + k]!);
}

/**
 * Writes from where to where a segment goes between the times of `span`, as sampling has it, the lesser first: reversed,
 * it goes back. Into `between`.
 */
function findBetween({ starts, tables, table }: Curves, s: number, code: number): void {
  for (let i = 0; i < 2; i++) {
    let x: number;
    if (code < CUT) x = (span[i]! - starts[s]!) / (starts[s + 1]! - starts[s]!);
    else if (code < FROZEN) x = (span[i]! - table[tables[s]! - 2]!) / table[tables[s]! - 1]!;
    else x = table[tables[s]! - 2]!;
    between[i] = (code & REVERSED) !== 0 ? 1 - x : x;
  }
  const first = between[0]!;
  between[0] = Math.min(first, between[1]!);
  between[1] = Math.max(first, between[1]!);
}

function segmentBounds(
  curves: Curves,
  s: number,
  code: number,
  width: number,
  target: number,
  low: Float64Array,
  high: Float64Array,
): void {
  const { from, tables, values, table } = curves;
  findBetween(curves, s, code);
  const numbers = tables[s]!;
  const kind = (code & CODE) as SegmentCode;
  const a = from[s]!;
  if (kind !== CUBIC && kind !== HANDLES) {
    easingRange(kind, table, numbers, between, range);
    const least = range[0]!;
    const most = range[1]!;
    for (let k = 0; k < width; k++) {
      const value = values[a + k]!;
      const way = values[a + width + k]! - value;
      widen(low, high, target + k, value + way * (way < 0 ? most : least), value + way * (way < 0 ? least : most));
    }
    return;
  }
  for (let k = 0; k < width; k++) {
    range[0] = Infinity;
    range[1] = -Infinity;
    let n = numbers + k * CUBIC_SIZE;
    if (kind === HANDLES) {
      const solver = numbers + k * HANDLES_SIZE;
      n = solver + SOLVER_SIZE;
      solveBoth(table, solver, between, inner);
    }
    powersRange(table, n + 2, -1, kind === HANDLES ? inner : between, range);
    const value = values[a + k]!;
    widen(low, high, target + k, value + range[0], value + range[1]);
  }
}

/**
 * As four-dimensional vectors, two quaternions are no further apart than the angle between them, and a normalized
 * curve moves at most twice its path divided by its length. Both are relative to the start of the segment.
 */
function quatBounds(
  curves: Curves,
  s: number,
  code: number,
  target: number,
  low: Float64Array,
  high: Float64Array,
): void {
  const { from, tables, values, table } = curves;
  const a = from[s]!;
  findBetween(curves, s, code);
  const kind = (code & CODE) as SegmentCode;
  if (kind === CUBIC || kind === HANDLES) {
    quat.low.fill(Infinity);
    quat.high.fill(-Infinity);
    segmentBounds(curves, s, code, 4, 0, quat.low, quat.high);
    const middle = quat.low.map((least, k) => (least + quat.high[k]!) / 2);
    const length = Math.hypot(...middle);
    const way = (2 * Math.hypot(...middle.map((m, k) => quat.high[k]! - m))) / length;
    for (let k = 0; k < 4; k++) widen(low, high, target + k, middle[k]! / length - way, middle[k]! / length + way);
    return;
  }
  easingRange(kind, table, tables[s]!, between, range);
  let dot = 0;
  for (let k = 0; k < 4; k++) dot += values[a + k]! * values[a + 4 + k]!;
  const angle = Math.acos(Math.min(1, Math.abs(dot)));
  const middle = (range[0]! + range[1]!) / 2;
  const way = angle * (range[1]! - middle);
  const whole = sine(angle);
  for (let k = 0; k < 4; k++) {
    const [u, v] = [values[a + k]!, values[a + 4 + k]! * (dot < 0 ? -1 : 1)];
    const at =
      whole < 1e-6 ? u + (v - u) * middle : (u * sine((1 - middle) * angle) + v * sine(middle * angle)) / whole;
    widen(low, high, target + k, at - way - 1e-12, at + way + 1e-12);
  }
}

function gainBounds(
  { gains }: Curves,
  gain: number,
  laps: ArrayLike<number>,
  isQuat: boolean,
  width: number,
  target: number,
  low: Float64Array,
  high: Float64Array,
): void {
  const [first, last] = [laps[0]!, laps[1]!];
  if (first === 0 && last === 0) return;
  for (let k = 0; k < width; k++) {
    // A quaternion that is turned may point anywhere.
    const [from, to] = isQuat ? [0, 0] : [first * gains[gain + k]!, last * gains[gain + k]!];
    low[target + k] = isQuat ? -1 : low[target + k]! + Math.min(from, to);
    high[target + k] = isQuat ? 1 : high[target + k]! + Math.max(from, to);
  }
}

function offsetBounds(
  added: boolean,
  isQuat: boolean,
  base: { readonly low: Float64Array; readonly high: Float64Array },
  width: number,
  target: number,
  low: Float64Array,
  high: Float64Array,
): void {
  if (isQuat) {
    // A rotation after another keeps the length of the path.
    let [way, baseWay] = [0, 0];
    for (let k = 0; k < 4; k++) {
      quat.low[k] = (base.low[target + k]! + base.high[target + k]!) / 2;
      quat.high[k] = (low[target + k]! + high[target + k]!) / 2;
      way = Math.hypot(way, high[target + k]! - quat.high[k]!);
      baseWay = Math.hypot(baseWay, base.high[target + k]! - quat.low[k]!);
    }
    multiplyQuat(quat.low, 0, quat.high, 0, low, target);
    for (let k = target; k < target + 4; k++) {
      high[k] = low[k]! + way + baseWay;
      low[k] = low[k]! - way - baseWay;
    }
    return;
  }
  for (let k = target; k < target + width; k++) {
    const [b0, b1, v0, v1] = [base.low[k]!, base.high[k]!, low[k]!, high[k]!];
    low[k] = added ? b0 + v0 : Math.min(b0 * v0, b0 * v1, b1 * v0, b1 * v1);
    high[k] = added ? b1 + v1 : Math.max(b0 * v0, b0 * v1, b1 * v0, b1 * v1);
  }
}
