/** What frames pass through on their way to a player, or to the hit world that ticks it. */
export class Gate {
  paused = false;
  rate = 1;

  /** @param run the frame itself */
  constructor(private readonly run: (dt: number) => unknown) {}

  /** A frame of the game. Returns what it made, or nothing when it was held back. */
  frame(dt: number): unknown {
    return this.paused ? undefined : this.run(dt * this.rate);
  }

  /** A frame that the workbench asks for. */
  step(dt: number): void {
    this.run(dt);
  }

  open(): void {
    [this.paused, this.rate] = [false, 1];
  }
}

interface World {
  tick(dt: number): readonly unknown[];
}

const gates = new WeakMap<object, Gate>();

/**
 * The gate of a hit world. What it ticks stands still and slows down together: it looks ahead for hits, and would look
 * past a player of another pace.
 */
export function gateOf(world: object): Gate {
  let gate = gates.get(world);
  if (!gate) {
    const tick = (world as World).tick.bind(world);
    const made = (gate = new Gate(tick));
    // A member of the instance before that of the class.
    (world as World).tick = (dt) => (made.frame(dt) as readonly unknown[] | undefined) ?? [];
    gates.set(world, gate);
  }
  return gate;
}
