import { bindRole } from '../cast/cast.js';
import type { Slot } from '../clip/layout.js';
import type { PlayerCore } from '../play/drive/core.js';
import { TRANSFORM } from '../play/pose/placement.js';
import { isShape, widthOf, type Kind } from '../value/kind.js';
import { defaultRest } from '../value/property.js';
import { writeValue, type Value } from '../value/read.js';
import type { ChangedValue } from './messages.js';

/** What is looked at on every object, also where the reel does not speak of it. */
const USUAL: Readonly<Record<string, Kind>> = { position: 'vec2', rotation: 'angle', scale: 'vec2', opacity: 'number' };

type Numbers = readonly number[];

/** The values of a player's objects, and which of them somebody else has set since it last moved. */
export class ObjectValues {
  /** What they showed when the player had last moved. */
  readonly #noted = new Map<string, Numbers>();
  #slots: readonly Slot[] = [];
  /** What the slots are of. */
  #of: PlayerCore['stage'] | undefined;

  constructor(readonly core: PlayerCore) {}

  /** The properties that can be read. */
  get slots(): readonly Slot[] {
    const { stage } = this.core;
    if (this.#of === stage) return this.#slots;
    this.#of = stage;
    const { roles, layout } = stage.reel;
    const spoken = layout.slots.filter(({ kind }) => !isShape(kind) && kind !== 'text');
    const others = roles.flatMap((role) =>
      Object.entries(USUAL)
        .filter(([property]) => !layout.find(`${role}.${property}`))
        .map(([property, kind]) => usualSlot(role, property, kind)),
    );
    return (this.#slots = [...spoken, ...others].filter((slot) => this.read(slot)));
  }

  /** The numbers that the object of a property shows. */
  read(slot: Slot): Numbers | undefined {
    let numbers: Numbers | undefined;
    try {
      numbers = this.core.stage.readNow(slot);
    } catch {
      // An object that its game has taken apart.
    }
    return numbers?.length === slot.width && numbers.every(Number.isFinite) ? [...numbers] : undefined;
  }

  /** The player has moved: what its objects show now is as it should be. */
  note(): void {
    for (const slot of this.slots) {
      const numbers = this.read(slot);
      if (numbers) this.#noted.set(slot.name, numbers);
    }
  }

  /** What was set on the objects since then. The transform of a cast that is placed is the placement's. */
  changed(): readonly ChangedValue[] {
    return this.slots.flatMap((slot): ChangedValue[] => {
      const now = this.read(slot);
      const was = this.#noted.get(slot.name);
      if (!now || !was || this.isPlaced(slot) || areClose(now, was)) return [];
      const meant = this.#meant(slot);
      if (meant && areClose(now, meant)) {
        // The reel says so now.
        this.#noted.set(slot.name, now);
        return [];
      }
      return [{ name: slot.name, value: this.valueOf(slot, now), was: this.valueOf(slot, was) }];
    });
  }

  /** Objects show again what they showed when the player had last moved. */
  giveBack(names: readonly string[]): void {
    const { stage } = this.core;
    for (const slot of this.slots) {
      const was = this.#noted.get(slot.name);
      if (!was || !names.includes(slot.name)) continue;
      const binding = bindRole(slot.role, [{ ...slot, offset: 0 }], stage.reel.layout.texts);
      stage.putPlain(Float64Array.from(was), [[stage.reel.roles.indexOf(slot.role), binding]]);
    }
  }

  valueOf({ kind, width }: Slot, numbers: Numbers): Value {
    return writeValue(kind, width, Float64Array.from(numbers), 0, this.core.reel.layout.texts);
  }

  /** Whether a property follows from where the cast is placed. */
  isPlaced({ role, property }: Slot): boolean {
    const { placed, reel } = this.core.stage;
    if (!placed || !TRANSFORM.includes(property) || Object.hasOwn(reel.facts.parents, role)) return false;
    return placed.isPlaced || (placed.mirrored && property === 'scale');
  }

  /** What the reel says that an object should show; `undefined` where it says nothing. */
  #meant(slot: Slot): Numbers | undefined {
    const { core } = this;
    if (!core.reel.layout.find(slot.name)) return undefined;
    if (core.stage.base.isFree(slot)) return slot.restGiven ? slot.rest : undefined;
    core.sample();
    return [...core.stage.values.subarray(slot.offset, slot.offset + slot.width)];
  }
}

function usualSlot(role: string, property: string, kind: Kind): Slot {
  const rest = defaultRest(property, kind);
  return {
    ...{ name: `${role}.${property}`, role, property, kind, offset: 0, width: widthOf(kind) },
    ...{ rest, restGiven: false },
  };
}

/** Objects may round: a turn in radians, numbers of 32 bits. */
const areClose = (a: Numbers, b: Numbers) => a.every((n, k) => Math.abs(n - b[k]!) <= 1e-6 * Math.max(1, Math.abs(n)));
