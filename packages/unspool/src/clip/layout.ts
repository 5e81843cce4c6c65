import { UnspoolError } from '../errors/error.js';
import { suggest } from '../errors/nearest.js';
import { channelsOf, type Kind } from '../value/kind.js';
import { writeValue, type Value } from '../value/read.js';

/** The location of a property in a pose. */
export interface Slot {
  /** `role.property` */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: Kind;
  /** Index of its first number. */
  readonly offset: number;
  /** Number of numbers. */
  readonly width: number;
  /** The value when nothing animates it. */
  readonly rest: readonly number[];
  /** Whether the reel declares the rest value. Always true for shapes, which no object has. */
  readonly restGiven: boolean;
}

/**
 * Properties of a pose, one after the other. Written out member by member: copies by `...` would each get a hidden class
 * of their own from the engine, which is larger than they are.
 */
export function inOrder(properties: readonly Omit<Slot, 'offset'>[]): Slot[] {
  let offset = 0;
  return properties.map(({ name, role, property, kind, width, rest, restGiven }) => {
    offset += width;
    return { name, role, property, kind, offset: offset - width, width, rest, restGiven };
  });
}

type Channel = Pick<Slot, 'kind' | 'width' | 'offset'>;

/** The location of each property in the numbers of a pose. */
export class Layout {
  /** All properties, in order. */
  readonly slots: readonly Slot[];
  /** Total number of values in a pose. */
  readonly size: number;
  #byName: ReadonlyMap<string, Slot> | undefined;
  #channels: ReadonlyMap<string, Channel> | undefined;

  constructor(
    slots: readonly Slot[],
    /** The strings that the numbers of kind `text` refer to. */
    readonly texts: readonly string[],
  ) {
    this.slots = slots;
    this.size = slots.reduce((sum, { width }) => sum + width, 0);
  }

  /** Returns where a property is, or `undefined` when no such property is animated. */
  find(name: string): Slot | undefined {
    this.#byName ??= new Map(this.slots.map((slot) => [slot.name, slot]));
    return this.#byName.get(name);
  }

  /** Returns the index of the first number of a property, or of one channel of it. Throws for an unknown name. */
  offsetOf(name: string): number {
    return (this.find(name) ?? this.channel(name)).offset;
  }

  /** @internal one channel of a property (`claw.position.y`). Throws for an unknown name. */
  channel(name: string): Channel {
    this.#channels ??= new Map(
      this.slots.flatMap((slot) =>
        channelsOf(slot.kind).map((channel, i): [string, Channel] => [
          `${slot.name}.${channel}`,
          { kind: channel === 'active' ? 'flag' : 'number', width: 1, offset: slot.offset + i },
        ]),
      ),
    );
    return this.#channels.get(name) ?? this.slot(name);
  }

  /** Like `find`, but throws for an unknown name and suggests similar ones. */
  slot(name: string): Slot {
    const slot = this.find(name);
    if (slot) return slot;
    const hint = suggest(
      name,
      this.slots.map((one) => one.name),
    );
    throw new UnspoolError('pose/unknown-property', `unknown property ${JSON.stringify(name)}`, hint);
  }
}

/**
 * The values of all properties at one moment, as one list of numbers that each sampling overwrites. `V` is the type of
 * the value of each property, where the names of the reel are known.
 */
export class Pose<V extends Readonly<Record<string, Value>> = Readonly<Record<string, Value>>> {
  /** The numbers of all properties; `layout` has their indices. */
  readonly values: Float64Array;
  /** @internal what the last sampling found, for the next to begin with; see `sampleCurves` */
  readonly hints: Int32Array;
  /** @internal what offsets are relative to: the rest values, as `prepareBase` makes them */
  readonly base: Float64Array;

  /**
   * @param hints one number for each curve that will be sampled into it; kept
   * @param base  default: the rest values of the layout
   */
  constructor(
    /** Where each property is in `values`. */
    readonly layout: Layout,
    hints = new Int32Array(0),
    base?: Float64Array,
  ) {
    this.values = new Float64Array(layout.size);
    this.hints = hints;
    this.reset();
    this.base = base ?? this.values.slice();
  }

  /** Resets every property to its rest value. */
  reset(): void {
    for (const { offset, rest } of this.layout.slots) this.values.set(rest, offset);
  }

  /**
   * Returns the value of a property by its kind: a number, `[x, y]`, `[x, y, z, w]`, `[r, g, b, a]` (0 to 1), a boolean
   * or a string; of a shape `{ center, size, angle }` and so on, or `null` while it is not active. Angles are in
   * degrees. Throws for an unknown name.
   *
   * @param name `role.property`, or one channel of it: `claw.position.y`
   */
  get<K extends keyof V & string>(name: K): V[K];
  get(name: `${keyof V & string}.active`): boolean;
  get(name: `${keyof V & string}.${string}`): number;
  get(name: string): Value {
    const { layout, values } = this;
    const { kind, width, offset } = layout.find(name) ?? layout.channel(name);
    return writeValue(kind, width, values, offset, layout.texts);
  }

  /** Returns all values by name. */
  toObject(): V {
    return Object.fromEntries(this.layout.slots.map(({ name }) => [name, this.get(name)])) as unknown as V;
  }
}
