/**
 * The clocks of this many players stand in one list, each with so many numbers. A frame of a player that stands still
 * touches nothing else, and a frame of thousands of them goes through memory in order.
 */
const PLAYERS = 64;
const SIZE = 4;

/**
 * A sum of seconds, what rounding cut off of it (as in `Clock`), 1 while nothing goes on, and the seconds at which the
 * running frame began.
 */
const SUM = 0;
const LOST = 1;
const IDLE = 2;
const BEGAN = 3;

let newest = new Float64Array(0);
let free = 0;

/** Whether a frame of the player whose numbers begin at `at` only adds its time. */
export function isIdle(cells: Float64Array, at: number): boolean {
  return cells[at + IDLE] === 1;
}

/** @param list its first number is added; passed as an argument it could be boxed */
export function addSeconds(cells: Float64Array, at: number, list: Float64Array): void {
  const seconds = list[0]!;
  const before = cells[at + SUM]!;
  const sum = before + seconds;
  cells[at + LOST]! += Math.abs(before) >= Math.abs(seconds) ? before - sum + seconds : seconds - sum + before;
  cells[at + SUM] = sum;
}

/** The seconds of a player, added up as a `Clock` does, and whether anything goes on. */
export class PlayerClock {
  /** Shared with other players; it is let go with the last of them. */
  readonly cells: Float64Array;
  readonly at: number;

  constructor() {
    if (free === newest.length) [newest, free] = [new Float64Array(PLAYERS * SIZE), 0];
    this.cells = newest;
    this.at = free;
    free += SIZE;
  }

  get sum(): number {
    return this.cells[this.at + SUM]!;
  }

  get lost(): number {
    return this.cells[this.at + LOST]!;
  }

  get seconds(): number {
    return this.cells[this.at + SUM]! + this.cells[this.at + LOST]!;
  }

  /** Seconds of the player at which the running frame began: only of one with a routine. */
  get began(): number {
    return this.cells[this.at + BEGAN]!;
  }

  beginFrame(): void {
    const { cells, at } = this;
    cells[at + BEGAN] = cells[at + SUM]! + cells[at + LOST]!;
  }

  setClock(sum: number, lost: number): void {
    this.cells[this.at + SUM] = sum;
    this.cells[this.at + LOST] = lost;
  }

  /** Whether nothing goes on until something is called: then a frame only adds its time. */
  rest(): void {
    this.cells[this.at + IDLE] = 1;
  }

  wake(): void {
    this.cells[this.at + IDLE] = 0;
  }
}
