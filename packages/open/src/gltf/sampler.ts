import type { CubicPiece } from '../motion/cubics.js';

/** An animation sampler of glTF 2.0: times, values, and how to get from one to the next. */
export interface SamplerData {
  readonly interpolation: 'STEP' | 'LINEAR' | 'CUBICSPLINE';
  readonly input: Float32Array;
  /** `width` numbers a key; of CUBICSPLINE three times as many: in-tangent, value, out-tangent. */
  readonly output: Float32Array;
  readonly width: number;
}

/** A jump takes so long, or the least that 32-bit times can say. */
const MICROSECOND = 1e-6;

interface Key {
  time: number;
  readonly value: readonly number[];
  /** Control values before and after it, a third of the way to its neighbors. */
  into?: readonly number[];
  out?: readonly number[];
}

/** The next 32-bit number up or down. */
export function nextFloat(n: number, up: boolean): number {
  const float = new Float32Array([n]);
  const bits = new Int32Array(float.buffer);
  if (float[0] === 0) return up ? 1.4e-45 : -1.4e-45;
  bits[0]! += float[0]! > 0 === up ? 1 : -1;
  return float[0]!;
}

/**
 * Writes pieces as one sampler: STEP where all hold, LINEAR where all are lines, else CUBICSPLINE. A jump is two keys,
 * a microsecond apart. What holds at the beginning or the end needs no key, as glTF holds the first and last one.
 */
export function samplerOf(pieces: readonly CubicPiece[]): SamplerData {
  const width = pieces[0]!.values.length;
  const interpolation = pieces.every(({ form }) => form === 'still')
    ? 'STEP'
    : pieces.every(({ form }) => form !== 'cubic')
      ? 'LINEAR'
      : 'CUBICSPLINE';
  const keys: Key[] = [];
  for (const { start, end, values } of pieces) {
    const column = (i: 0 | 1 | 2 | 3) => values.map((channel) => channel[i]);
    const from = column(0);
    const last = keys.at(-1);
    if (interpolation === 'STEP') {
      if (!last || !isSame(last.value, from)) keys.push({ time: Math.fround(start), value: from });
      continue;
    }
    if (last && isSame(last.value, from)) last.out = column(1);
    else {
      if (last) last.time = beforeJump(start, keys.at(-2)?.time ?? 0);
      keys.push({ time: Math.fround(start), value: from, out: column(1) });
    }
    keys.push({ time: Math.fround(end), value: column(3), into: column(2) });
  }
  if (interpolation !== 'STEP') trim(keys);
  for (let i = 1; i < keys.length; i++) {
    if (keys[i]!.time <= keys[i - 1]!.time) keys[i]!.time = nextFloat(keys[i - 1]!.time, true);
  }
  if (interpolation === 'CUBICSPLINE' && keys.length < 2) return stepOf(keys, width);
  const output = keys.flatMap((key, i) => {
    if (interpolation !== 'CUBICSPLINE') return key.value;
    const tangent = (control: readonly number[] | undefined, other: Key | undefined, sign: number) =>
      key.value.map((n, k) =>
        control && other ? (sign * 3 * (control[k]! - n)) / Math.abs(other.time - key.time) : 0,
      );
    return [...tangent(key.into, keys[i - 1], -1), ...key.value, ...tangent(key.out, keys[i + 1], 1)];
  });
  return {
    interpolation,
    input: Float32Array.from(keys, ({ time }) => time),
    output: Float32Array.from(output),
    width,
  };
}

const stepOf = (keys: readonly Key[], width: number): SamplerData => ({
  interpolation: 'STEP',
  input: Float32Array.from(keys, ({ time }) => time),
  output: Float32Array.from(keys.flatMap(({ value }) => value)),
  width,
});

/** When a value before a jump is keyed: a microsecond earlier, or halfway to the key before. */
function beforeJump(time: number, earlier: number): number {
  const wanted = Math.min(nextFloat(time, false), Math.fround(time - MICROSECOND));
  return wanted > earlier ? wanted : Math.fround((earlier + time) / 2);
}

/** Equal as 32-bit numbers, or nearly: rounding is no jump. */
const isSame = (a: readonly number[], b: readonly number[]) =>
  a.every((n, k) => Math.abs(n - b[k]!) <= 1e-9 * Math.max(1, Math.abs(n)));

function trim(keys: Key[]): void {
  const isStill = (a: Key, b: Key) =>
    [a.out ?? a.value, b.into ?? b.value, b.value].every((one) => isSame(one, a.value));
  while (keys.length > 1 && isStill(keys[0]!, keys[1]!)) keys.shift();
  while (keys.length > 1 && isStill(keys.at(-2)!, keys.at(-1)!)) keys.pop();
  const [first, last] = [keys[0]!, keys.at(-1)!];
  delete first.into;
  delete last.out;
}

/** The same sampler with its last value until a time. */
export function extended(data: SamplerData, until: number): SamplerData {
  const { input, output, width, interpolation } = data;
  const time = Math.fround(until);
  if (input.at(-1)! >= time) return data;
  const value = interpolation === 'CUBICSPLINE' ? output.subarray(-2 * width, -width) : output.subarray(-width);
  const still = new Float32Array(width);
  const more = interpolation === 'CUBICSPLINE' ? [...still, ...value, ...still] : [...value];
  const longer = Float32Array.from([...output, ...more]);
  // The segment to the new key is flat on both sides.
  if (interpolation === 'CUBICSPLINE') longer.fill(0, output.length - width, output.length);
  return { ...data, input: Float32Array.from([...input, time]), output: longer };
}
