import { formatEasing, type FreeEasing } from 'unspool';
import { cutCubic, easingFunction, piecesOf, type Cubic } from 'unspool/edit';
import { longestLines, morePlaces } from './places.js';

/** How far a `linear()` may be from the easing that it stands for, as a share of the way. */
export const EASING_ERROR = 1e-4;
const DENSE = 2000;
/** Digits of a stop: far below the error. */
const DIGITS = 1e6;

/** An easing as CSS says it. */
export interface CssEasing {
  readonly text: string;
  /** 0 where it is the same function. */
  readonly error: number;
}

/** A whole easing: by its name where CSS has it, else as `linear()`. */
export function cssEasing(easing: FreeEasing): CssEasing {
  if (easing.kind === 'hold') return { text: 'steps(1)', error: 0 };
  if (easing.kind !== 'family' && easing.kind !== 'spring') return { text: formatEasing(easing), error: 0 };
  // Some families are one cubic, which CSS can say.
  const pieces = piecesOf(easing);
  const [only, ...others] = pieces?.kind === 'cubics' ? pieces.cubics : [];
  const text = only && others.length === 0 ? bezierText(only) : undefined;
  if (text !== undefined) return { text, error: 0 };
  const corners = pieces?.kind === 'cubics' ? pieces.cubics.map(({ to }) => to[0]) : [];
  return linearStops(easingFunction(easing), corners);
}

/** An easing between two of its places, as one from 0 to 1, or `undefined` when it comes back to where it began. */
export function cutEasing(easing: FreeEasing, x0: number, x1: number, isReversed: boolean): CssEasing | undefined {
  const pieces = piecesOf(easing);
  if (pieces?.kind === 'cubics') {
    const cubic = pieces.cubics.find(({ from, to }) => from[0] <= x0 + 1e-12 && to[0] >= x1 - 1e-12);
    const text = cubic && bezierText(between(cubic, x0, x1), isReversed);
    if (text !== undefined) return { text, error: 0 };
  }
  const y = easingFunction(easing);
  const [from, to] = isReversed ? [y(x1), y(x0)] : [y(x0), y(x1)];
  if (Math.abs(to - from) < 1e-3) return undefined;
  const share = (x: number) => (y(isReversed ? x1 - (x1 - x0) * x : x0 + (x1 - x0) * x) - from) / (to - from);
  return linearStops(share);
}

function between(cubic: Cubic, x0: number, x1: number): Cubic {
  const tail = x0 > cubic.from[0] + 1e-12 ? cutCubic(cubic, x0)[1] : cubic;
  return x1 < tail.to[0] - 1e-12 ? cutCubic(tail, x1)[0] : tail;
}

/** A cubic as `cubic-bezier()`; `undefined` when it ends where it began. */
export function bezierText(cubic: Cubic, isReversed = false): string | undefined {
  const {
    from,
    out,
    in: into,
    to,
  } = isReversed
    ? { from: mirrored(cubic.to), out: mirrored(cubic.in), in: mirrored(cubic.out), to: mirrored(cubic.from) }
    : cubic;
  const [wide, high] = [to[0] - from[0], to[1] - from[1]];
  if (Math.abs(high) < 1e-9) return undefined;
  const x = (point: Cubic['from']) => Math.min(1, Math.max(0, (point[0] - from[0]) / wide));
  const y = (point: Cubic['from']) => (point[1] - from[1]) / high;
  // Fifteen digits are all that a double has for certain.
  const points = [x(out), y(out), x(into), y(into)].map((n) => Number(n.toPrecision(15)) + 0);
  if (points.some((n) => Math.abs(n) > 1e6)) return undefined;
  return formatEasing({ kind: 'bezier', points: points as [number, number, number, number] });
}

const mirrored = ([x, y]: Cubic['from']): Cubic['from'] => [-x, y];

/** A function from 0 to 1 as `linear()`, by lines as long as the error allows. */
function linearStops(y: (x: number) => number, corners: readonly number[] = []): CssEasing {
  const even = Array.from({ length: DENSE + 1 }, (_, k) => k / DENSE);
  // A corner between two of them would be cut off.
  const dense = [...even, ...corners.filter((x) => x > 0 && x < 1)].sort((a, b) => a - b);
  const { at: places, values: found } = morePlaces((x) => [y(x)], dense, EASING_ERROR / 20);
  const values = found.map(([value]) => value!);
  const stops = longestLines(values, 0.9 * EASING_ERROR, places);
  const text = stops.map((k) => {
    const value = Math.round(values[k]! * DIGITS) / DIGITS + 0;
    const percent = Math.round(places[k]! * 1e10) / 1e8;
    return k === 0 || k === values.length - 1 ? String(value) : `${value} ${percent}%`;
  });
  return { text: `linear(${text.join(', ')})`, error: EASING_ERROR };
}
