import { cosine, sine } from './sine.js';

/** The greatest overshoot: a spring that comes back by more than this takes a hundred swings to settle. */
export const MAX_OVERSHOOT = 0.95;

/** What is left of the oscillation at the end of the segment, as a share of the way. */
const LEFT = 1 / 1000;
/** (1 + k) e^−k = LEFT: the decay at which a critically damped spring has settled. */
const CRITICAL = 9.233413476451585;

/**
 * Appends `spring(overshoot)`: a damped oscillation about 1 that begins at 0 at rest and has settled, to a thousandth,
 * at the end of its segment; what is left is spread over the curve, so that it ends exactly on 1.
 *
 * With decay k and frequency ω, y(x) = 1 − e^(−kx) (cos ωx + k/ω sin ωx), whose first overshoot is e^(−kπ/ω), the
 * parameter, so ω = kπ / −ln overshoot. An overshoot of 0 is the critically damped 1 − e^(−kx) (1 + kx).
 * The table gets k, ω and the factor that ends it on 1.
 *
 * @param overshoot 0 … MAX_OVERSHOOT: the first overshoot as a fraction of the change
 */
export function writeSpring(overshoot: number, table: number[]): void {
  const swing = overshoot === 0 ? 0 : Math.PI / -Math.log(overshoot); // ω / k
  // The envelope at the end, e^−k √(1 + (k/ω)²), comes to LEFT.
  const decay = swing === 0 ? CRITICAL : Math.min(CRITICAL, Math.log(Math.hypot(1, 1 / swing) / LEFT));
  const frequency = decay * swing;
  const fall = Math.exp(-decay);
  const end = swing === 0 ? 1 + decay : cosine(frequency) + sine(frequency) / swing;
  table.push(decay, frequency, 1 / (1 - fall * end));
}

/** @param cell x; receives y, beyond 1 where it overshoots; outside 0–1 the nearest end holds. Allocates nothing */
export function spring(table: ArrayLike<number>, offset: number, cell: Float64Array): void {
  const x = cell[0]!;
  if (x <= 0 || x >= 1) {
    cell[0] = x <= 0 ? 0 : 1;
    return;
  }
  const decay = table[offset]!;
  const frequency = table[offset + 1]!;
  const fall = Math.exp(-decay * x);
  const swing = frequency === 0 ? 1 + decay * x : cosine(frequency * x) + (decay / frequency) * sine(frequency * x);
  cell[0] = (1 - fall * swing) * table[offset + 2]!;
}
