import { UnspoolError } from '../wording/error.js';
import { suggest } from '../wording/nearest.js';
import { widthOf, type PlayableKind } from '../value/kind.js';
import { defaultRest } from '../value/property.js';
import { writeValue, type Value } from '../value/read.js';
import type { Property } from '../reel/properties.js';

/** A property's place in a pose. */
export interface Slot {
  /** `role.property` */
  readonly name: string;
  readonly role: string;
  readonly property: string;
  readonly kind: PlayableKind;
  /** Index of its first number. */
  readonly offset: number;
  /** How many numbers it has. */
  readonly width: number;
  /** What it shows when nothing animates it. */
  readonly rest: readonly number[];
  /** Whether the reel says that rest value, or it is only the usual one. */
  readonly restGiven: boolean;
}

/** Where each property stands in the flat list of a pose's numbers. */
export class Layout {
  readonly slots: readonly Slot[];
  /** Numbers in a pose. */
  readonly size: number;
  readonly #byName: ReadonlyMap<string, Slot>;

  /** @param texts the texts that the numbers of kind `text` refer to */
  constructor(
    properties: Iterable<Property>,
    readonly texts: readonly string[],
  ) {
    let offset = 0;
    this.slots = Array.from(properties, ({ name, role, property, kind, rest }) => {
      const width = widthOf(kind);
      const slot = { name, role, property, kind, offset, width };
      offset += width;
      return { ...slot, rest: rest ?? defaultRest(property, kind), restGiven: rest !== undefined };
    });
    this.size = offset;
    this.#byName = new Map(this.slots.map((slot) => [slot.name, slot]));
  }

  find(name: string): Slot | undefined {
    return this.#byName.get(name);
  }

  /** As `find`; throws for a name that is not there, with the near ones. */
  slot(name: string): Slot {
    const slot = this.find(name);
    if (slot) return slot;
    const hint = suggest(name, [...this.#byName.keys()]);
    throw new UnspoolError('pose/unknown-property', `no property here is called ${JSON.stringify(name)}`, hint);
  }
}

/** The values of all properties of a layout at one moment: a flat list of numbers that is written over and over. */
export class Pose {
  readonly values: Float64Array;
  /** What the last sampling found, for the next to begin with. See `sampleCurves`. */
  readonly hints: Int32Array;
  /** The time inside the clip that it was sampled at last, in seconds: one number. */
  readonly at = new Float64Array(1);

  /** @param curves how many curves will be sampled into it */
  constructor(
    readonly layout: Layout,
    curves = 0,
  ) {
    this.values = new Float64Array(layout.size);
    this.hints = new Int32Array(curves);
    this.reset();
  }

  /** Puts every property to rest. */
  reset(): void {
    for (const { offset, rest } of this.layout.slots) this.values.set(rest, offset);
  }

  /**
   * The value of a property by its kind: a number, `[x, y]`, `[r, g, b, a]` (0–1), true or false, a text. Angles are
   * degrees. Throws for a name that the pose does not have.
   */
  get(name: string): Value {
    const { kind, offset } = this.layout.slot(name);
    return writeValue(kind, this.values, offset, this.layout.texts);
  }

  /** All values by name. */
  toObject(): Record<string, Value> {
    return Object.fromEntries(this.layout.slots.map(({ name }) => [name, this.get(name)]));
  }
}
