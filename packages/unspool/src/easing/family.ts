import { cosine, sine } from './sine.js';

/**
 * The `s` of `back`, x² ((s + 1) x − s). Its minimum, −4 s³ / 27 (s + 1)², is a tenth below 0; the root is rounded to five
 * decimals. In `in-out`, each half spans half of the range, so s grows by 1.525 to undershoot by a tenth of all of it.
 */
const BACK = 1.70158;
const BACK_IN_OUT = BACK * 1.525;
/** Period of the sine in `elastic`, as a fraction of the segment: three waves before the end, two in `in-out`. */
const ELASTIC = 0.3;
const ELASTIC_IN_OUT = 0.45;

/**
 * Evaluates number `index` of `FAMILY_EASINGS`. Outside 0–1 the nearest end holds, and the ends are exactly 0 and 1.
 * docs/reference/easings.md lists the formulas.
 *
 * @param cell x; receives y. Allocates nothing
 */
export function family(index: number, cell: Float64Array): void {
  const given = cell[0]!;
  if (given <= 0 || given >= 1) {
    cell[0] = given <= 0 ? 0 : 1;
    return;
  }
  const form = index % 3; // 0 in, 1 out, 2 in-out
  const half = form === 2;
  const turned = form === 1 || (half && given >= 0.5);
  const x = half ? (turned ? 2 - 2 * given : 2 * given) : turned ? 1 - given : given;
  let y: number;
  switch ((index / 3) | 0) {
    case 0:
      y = 1 - cosine((x * Math.PI) / 2);
      break;
    case 1:
      y = x * x;
      break;
    case 2:
      y = x * x * x;
      break;
    case 3:
      y = x * x * x * x;
      break;
    case 4:
      y = x * x * x * x * x;
      break;
    case 5:
      y = x <= 0 ? 0 : 2 ** (10 * (x - 1));
      break;
    case 6:
      y = 1 - Math.sqrt(1 - x * x);
      break;
    case 7: {
      const overshoot = half ? BACK_IN_OUT : BACK;
      y = x * x * ((overshoot + 1) * x - overshoot);
      break;
    }
    case 8: {
      // A sine under an exponential; its last quarter wave ends on 1.
      const period = half ? ELASTIC_IN_OUT : ELASTIC;
      y = x >= 1 ? 1 : -(2 ** (10 * (x - 1))) * sine(((x - 1 - period / 4) * 2 * Math.PI) / period);
      break;
    }
    default: {
      // Four parabolas: a ball that bounces back to 1/4, 1/16 and 1/64 of its height, run backwards. A fall from 1 takes
      // 1, the bounces 1, 1/2 and 1/4 in the same unit, together 2.75; so the parabolas are 2.75² = 7.5625 steep.
      const fall = 1 - x;
      const height = fall < 1 / 2.75 ? 0 : fall < 2 / 2.75 ? 0.75 : fall < 2.5 / 2.75 ? 0.9375 : 0.984375;
      const low = height === 0 ? 0 : height === 0.75 ? 1.5 / 2.75 : height === 0.9375 ? 2.25 / 2.75 : 2.625 / 2.75;
      y = 1 - (7.5625 * (fall - low) * (fall - low) + height);
    }
  }
  if (turned) y = half ? 2 - y : 1 - y;
  cell[0] = half ? y / 2 : y;
}
