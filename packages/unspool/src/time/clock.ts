/**
 * Adds up lengths of time without losing what rounding cuts off (Neumaier's compensated sum), so that a million
 * frames of 1/60 s come to what they should. `seconds` is the sum rounded once: `sum + lost`, where a call is too dear.
 */
export class Clock {
  sum = 0;
  lost = 0;

  get seconds(): number {
    return this.sum + this.lost;
  }

  /** @param list its first number is added; passed as an argument it could be boxed */
  addFirst(list: Float64Array): void {
    const seconds = list[0]!;
    const sum = this.sum + seconds;
    this.lost += Math.abs(this.sum) >= Math.abs(seconds) ? this.sum - sum + seconds : seconds - sum + this.sum;
    this.sum = sum;
  }

  set(seconds: number): void {
    this.sum = seconds;
    this.lost = 0;
  }
}
