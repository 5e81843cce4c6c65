import { longestSteps } from 'unspool/edit';

/** A place is put between two others at most so often. Where that is not enough the curve jumps: nobody sees it rise. */
const MOST_HALVINGS = 14;
/** So many places of one curve, whatever error is asked for. */
const MOST_PLACES = 20_000;

/** What a curve shows at places, in their order. */
export interface Places {
  readonly at: readonly number[];
  readonly values: readonly (readonly number[])[];
  /** How far the curve is from a line between two places where there was no room for more; 0 where there was. */
  readonly off: number;
}

/**
 * Puts more places between those of a list where a curve is too steep or too bent for a line from one to the next. Ends
 * after `MOST_HALVINGS` rounds, or with `MOST_PLACES`.
 *
 * @param error the most that a line may be off
 */
export function morePlaces(curve: (x: number) => readonly number[], from: readonly number[], error: number): Places {
  let places = from.map((x) => ({ x, value: curve(x), isDone: false }));
  for (let round = 0; round < MOST_HALVINGS; round++) {
    let off = 0;
    const more = places.slice(0, 1);
    for (let i = 1; i < places.length; i++) {
      const [before, after] = [places[i - 1]!, places[i]!];
      if (!after.isDone) {
        const x = (before.x + after.x) / 2;
        const value = curve(x);
        const far = Math.max(...value.map((n, c) => Math.abs(n - (before.value[c]! + after.value[c]!) / 2)));
        if (far > error) {
          more.push({ x, value, isDone: false });
          off = Math.max(off, far);
        } else after.isDone = true;
      }
      more.push(after);
    }
    if (off === 0) break;
    if (more.length > MOST_PLACES) return listed(places, off);
    places = more;
  }
  return listed(places, 0);
}

const listed = (places: readonly { readonly x: number; readonly value: readonly number[] }[], off: number): Places => ({
  at: places.map(({ x }) => x),
  values: places.map(({ value }) => value),
  off,
});

/** Which values, at these places, lines can join within an error: the first and the last are among them. */
export function longestLines(values: readonly number[], error: number, places: readonly number[]): number[] {
  return longestSteps(values.length, (i, j) => {
    const slope = (values[j]! - values[i]!) / (places[j]! - places[i]!);
    for (let k = i + 1; k < j; k++) {
      const line = values[i]! + slope * (places[k]! - places[i]!);
      if (Math.abs(line - values[k]!) > error) return false;
    }
    return true;
  });
}
