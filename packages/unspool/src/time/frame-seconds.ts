/** Another clock may be slightly behind: this much, in seconds, counts as no time. */
const BEHIND = 0.1;

/**
 * The seconds of a frame. The first ones of a page are often a little less than 0: `requestAnimationFrame` gives the time
 * at which its frame began, which may lie before the `performance.now()` that a loop began with. They count as 0.
 *
 * @throws RangeError for what is less than -0.1, and no finite number
 */
export function frameSeconds(dt: number): number {
  if (dt >= 0 && dt < Infinity) return dt;
  if (dt < 0 && dt >= -BEHIND) return 0;
  throw new RangeError(`tick expects the elapsed seconds, found ${String(dt)}. Use a finite number of 0 or more.`);
}
