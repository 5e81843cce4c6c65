/** Slower than this many milliseconds a frame, on average, something is lowered. */
const SLOW = 20;
/** So many frames are looked at, or those of so many milliseconds. */
const FRAMES = 40;
const WINDOW = 700;
/** Slower than this, both are lowered at once. */
const CRAWLS = 80;

/** Watches how long frames take, and says what it lowers: first the resolution, then the number of gulls. */
export class Pace {
  /** Pixels drawn for one of the page. */
  scale = 1;
  count: number;
  #sum = 0;
  #frames = 0;

  /** @param isSteady nothing is lowered, for whoever measures */
  constructor(
    readonly most: number,
    readonly isSteady: boolean,
  ) {
    this.count = most;
  }

  frame(milliseconds: number): void {
    // A page that was away says nothing about frames.
    if (this.isSteady || milliseconds > 3000) return;
    this.#sum += milliseconds;
    if (++this.#frames < FRAMES && this.#sum < WINDOW) return;
    const mean = this.#sum / this.#frames;
    this.#sum = this.#frames = 0;
    if (mean < SLOW) return;
    const isSharp = this.scale > 0.4;
    if (isSharp) this.scale *= 0.75;
    if ((!isSharp || mean > CRAWLS) && this.count > 250) this.count = Math.ceil(this.count / 2);
  }

  get message(): string {
    const lowered: string[] = [];
    if (this.scale < 1) lowered.push(`${Math.round(this.scale * 100)} % of the resolution`);
    if (this.count < this.most) lowered.push(`${this.count} of ${this.most} gulls`);
    return lowered.length > 0 ? `lowered to keep up: ${lowered.join(', ')}` : `${this.count} gulls`;
  }
}
